// How a page lies: where each mark stands, what stays
// in view as the page scrolls, what the page's styles ask for. The landing itself is
// computed from this elsewhere (CSSOM View, CSS Scroll Snap 1, CSS Positioned Layout 3).
import { documentOf } from "./page.js";

const px = (value, whole = 0) => {
  const number = parseFloat(value) || 0;
  return String(value).endsWith("%") ? (number / 100) * whole : number;
};
const round = (number) => Math.round(number * 100) / 100;

const frames = (view, count = 2) =>
  new Promise((resolve) => {
    const next = (left) => (left ? view.setTimeout(() => next(left - 1), 20) : resolve());
    next(count);
  });

// The first words or picture that a reader sees in an element, or behind an empty one.
function firstSeen(view, element) {
  const document = documentOf(view.document);
  const walk = document.createTreeWalker(document.body, 5); // elements and text
  walk.currentNode = element;
  for (let node = walk.currentNode, steps = 0; node && steps < 400; node = walk.nextNode(), steps += 1) {
    if (node.nodeType === 1) {
      if (!/^(img|svg|video|canvas|hr|input|button|select|textarea)$/.test(node.localName)) continue;
      const rect = node.getBoundingClientRect();
      if (rect.width > 1 && rect.height > 1 && node.checkVisibility()) return { top: rect.top, height: Math.min(rect.height, 40) };
      continue;
    }
    if (!node.data.trim() || !node.parentElement?.checkVisibility()) continue;
    const range = document.createRange();
    range.selectNodeContents(node);
    const rect = [...range.getClientRects()].find(({ width, height }) => width > 1 && height > 1);
    if (rect) return { top: rect.top, height: rect.height };
  }
  const rect = element.getBoundingClientRect();
  return { top: rect.top, height: Math.min(rect.height, 24) };
}

// The heading that an empty marker right below it belongs to: where it ends; 0 for none.
function headingAbove(element) {
  if (element.textContent.trim() || element.childElementCount || /^(img|svg|video|hr|iframe)$/.test(element.localName)) return 0;
  const { top } = element.getBoundingClientRect();
  const { body } = documentOf(element.ownerDocument);
  const before = (one) => one.previousElementSibling ?? (one.parentElement === body ? null : one.parentElement && before(one.parentElement));
  const above = before(element);
  const heading = above?.matches("h1,h2,h3,h4,h5,h6") ? above : above?.querySelector(":scope > :is(h1,h2,h3,h4,h5,h6):last-child");
  if (!heading) return 0;
  const { bottom } = heading.getBoundingClientRect();
  return bottom <= top + 2 && top - bottom < 60 ? bottom : 0;
}

function boxesAround(view, element) {
  const { scrollY } = view;
  const document = documentOf(view.document);
  const found = [];
  for (let up = element.parentElement; up && up !== document.body && up !== document.documentElement; up = up.parentElement) {
    const style = view.getComputedStyle(up);
    if (!/auto|scroll|hidden/.test(style.overflowY) || up.scrollHeight <= up.clientHeight + 1) continue;
    const { top } = up.getBoundingClientRect();
    found.push([round(top + up.clientTop + scrollY), up.clientHeight, up.scrollHeight, round(px(style.scrollPaddingTop, up.clientHeight))]);
  }
  return found;
}

function targetOf(view, element) {
  const { scrollY } = view;
  const shut = [];
  // A browser opens these before it scrolls (HTML Standard, "ancestor revealing algorithm").
  for (let up = element; up; up = up.parentElement) if (up.localName === "details" && !up.open) shut.push(up);
  for (const one of shut) one.open = true;
  const rect = element.getBoundingClientRect();
  const seen = firstSeen(view, element);
  const heading = headingAbove(element);
  const found = {
    top: round(rect.top + scrollY),
    margin: round(px(view.getComputedStyle(element).scrollMarginTop)),
    content: round(seen.top + scrollY),
    line: round(seen.height),
    heading: heading ? round(heading + scrollY) : 0,
    boxes: boxesAround(view, element),
    hidden: !element.checkVisibility(),
    opens: shut.length > 0,
  };
  for (const one of shut) one.open = false;
  return found;
}

// How much of the view bars that stay at its bottom cover, one or several stacked.
function footOf(view, stuck, height) {
  const bars = stuck.filter((one) => {
    const { position, visibility, opacity } = view.getComputedStyle(one);
    const rect = one.getBoundingClientRect();
    const isWide = rect.width >= view.innerWidth / 2 && rect.height > 1 && rect.height < height / 2;
    return position === "fixed" && isWide && rect.top > height / 2 && one.checkVisibility() && visibility !== "hidden" && Number(opacity) > 0;
  });
  const rects = bars.map((one) => one.getBoundingClientRect()).sort((a, b) => b.bottom - a.bottom);
  const edge = rects.reduce((at, { top, bottom }) => (bottom >= at - 1 ? Math.min(at, top) : at), height);
  return round(height - edge);
}

// What stays at the view's top: where it stands by itself, and what it is when it stays; and
// how much is covered from the bottom.
async function coversOf(view, height, isAlive) {
  const document = documentOf(view.document);
  const stuck = [...document.querySelectorAll("body *")].filter((one) => {
    const { position, top } = view.getComputedStyle(one);
    return position === "fixed" || (position === "sticky" && top !== "auto");
  });
  const natural = stuck.map((one) => one.getBoundingClientRect().top + view.scrollY);
  view.scrollTo({ top: Math.min(height, document.documentElement.scrollHeight), behavior: "instant" });
  await frames(view, isAlive ? 4 : 1); // what hides or shrinks as the page scrolls has done so
  const found = [];
  for (const [at, one] of stuck.entries()) {
    const style = view.getComputedStyle(one);
    const rect = one.getBoundingClientRect();
    const isWide = rect.width >= view.innerWidth / 2 && rect.height > 1 && rect.height < height / 2;
    const isAtTop = style.position === "sticky" ? px(style.top, height) < height / 3 : rect.top < height / 3 && rect.bottom > 0;
    // A script may have moved it out of the view.
    const isAway = style.transform !== "none" && rect.bottom <= 1;
    if (isAway || !isWide || !isAtTop || !one.checkVisibility() || style.visibility === "hidden" || Number(style.opacity) === 0) continue;
    const around = one.parentElement.getBoundingClientRect();
    const limit = around.bottom + view.scrollY - px(view.getComputedStyle(one.parentElement).paddingBottom);
    const isFixed = style.position === "fixed";
    found.push([isFixed, round(isFixed ? rect.top : px(style.top, height)), round(rect.height), round(natural[at]), round(limit)]);
  }
  const foot = footOf(view, stuck, height);
  view.scrollTo({ top: 0, behavior: "instant" });
  await frames(view, isAlive ? 2 : 1);
  return { covers: found, foot };
}

function snapsOf(view) {
  const { scrollY } = view;
  const document = documentOf(view.document);
  const [axis = "none", strictness = "proximity"] = view.getComputedStyle(document.documentElement).scrollSnapType.split(" ");
  if (!/^(y|block|both)$/.test(axis)) return { snap: "", snaps: [] };
  const root = view.getComputedStyle(document.documentElement);
  const height = view.innerHeight;
  const before = px(root.scrollPaddingTop, height);
  const after = px(root.scrollPaddingBottom, height);
  const snaps = [];
  for (const one of document.querySelectorAll("body, body *")) {
    const style = view.getComputedStyle(one);
    const align = style.scrollSnapAlign.split(" ")[0];
    if (align === "none") continue;
    const rect = one.getBoundingClientRect();
    const top = rect.top + scrollY - px(style.scrollMarginTop);
    const bottom = rect.bottom + scrollY + px(style.scrollMarginBottom);
    snaps.push(round(align === "start" ? top - before : align === "end" ? bottom - height + after : (top + bottom - height - before + after) / 2));
  }
  return { snap: strictness, snaps };
}

// Whether a page, as far as no script of its own runs, lies at any width as if it had been
// loaded there: nothing in it is chosen or fetched by the view that it came into.
export function isSteady(view) {
  return !documentOf(view.document).querySelector("[srcset], picture, [loading=lazy], iframe, frame, video, object, embed");
}

// The layout of the page in a window. marks: IDs and names that hops may end at. width: of a
// window that is just being given it; what moves there by itself is where it will be. isAlive:
// whether scripts of the page may answer to what is done to it, which is waited for.
export async function measure(view, marks, { width = 0, isAlive = true } = {}) {
  const document = documentOf(view.document);
  for (let left = 50; width && view.innerWidth !== width && left; left -= 1) await frames(view, 1);
  for (const one of document.getAnimations()) if (one instanceof view.CSSTransition) one.finish();
  await Promise.race([document.fonts?.ready, frames(view, 50)]);
  view.scrollTo({ top: 0, behavior: "instant" });
  await frames(view, isAlive ? 2 : 1);
  const targets = {};
  for (const id of marks) {
    const element = document.getElementById(id) ?? document.getElementsByName(id)[0];
    if (element && document.body?.contains(element)) targets[id] = targetOf(view, element);
  }
  const height = view.innerHeight;
  const { covers, foot } = await coversOf(view, height, isAlive);
  const root = document.documentElement;
  // Without a doctype it is the body that scrolls (CSSOM View, "document.scrollingElement").
  const scroller = document.scrollingElement ?? root;
  // What stands below these moves when they have loaded at last.
  const late = [...document.images].filter((one) => one.loading === "lazy" && !one.complete && !(one.hasAttribute("width") && one.hasAttribute("height")));
  return {
    view: {
      width: view.innerWidth,
      height: scroller.clientHeight || height,
      page: Math.max(scroller.scrollHeight, scroller.clientHeight),
      padding: round(px(view.getComputedStyle(root).scrollPaddingTop, height)),
      covers,
      foot,
      ...snapsOf(view),
      late: late.map((one) => round(one.getBoundingClientRect().top + view.scrollY)).slice(0, 50),
    },
    targets,
  };
}
