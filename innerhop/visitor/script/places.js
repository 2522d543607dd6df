// What can be pointed at in the sheet, how it looks, and where a mark could be put.
import { AMONG_OWN_KIND, IN_LINE } from "./content_models.js";
import { page } from "./page.js";

const HEADING = "h1,h2,h3,h4,h5,h6";
const NOT_PLACES = new Set(["HTML", "BODY", "HEAD", "SOURCE", "TBODY", "THEAD", "TFOOT"]);

export const numberOf = (element) => Number(element.dataset.hopN);

// The part of the page that someone points at, or null for the page as a whole.
export function placeAt(node) {
  let element = node?.closest?.("[data-hop-n]");
  const svg = element?.closest("svg");
  if (svg?.dataset.hopN) element = svg;
  while (element && (IN_LINE.has(element.tagName) || NOT_PLACES.has(element.tagName))) {
    if (element.tagName === "BODY") return null;
    element = element.parentElement?.closest("[data-hop-n]");
  }
  return element && element.tagName !== "HTML" ? element : null;
}

// The first part inside an element that could be marked too.
export function innerOf(element) {
  for (const child of element.children) {
    if (!child.dataset.hopN || !child.checkVisibility()) continue;
    return numberOf(child);
  }
  return null;
}

const clear = (color) => color === "transparent" || /rgba\(.*, 0\)$/.test(color);

function groundOf(element) {
  const { backgroundColor, backgroundImage } = getComputedStyle(element);
  if (clear(backgroundColor)) return backgroundImage === "none" ? "" : "picture";
  for (let up = element.parentElement; up; up = up.parentElement) {
    const behind = getComputedStyle(up).backgroundColor;
    if (!clear(behind)) return behind === backgroundColor ? "" : backgroundColor;
  }
  return backgroundColor === "rgb(255, 255, 255)" ? "" : backgroundColor;
}

function hasBeside(element, rect) {
  return [element.previousElementSibling, element.nextElementSibling].some((other) => {
    if (!other?.checkVisibility()) return false;
    const near = other.getBoundingClientRect();
    const apart = near.left >= rect.right - 1 || near.right <= rect.left + 1;
    return apart && near.top < rect.bottom - 4 && near.bottom > rect.top + 4 && near.width > 40;
  });
}

function headingFor(element, headings) {
  if (element.matches(HEADING)) return element;
  const inside = element.querySelector(HEADING);
  if (inside) return inside;
  const isEmpty = /^(a|span|div|i|p)$/.test(element.localName) && !element.childElementCount && !element.textContent.trim();
  let found = null;
  for (const heading of headings) {
    const where = element.compareDocumentPosition(heading);
    if (isEmpty && where & Node.DOCUMENT_POSITION_FOLLOWING) {
      // An empty marker belongs to what comes right after it.
      const gap = heading.getBoundingClientRect().top - element.getBoundingClientRect().bottom;
      return gap < 120 || !found ? heading : found;
    }
    if (!(where & Node.DOCUMENT_POSITION_PRECEDING)) break;
    found = heading;
  }
  return found;
}

// Whether what is around an element gives each of its children a place of its own
// (CSS Flexbox, CSS Grid): an empty marker between them would take one too.
function isInGrid(element) {
  return /flex|grid/.test(getComputedStyle(element.parentElement).display);
}

// How the element and all around it look, by number. padding: the room that the page
// leaves at the view's top. covering: what stays there.
export function looksOf(element, padding, covering) {
  const headings = [...page.querySelectorAll(HEADING)].filter((one) => one.dataset.hopN);
  const looks = {};
  for (let up = element; up && up !== page.body; up = up.parentElement) {
    if (!up.dataset.hopN) continue;
    const rect = up.getBoundingClientRect();
    const heading = headingFor(up, headings);
    const near = heading?.getBoundingClientRect();
    looks[numberOf(up)] = {
      top: rect.top + window.scrollY,
      ground: groundOf(up),
      wide: rect.width >= page.documentElement.clientWidth * 0.96,
      beside: hasBeside(up, rect),
      inGrid: isInGrid(up),
      heading: heading ? numberOf(heading) : null,
      headingTop: near ? near.top + window.scrollY : 0,
      headingBottom: near ? near.bottom + window.scrollY : 0,
      room: padding + (parseFloat(getComputedStyle(up).scrollMarginTop) || 0),
      cover: covering && !covering.element.contains(up) ? covering.height : 0,
      coveredBy: covering ? numberOf(covering.element) : null,
    };
  }
  return looks;
}

// Whether a line before or after the element would be right below a heading.
export function isBelowHeading(element, side) {
  const ends = (one) => one?.matches?.(HEADING) || (one?.lastElementChild && ends(one.lastElementChild));
  if (side === "after") return Boolean(ends(element));
  if (element.matches(HEADING) || element.firstElementChild?.matches(HEADING)) return false;
  let before = element.previousElementSibling;
  for (let up = element; !before && up && up !== page.body; up = up.parentElement) before = up.previousElementSibling;
  return Boolean(ends(before));
}

// Where a mark dragged over the page would go: before or after the block there.
// An ID that stands on an element goes onto the element there instead.
export function dropAt(x, y, host, between) {
  const under = page.elementsFromPoint(x, y).find((one) => one !== host && !host.contains(one));
  let block = placeAt(under);
  while (between && block && AMONG_OWN_KIND.has(block.tagName)) block = block.parentElement.closest("[data-hop-n]");
  if (!block || block.tagName === "MAIN") return edgeNear(y + window.scrollY);
  if (between && isInGrid(block)) return { element: block, side: "inside" };
  const rect = block.getBoundingClientRect();
  return { element: block, side: y < rect.top + rect.height / 2 ? "before" : "after" };
}

// The block whose top edge is nearest to a height on the page.
export function edgeNear(y) {
  let best = null;
  let least = Infinity;
  for (const one of page.querySelectorAll("p,h1,h2,h3,h4,h5,h6,ul,ol,dl,table,figure,section,blockquote,details,pre,form,div")) {
    if (!one.dataset.hopN || !one.checkVisibility() || one.closest("li,td,th,svg")) continue;
    const away = Math.abs(one.getBoundingClientRect().top + window.scrollY - y);
    if (away < least - 0.5) [best, least] = [one, away];
  }
  return best && { element: best, side: isInGrid(best) ? "inside" : "before" };
}
