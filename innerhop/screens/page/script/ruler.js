// The ruler: the page drawn to scale, with its sections, its hops as arcs, and
// the window that shows where the sheet is. For a chosen hop or mark a second one, dashed,
// shows what its reader gets.
import { drawHops } from "./ruler_hops.js";
import { isWithin, LONG, rangeAround, WholeBar, within } from "./ruler_range.js";
import { drawStarts } from "./ruler_starts.js";
import { drawTitles } from "./ruler_titles.js";
import { X } from "./ruler_places.js";
import { add, make } from "./svg.js";

const WIDTH = 280;
const TOP = 14;
const BOTTOM = 14;
const SLIDE = 450; // ms

export class Ruler {
  // tell: { choose(kind, n), over(n), scroll(y), connect(start, section) }, called as
  // the editor works on it.
  constructor(svg, tell) {
    this.svg = svg;
    this.tell = tell;
    // Alpine would look at each of thousands of parts.
    this.ground = svg.querySelector("[x-ignore]");
    this.layer = add(this.ground, "g");
    this.reader = add(this.ground, "rect", { x: X.left - 2, width: X.right - X.left + 4, rx: 5, class: "ruler-reader", visibility: "hidden", "aria-hidden": "true" });
    this.shown = ""; // what the reader's window shows
    this.window = this.makeWindow();
    this.whole = new WholeBar(this.ground, { to: (y) => this.tell.scroll(y - this.model.view / 2) });
    this.model = null;
    this.all = null; // the model of the whole page, where only some of it is drawn
    this.isClose = false;
    this.range = null; // what is drawn, while the ruler is closer
    this.isHeld = false;
    this.isSliding = false;
    this.next = null; // what to draw once nothing is held any more
  }

  // Something on the ruler is being dragged: drawing anew would take it out of the hand.
  hold() {
    this.isHeld = true;
  }

  release() {
    const { next } = this;
    Object.assign(this, { isHeld: false, next: null });
    if (next) this.draw(next);
  }

  place(y) {
    return TOP + (y - (this.range?.from ?? 0)) * this.scale;
  }

  static isLong({ height, screen }) {
    return height > LONG * screen;
  }

  turnClose(isClose) {
    this.isClose = isClose;
    this.range = null;
    // The sheet may have gone on since the whole was drawn.
    if (this.all) this.draw({ ...this.all, y: this.model.y, view: this.model.view });
  }

  // Some screens around what has just been chosen, or around where the sheet is.
  findRange(model) {
    if (!this.isClose || !Ruler.isLong(model)) return null;
    const { chosen, tops, y, view } = model;
    const top = chosen.number === this.all?.chosen.number ? undefined : tops[chosen.number];
    if (top !== undefined && !(this.range && isWithin(this.range, top))) return rangeAround(top, model);
    return this.range && this.range.to <= model.height ? this.range : rangeAround(y + view / 2, model);
  }

  // The sheet has gone on to where nothing is drawn yet.
  follow() {
    const { y, view } = this.model;
    if (!this.range || this.isSliding || isWithin(this.range, y, Math.min(y + view, this.all.height))) return;
    this.range = rangeAround(y + view / 2, this.all);
    cancelAnimationFrame(this.following);
    this.following = requestAnimationFrame(() => this.draw({ ...this.all, y, view }));
  }

  // model: { height, view, screen, sections, tops, ends, hops, into, chosen, lit }
  draw(model) {
    if (this.isHeld) {
      this.next = model;
      return;
    }
    this.range = this.findRange(model);
    this.all = model;
    this.model = this.range ? within(this.range, model) : model;
    // As wide as its drawing, or drawn smaller as a whole: else it would not fill the height.
    const small = Math.min(1, (this.svg.clientWidth || WIDTH) / WIDTH);
    const room = (this.svg.clientHeight || 640) / small;
    this.svg.setAttribute("viewBox", `0 0 ${WIDTH} ${room}`);
    const { from, to } = this.range ?? { from: 0, to: model.height };
    this.scale = (room - TOP - BOTTOM) / Math.max(1, to - from);
    const focused = this.layer.contains(document.activeElement);
    // Drawn aside and put in as one, so that the browser lays it out once.
    const before = this.layer;
    this.layer = make("g");
    this.drawTicks();
    const strips = this.strips();
    this.drawParts(strips);
    before.replaceWith(this.layer);
    drawTitles(this.layer, strips, model);
    if (focused) this.layer.querySelector('[tabindex="0"]')?.focus();
    const box = { y: TOP, height: room - TOP - BOTTOM };
    this.whole.draw({ height: model.height, range: this.range, tops: model.sections.map(({ number }) => model.tops[number] ?? 0), box });
    this.moveWindow(model.y, model.view);
  }

  drawParts(strips) {
    const { model } = this;
    const drawn = [...strips.map(({ section }) => section), ...model.others, ...model.marks];
    this.hasChosenStop = drawn.some(({ number }) => number === model.chosen.number);
    drawHops(this.layer, this, model);
    strips.forEach((strip, at) => this.drawStrip(strip, at === 0));
    for (const mark of model.others) this.drawOther(mark);
    for (const mark of model.marks) this.drawMarker(mark);
    drawStarts(this.layer, this, model);
  }

  strips() {
    const { sections, tops, ends, height } = this.model;
    const known = sections.filter(({ number }) => tops[number] !== undefined);
    const strips = known.map((section, at) => {
      const from = tops[section.number];
      const next = known[at + 1] ? tops[known[at + 1].number] : height;
      const to = Math.max(from, Math.min(next, at + 1 < known.length ? next : ends[section.number] ?? height));
      return { section, at, from, to, y: this.place(from), height: (to - from) * this.scale };
    });
    if (!this.range) return strips;
    return strips.filter(({ from, to }) => to > this.range.from && from < this.range.to);
  }

  // The section that stands at a height of the drawing, if any does.
  sectionAt(y) {
    const { sections, tops } = this.model;
    const above = sections.filter(({ number }) => tops[number] !== undefined && this.place(tops[number]) <= y);
    return above.at(-1) ?? null;
  }

  drawTicks() {
    const { height, screen } = this.model;
    const { from, to } = this.range ?? { from: 0, to: height };
    const [first, last] = [Math.ceil(from / screen), Math.floor(to / screen)];
    const step = [1, 2, 5, 10, 20, 50, 100, 200, 500].find((one) => ((last - first) / one) <= 26) ?? 1000;
    for (let at = first; at <= last; at += step) {
      const y = this.place(at * screen);
      add(this.layer, "line", { x1: X.tick - 6, x2: X.tick, y1: y, y2: y, stroke: "var(--faint)" });
      add(this.layer, "text", { x: X.tick - 7, y: y + 3.5, "text-anchor": "end", class: "ruler-tick", "aria-hidden": "true" }, String(at));
    }
  }

  drawStrip({ section, at, y, height }, isFirst) {
    const { chosen, lit } = this.model;
    const isChosen = chosen.kind === "section" && chosen.number === section.number;
    const isLit = lit === section.number;
    const group = add(this.layer, "g", {
      role: "button",
      tabindex: isChosen || (!this.hasChosenStop && isFirst) ? "0" : "-1",
      class: "ruler-section",
      "data-n": section.number,
      "aria-label": section.mark ? `${section.title}, #${section.mark}` : `${section.title}, no mark yet`,
      "aria-pressed": String(isChosen),
    });
    const inset = 6 * Math.min(3, section.depth);
    add(group, "rect", {
      x: X.left + inset,
      y: y + 0.75,
      width: X.right - X.left - inset,
      height: Math.max(1.5, height - 1.5),
      rx: Math.min(5, height / 3),
      fill: at % 2 ? "var(--tint-b)" : "var(--tint-a)",
      stroke: isChosen || isLit ? "var(--here)" : "none",
      "stroke-width": isChosen ? 2 : 1.2,
    });
    const radius = Math.max(2, Math.min(5.5, height / 2.4));
    const dot = { cx: X.right, cy: y + Math.min(12, height / 2), r: radius };
    if (this.model.twice.has(section.number)) {
      const [r, y0] = [radius * 0.8, dot.cy];
      add(group, "path", { d: `M${dot.cx - r} ${y0 - r}l${2 * r} ${2 * r}m0 ${-2 * r}l${-2 * r} ${2 * r}`, stroke: "var(--broken)", "stroke-width": 2.2 });
    } else if (section.mark) add(group, "circle", { ...dot, fill: "var(--here)", stroke: "var(--card)", "stroke-width": 1.5 });
    else add(group, "circle", { ...dot, fill: "var(--card)", stroke: "var(--soft)", "stroke-width": 1.3, "stroke-dasharray": "2.5 2" });
    group.addEventListener("click", () => this.tell.choose("section", section.number, true));
    group.addEventListener("keydown", (event) => this.keyOn(event, section));
    group.addEventListener("pointerenter", () => this.tell.over(section.number));
    group.addEventListener("pointerleave", () => this.tell.over(null));
  }

  // A marked part that is no heading: a small dot at its height.
  drawOther({ number, title, mark, what }) {
    const top = this.model.tops[number];
    if (top === undefined) return;
    const y = this.place(top);
    const isChosen = this.model.chosen.number === number;
    const dot = add(this.layer, "g", { class: "ruler-other", "data-n": number, role: "button", tabindex: isChosen ? "0" : "-1", "aria-label": `${title}, ${what}, #${mark}`, "aria-pressed": String(isChosen) });
    add(dot, "path", { d: `M${X.right - 9} ${y} H${X.right}`, stroke: "var(--here)", "stroke-width": isChosen ? 2 : 1 });
    add(dot, "circle", { cx: X.right, cy: y, r: isChosen ? 4.5 : 3, fill: "var(--here)", stroke: "var(--card)", "stroke-width": 1.2 });
    add(dot, "circle", { cx: X.right, cy: y, r: 7, fill: "transparent" });
    add(dot, "title", {}, `${title} · ${what} #${mark}`);
    dot.addEventListener("click", () => this.tell.choose("place", number, true));
    dot.addEventListener("keydown", (event) => this.keyOn(event, { number, what }));
    dot.addEventListener("pointerenter", () => this.tell.over(number));
    dot.addEventListener("pointerleave", () => this.tell.over(null));
  }

  // An empty marker: a pin at its height, to be chosen or dragged to another place.
  drawMarker(mark) {
    const top = this.model.tops[mark.number];
    if (top === undefined) return;
    const y = this.place(top);
    const isChosen = this.model.chosen.number === mark.number;
    const pin = add(this.layer, "g", { class: "ruler-marker", "data-n": mark.number, role: "button", tabindex: isChosen ? "0" : "-1", "aria-label": `Marker #${mark.value}`, "aria-pressed": String(isChosen) });
    const look = { fill: "var(--here)", stroke: "var(--card)", "stroke-width": 1.5 };
    add(pin, "path", { ...look, d: `M${X.right + 8} ${y} l-7 -5.5 v11z` });
    add(pin, "path", { d: `M${X.left} ${y} H${X.right}`, stroke: "var(--here)", "stroke-width": isChosen ? 2 : 1, "stroke-dasharray": "1 3" });
    add(pin, "rect", { x: X.right - 6, y: y - 12, width: 24, height: 24, fill: "transparent" });
    add(pin, "title", {}, `#${mark.value}, an empty marker. Drag it to move it.`);
    this.hearMarker(pin, mark);
  }

  hearMarker(pin, mark) {
    let from = null;
    const at = (event) => (this.model.tops[mark.number] ?? 0) + (event.clientY - from.y) / this.scale;
    const sent = { number: mark.number, value: mark.value, empty: true };
    pin.addEventListener("pointerdown", (event) => {
      from = { y: event.clientY, moved: false };
      this.hold();
      pin.setPointerCapture(event.pointerId);
      event.preventDefault();
    });
    pin.addEventListener("pointermove", (event) => {
      if (!from || (!from.moved && Math.abs(event.clientY - from.y) < 4)) return;
      from.moved = true;
      pin.setAttribute("transform", `translate(0 ${event.clientY - from.y})`);
      this.tell.drag(sent, at(event), false);
    });
    pin.addEventListener("pointerup", (event) => {
      if (from?.moved) {
        pin.removeAttribute("transform");
        this.tell.drag(sent, at(event), true);
      } else if (from) this.tell.choose("place", mark.number, true);
      from = null;
      this.release();
    });
    pin.addEventListener("pointercancel", () => {
      from = null;
      this.release();
    });
    pin.addEventListener("keydown", (event) => this.keyOn(event, { number: mark.number, what: "marker" }));
    pin.addEventListener("pointerenter", () => this.tell.over(mark.number));
    pin.addEventListener("pointerleave", () => this.tell.over(null));
  }

  // Arrows go through sections and the marked parts between them.
  keyOn(event, stop) {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    const { stops } = this.model;
    const next = step && stops[stops.findIndex(({ number }) => number === stop.number) + step];
    const isTaken = event.key === "Enter" || event.key === " ";
    if (next || isTaken) event.preventDefault();
    if (next) this.tell.goTo(next);
    else if (isTaken) this.tell.choose(stop.what ? "place" : "section", stop.number, true);
  }

  makeWindow() {
    const window_ = add(this.ground, "g", {
      role: "slider",
      tabindex: "0",
      class: "ruler-window",
      "aria-label": "Where the sheet is",
      "aria-orientation": "vertical",
      "aria-valuemin": "0",
    });
    this.frame = add(window_, "rect", { x: X.left - 5, width: X.right - X.left + 10, rx: 7, class: "ruler-frame" });
    this.grip = add(window_, "rect", { x: X.left - 5, width: 8, rx: 4, class: "ruler-grip" });
    let from = null;
    const start = (event) => {
      from = { at: event.clientY, y: this.model.y };
      this.isSliding = true; // what is drawn stays under the hand
      window_.setPointerCapture(event.pointerId);
      event.preventDefault();
    };
    this.grip.addEventListener("pointerdown", start);
    this.frame.addEventListener("pointerdown", start);
    window_.addEventListener("pointermove", (event) => {
      if (from) this.tell.scroll(from.y + (event.clientY - from.at) / this.scale);
    });
    const end = () => {
      from = null;
      this.isSliding = false;
      this.follow();
    };
    window_.addEventListener("pointerup", end);
    window_.addEventListener("pointercancel", end);
    window_.addEventListener("keydown", (event) => {
      const { y, view, height } = this.model;
      const to = {
        ArrowDown: y + view / 8, ArrowUp: y - view / 8,
        PageDown: y + view, PageUp: y - view, Home: 0, End: height,
      }[event.key];
      if (to === undefined) return;
      event.preventDefault();
      this.tell.scroll(to);
    });
    return window_;
  }

  // what: { key, from, to, view }: how far down the reader's view is before and after; null
  // for nothing. The first time it slides there, as the reader's view does.
  showReader(what) {
    this.reader.setAttribute("visibility", what ? "visible" : "hidden");
    const isNew = what !== null && what.key !== this.shown;
    this.shown = what?.key ?? "";
    if (!what) return;
    this.reader.setAttribute("y", this.place(what.to));
    this.reader.setAttribute("height", Math.max(8, what.view * this.scale));
    if (!isNew || what.from === null || matchMedia("(prefers-reduced-motion: reduce)").matches) return;
    const way = (what.from - what.to) * this.scale;
    this.reader.animate([{ transform: `translateY(${way}px)` }, { transform: "none" }], { duration: SLIDE, easing: "ease-in-out" });
  }

  // The sheet was scrolled.
  scrolled(y, view) {
    this.moveWindow(y, view);
    if (this.model) this.follow();
  }

  moveWindow(y, view) {
    if (!this.model) return;
    Object.assign(this.model, { y, view });
    const height = Math.max(10, view * this.scale);
    for (const part of [this.frame, this.grip]) {
      part.setAttribute("y", this.place(y));
      part.setAttribute("height", height);
    }
    const most = Math.max(0, this.model.height - view);
    this.window.setAttribute("aria-valuemax", String(Math.round(most)));
    this.window.setAttribute("aria-valuenow", String(Math.round(Math.min(y, most))));
    this.window.setAttribute("aria-valuetext", `${(y / this.model.screen).toFixed(1)} screens down`);
  }
}

