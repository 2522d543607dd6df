// What is drawn over the page: the tags of its sections, the chosen one, and
// whatever is lit. It lives in a shadow tree of its own and takes no room, so
// the page keeps its layout.
import { page } from "./page.js";
import { TagPlaces } from "./tag_places.js";

const LOOK = `
:host { all: initial; position: absolute; top: 0; left: 0; width: 0; height: 0; z-index: 2147483647; }
button, .box { position: absolute; box-sizing: border-box; }
.box { pointer-events: none; border: var(--stroke) solid #2B3FD6; border-radius: calc(var(--unit) * 10); }
.box.lit { border-style: dashed; background: #2B3FD612; }
button { all: unset; position: absolute; box-sizing: border-box; cursor: pointer; white-space: nowrap;
  font: 600 calc(var(--unit) * 12)/1.5 ui-monospace, monospace; padding: 0 calc(var(--unit) * 7);
  border-radius: calc(var(--unit) * 6); border: var(--stroke) solid #2B3FD6; background: #2B3FD6; color: #fff; }
button.unmarked { background: #fff; color: #575B73; border: var(--stroke) dashed #8A8EA6; }
button.marker { border-radius: 0 calc(var(--unit) * 8) calc(var(--unit) * 8) 0; }
button.twice { background: #C62828; border-color: #C62828; }
button.aside { opacity: 0.85; }
button.asked { z-index: 2; }
button.folded:not(:hover) { width: calc(var(--unit) * 12); height: calc(var(--unit) * 12); padding: 0; border-radius: 50%; overflow: hidden; text-indent: 200%; }
button.slim:not(:hover) { width: calc(var(--unit) * 4); height: calc(var(--unit) * 12); padding: 0; border-radius: 0; overflow: hidden; text-indent: 200%; }
button.folded:hover, button.slim:hover { z-index: 2; }
.pointed { border-width: calc(var(--stroke) * 0.7); border-style: dotted; border-color: #16182B; }
.name, .drop b { position: absolute; box-sizing: border-box; white-space: nowrap; pointer-events: none;
  font: 600 calc(var(--unit) * 11)/1.5 system-ui, sans-serif; padding: 0 calc(var(--unit) * 6);
  background: #16182B; color: #fff; border-radius: calc(var(--unit) * 4); }
.name.made { background: #2B3FD6; }
button.copy { font: 600 calc(var(--unit) * 11)/1.7 system-ui, sans-serif; background: #16182B; border-color: #16182B; }
button.copy:hover { background: #2B3FD6; border-color: #2B3FD6; }
.drop { position: absolute; pointer-events: none; height: 0; border-top: calc(var(--unit) * 3) solid #2B3FD6; }
.drop.on { border: calc(var(--unit) * 2) dashed #2B3FD6; background: #2B3FD61A; }
.drop.warn { border-color: #C62828; }
.drop.warn b { background: #C62828; }
.drop b { top: calc(var(--unit) * 4); left: 0; }
button:hover { background: #16182B; border-color: #16182B; color: #fff; }
`;

const HOST = "all: initial !important; position: absolute !important; top: 0 !important; left: 0 !important; "
  + "width: 0 !important; height: 0 !important; z-index: 2147483647 !important; display: block !important;";

// Kinds of hop differ by their line as well as by colour.
const LINKS = `
[data-hop-kind] { text-decoration-line: underline !important; text-decoration-thickness: 2px !important; text-underline-offset: 3px !important; }
[data-hop-kind="here"] { text-decoration-style: solid !important; text-decoration-color: #2B3FD6 !important; }
[data-hop-kind="there"] { text-decoration-style: dashed !important; text-decoration-color: #B5197A !important; }
[data-hop-kind="menu"] { text-decoration-style: dashed !important; text-decoration-color: #F2A81D !important; }
[data-hop-kind="back"] { text-decoration-style: dotted !important; text-decoration-color: #5E6C76 !important; }
[data-hop-kind="broken"] { text-decoration-style: wavy !important; text-decoration-color: #C62828 !important; }
`;

export class Overlay {
  constructor(box, choose, copy) {
    this.box = box;
    this.choose = choose;
    this.copy = copy;
    this.sections = [];
    this.chosen = null;
    this.chosenIsSection = false;
    this.lit = [];
    this.marks = []; // { number, value, empty, twice, made } of every ID on the page
    this.kinds = {}; // what an element with a tag is called
    this.pointed = null;
    this.drop = null; // { n, side, warn, value }: where a held mark would go
    this.hold = () => {};
    this.scale = 1;
    this.host = page.createElement("inner-hop-marks");
    this.root = this.host.attachShadow({ mode: "open" });
    // Whatever the page's styles say of all elements, or of ours.
    this.host.style.cssText = HOST;
    this.places = new TagPlaces(this.host);
    this.covering = null; // { height, element } of what stays at the view's top
    this.showsTags = true;
    this.preview = null; // a part of the page as it will be
    this.sizes = new Map(); // how wide each tag's words are, at this scale
  }

  attach() {
    const look = new CSSStyleSheet();
    look.replaceSync(LOOK);
    this.root.adoptedStyleSheets = [look];
    const links = new CSSStyleSheet();
    links.replaceSync(LINKS);
    page.adoptedStyleSheets = [...page.adoptedStyleSheets, links];
    page.documentElement.append(this.host);
  }

  owns(event) {
    return event.composedPath().includes(this.host);
  }

  // The button that copies a link stays while the pointer is on it or on its tag.
  holdsPointer(event) {
    const { className, dataset } = event.composedPath()[0];
    return className === "copy" || (this.pointed !== null && dataset?.tagOf === String(this.pointed.number));
  }

  // Right at the tag, so that the pointer gets there without leaving what it is of: beside
  // it, or under one that stands in the margin.
  placeCopy() {
    const copy = this.root.querySelector(".copy");
    const tag = copy && this.root.querySelector(`[data-tag-of="${this.pointed.number}"]`);
    if (!tag) return;
    const { rect } = this.box(this.pointed.number);
    const gap = 4 / this.scale;
    const beside = tag.offsetLeft + tag.offsetWidth + gap;
    const isInMargin = beside <= rect.left + window.scrollX + 2 * gap;
    Object.assign(copy.style, {
      left: `${isInMargin ? Math.max(1, beside - gap - copy.offsetWidth) : beside}px`,
      top: isInMargin ? `${tag.offsetTop + tag.offsetHeight + gap / 2}px` : tag.style.top,
      transform: "none",
    });
  }

  draw() {
    const unit = 1 / this.scale;
    this.host.style.setProperty("--unit", `${unit}px`);
    this.host.style.setProperty("--stroke", `${1.5 * unit}px`);
    const parts = [];
    for (const number of this.lit) parts.push(...this.outline(number, "box lit"));
    if (this.preview) {
      parts.push(...this.asItWillBe(unit));
    } else if (this.chosen !== null) {
      parts.push(...(this.chosenIsSection ? this.around(this.chosen) : this.outline(this.chosen, "box")));
    }
    if (this.pointed && !this.drop) parts.push(...this.hint(this.pointed, unit));
    if (this.drop) parts.push(...this.line(this.drop));
    if (this.showsTags) parts.push(...this.tags(unit));
    this.root.replaceChildren(...parts);
    this.placeCopy();
  }

  asItWillBe(unit) {
    const rect = this.preview.getBoundingClientRect();
    const name = page.createElement("span");
    name.className = "name made";
    name.textContent = "contents list, as it will be";
    // Beside it where there is room, so that it covers no words.
    const width = 190 * unit;
    const isBeside = rect.right + 10 + width < page.documentElement.clientWidth;
    name.style.left = `${isBeside ? rect.right + window.scrollX + 10 : rect.right + window.scrollX - width}px`;
    name.style.top = `${rect.top + window.scrollY - 6 - (isBeside ? 0 : 18 * unit)}px`;
    return [this.frame(rect, "box", 6), name];
  }

  tags(unit) {
    const parts = [];
    this.places.begin();
    const near = window.innerHeight;
    const byNumber = new Map(this.marks.map((one) => [one.number, one]));
    for (const section of this.sections) {
      const found = this.box(section.number);
      if (!found || found.shut) continue;
      if (found.rect.bottom < -near || this.isUnder(found)) continue;
      if (found.rect.top > 2 * near) break;
      parts.push(this.tag(section.number, byNumber.get(section.number), found, unit, section.mark));
      byNumber.delete(section.number);
    }
    for (const mark of byNumber.values()) {
      const found = this.box(mark.number);
      if (!found || found.shut || found.rect.bottom < -near || found.rect.top > 2 * near || this.isUnder(found)) continue;
      parts.push(this.tag(mark.number, mark, found, unit));
    }
    return parts;
  }

  // Whether something that stays at the view's top hides where the tag would stand.
  isUnder({ element, rect }) {
    const { covering } = this;
    return Boolean(covering) && rect.top < covering.height && rect.bottom > 0
      && window.scrollY > 0 && !covering.element.contains(element);
  }

  // The page has another shape, or is drawn at another scale.
  reshape() {
    this.places.forget();
    this.sizes.clear();
  }

  sizeOf(words, unit) {
    if (!this.sizes.has(words)) {
      this.pen ??= page.createElement("canvas").getContext("2d");
      this.pen.font = "600 12px ui-monospace, monospace";
      this.sizes.set(words, this.pen.measureText(words).width + 17);
    }
    return { width: this.sizes.get(words) * unit, height: 21 * unit };
  }

  // The tag of a section or of another mark. near: the ID by which a section is
  // reached when it stands beside its heading and not on it.
  tag(number, mark, { rect, element }, unit, near = "") {
    const tag = page.createElement("button");
    tag.type = "button";
    tag.dataset.tagOf = number;
    tag.tabIndex = -1; // the ruler and the outline are the keyboard's way here
    const looks = [
      mark || near ? "" : "unmarked",
      mark?.empty ? "marker" : "",
      mark?.twice ? "twice" : "",
      !mark && near ? "aside" : "",
    ];
    tag.textContent = mark ? `#${mark.value}${mark.twice ? " again" : ""}` : near ? `via #${near}` : "mark";
    const size = this.sizeOf(tag.textContent, unit);
    // An ID that a system made says nothing until somebody asks for it.
    const isDot = Boolean(mark?.made);
    const { left, top, shape } = this.places.find(number, element, rect, size, 6 * unit, isDot);
    const isAsked = number === this.chosen || number === this.pointed?.number;
    tag.className = [...looks, isAsked ? "asked" : shape].filter(Boolean).join(" ");
    Object.assign(tag.style, { left: `${Math.max(1, left)}px`, top: `${Math.max(0, top)}px` });
    tag.addEventListener("click", () => this.choose(number));
    if (mark) this.hold(tag, mark);
    return tag;
  }

  // What is under the pointer, with its name.
  point(number, tag) {
    if ((this.pointed?.number ?? null) === number) return;
    this.pointed = number === null ? null : { number, tag };
    this.draw();
  }

  hint({ number, tag }, unit) {
    const found = this.box(number);
    if (!found || number === this.chosen) return [];
    const hasMark = this.marks.some((one) => one.number === number) || this.sections.some((one) => one.number === number && one.mark);
    const copies = /^h[1-6]$/.test(tag) && hasMark;
    const name = page.createElement(copies ? "button" : "span");
    name.className = copies ? "copy" : "name";
    name.textContent = copies ? "Copy a link" : (this.kinds[tag] ?? "block");
    if (copies) {
      Object.assign(name, { type: "button", tabIndex: -1 });
      name.addEventListener("click", () => this.copy(number));
    }
    name.style.right = "auto";
    name.style.left = `${found.rect.left + window.scrollX + found.rect.width}px`;
    name.style.top = `${found.rect.top + window.scrollY - 18 * unit}px`;
    name.style.transform = "translateX(-100%)";
    return [this.frame(found.rect, "box pointed", 2), name];
  }

  line({ number, side, warn, value }) {
    const found = this.box(number);
    if (!found) return [];
    const { rect } = found;
    const line = page.createElement("div");
    line.className = `drop ${side === "on" ? "on" : ""} ${warn ? "warn" : ""}`;
    const y = side === "after" ? rect.bottom : rect.top;
    Object.assign(line.style, {
      left: `${rect.left + window.scrollX}px`, top: `${y + window.scrollY}px`, width: `${rect.width}px`,
      height: side === "on" ? `${rect.height}px` : "0",
    });
    const label = page.createElement("b");
    label.textContent = warn ? `#${value} here: the heading above would be cut off` : `#${value} here`;
    line.append(label);
    return [line];
  }

  outline(number, kind) {
    const found = this.box(number);
    if (!found) return [];
    return [this.frame(found.rect, kind, 3)];
  }

  // The whole section: from its heading to the next, as wide as its container.
  around(number) {
    const at = this.sections.findIndex((one) => one.number === number);
    const found = this.box(number);
    if (at < 0 || !found) return this.outline(number, "box");
    const container = (found.element.parentElement ?? found.element).getBoundingClientRect();
    const next = this.sections.slice(at + 1).map((one) => this.box(one.number)).find((one) => one && !one.shut);
    const bottom = Math.min(container.bottom, next ? next.rect.top - 6 : container.bottom);
    const rect = {
      left: Math.min(found.rect.left, container.left),
      right: Math.max(found.rect.right, container.right),
      top: found.rect.top,
      bottom: Math.max(bottom, found.rect.bottom),
    };
    return [this.frame(rect, "box", 6)];
  }

  frame(rect, kind, air) {
    const box = page.createElement("div");
    box.className = kind;
    box.style.left = `${rect.left + window.scrollX - air}px`;
    box.style.top = `${rect.top + window.scrollY - air}px`;
    box.style.width = `${rect.right - rect.left + 2 * air}px`;
    box.style.height = `${rect.bottom - rect.top + 2 * air}px`;
    return box;
  }
}
