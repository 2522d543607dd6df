// A part of the page as it will be, shown where it will stand: in the page itself, so that
// the page's styles are seen on it. Nothing of it can be chosen, and nothing runs in it.
import { page } from "./page.js";

const LIT = "outline: 1.5px dashed #2B3FD6; outline-offset: 2px;";

export class Preview {
  constructor(elements) {
    this.elements = elements;
    this.element = null;
    this.hidden = null; // what it stands in the place of, and that one's own style
  }

  // found: { markup, number, side, lit }, or null for none.
  show(found) {
    const isFirst = this.element === null;
    this.drop();
    const at = found && this.elements.get(found.number);
    if (!at) return;
    const holder = page.createElement("template");
    holder.innerHTML = found.markup;
    const made = holder.content.firstElementChild;
    if (!made) return;
    for (const link of made.querySelectorAll("a[href]")) {
      if (found.lit.includes(link.getAttribute("href"))) link.style.cssText += LIT;
    }
    if (found.side === "") {
      this.hidden = { element: at, style: at.getAttribute("style") };
      at.style.setProperty("display", "none", "important");
    }
    if (found.side === "before") at.before(made);
    else at.after(made);
    this.element = made;
    if (isFirst) made.scrollIntoView({ block: "center", behavior: "instant" });
  }

  drop() {
    this.element?.remove();
    this.element = null;
    if (this.hidden?.style === null) this.hidden.element.removeAttribute("style");
    else this.hidden?.element.setAttribute("style", this.hidden.style);
    this.hidden = null;
  }

  owns(target) {
    return Boolean(this.element?.contains(target));
  }
}

// The blocks of the page's content behind which something could stand every so many pixels:
// the last that ends before each multiple, headings aside, since what comes behind a heading
// belongs to it.
export function blocksEvery(step) {
  const root = page.querySelector("main, article, [role=main]") ?? page.body;
  const all = [...root.querySelectorAll("p, ul, ol, dl, table, figure, blockquote, pre, details, div > img")]
    .filter((one) => one.checkVisibility() && isTop(one, root));
  const found = [];
  let next = step;
  let last = null;
  for (const one of all) {
    const bottom = one.getBoundingClientRect().bottom + window.scrollY;
    if (bottom > next && last && last !== found.at(-1)) found.push(last);
    while (bottom > next) next += step;
    last = one;
  }
  return found;
}

// Whether a block stands among the page's own blocks, not in one of them.
function isTop(one, root) {
  for (let up = one.parentElement; up && up !== root; up = up.parentElement) {
    if (!["section", "div", "article", "main"].includes(up.localName)) return false;
  }
  return true;
}
