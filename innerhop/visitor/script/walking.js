// Going through the parts of the page with keys: beside each other, outward and inward.
import { page } from "./page.js";

const PASSED = new Set(["SCRIPT", "STYLE", "TEMPLATE", "NOSCRIPT", "LINK", "META", "BR", "WBR", "SOURCE", "TRACK"]);

const isPart = (element) => Boolean(element.dataset.hopN) && !PASSED.has(element.localName.toUpperCase());
// An empty marker takes no room, and can be chosen all the same.
const isSeen = (element) => element.checkVisibility() && isPart(element);

function first(parent, from, way) {
  for (let at = from; at; at = at[way]) if (isSeen(at)) return at;
  return null;
}

function inside(element, way = "nextElementSibling") {
  if (element.localName === "svg") return null;
  return first(element, way === "nextElementSibling" ? element.firstElementChild : element.lastElementChild, way);
}

// element: the part that is chosen, if any. step: next, previous, in or out. Returns the
// part that this leads to, or null where there is none. Past the last part of a block
// comes what stands after the block.
export function walk(element, step) {
  const { body } = page;
  if (!element?.isConnected) return step === "previous" ? null : start(body);
  if (step === "in") return inside(element);
  if (step === "out") {
    const outer = element.parentElement?.closest("[data-hop-n]");
    return outer && outer !== body && outer !== page.documentElement ? outer : null;
  }
  const way = step === "next" ? "nextElementSibling" : "previousElementSibling";
  for (let up = element; up && up !== body; up = up.parentElement) {
    const found = first(up.parentElement, up[way], way);
    if (found) return found;
  }
  return null;
}

// Where to begin: at the first part of the page's own content.
function start(body) {
  const content = page.querySelector("main") ?? body;
  return inside(content) ?? inside(body);
}
