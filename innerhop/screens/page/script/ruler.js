// The ruler: the page drawn to scale, with its sections, its hops as arcs, and
// the window that shows where the sheet is. For a chosen hop or mark a second one, dashed,
// shows what its reader gets.
import { drawHops } from "./ruler_hops.js";
import { drawStarts } from "./ruler_starts.js";
import { X } from "./ruler_places.js";
import { add, make } from "./svg.js";

// Unicode Standard Annex 9, first strong isolate and pop directional isolate.
const isolated = (words) => `\u2068${words}\u2069`;

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
    this.model = null;
    this.isHeld = false;
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
    return TOP + y * this.scale;
  }

  // model: { height, view, screen, sections, tops, ends, hops, into, chosen, lit }
  draw(model) {
    if (this.isHeld) {
      this.next = model;
      return;
    }
    this.model = model;
    // As wide as its drawing, or drawn smaller as a whole: else it would not fill the height.
    const small = Math.min(1, (this.svg.clientWidth || WIDTH) / WIDTH);
    const room = (this.svg.clientHeight || 640) / small;
    this.svg.setAttribute("viewBox", `0 0 ${WIDTH} ${room}`);
    this.scale = (room - TOP - BOTTOM) / Math.max(1, model.height);
    const focused = this.layer.contains(document.activeElement);
    // Drawn aside and put in as one, so that the browser lays it out once.
    const before = this.layer;
    this.layer = make("g");
    this.drawTicks();
    const strips = this.strips();
    this.hasChosenStop = [...model.stops, ...model.marks].some(({ number }) => number === model.chosen.number);
    drawHops(this.layer, this, model);
    for (const strip of strips) this.drawStrip(strip);
    for (const mark of model.others) this.drawOther(mark);
    for (const mark of model.marks) this.drawMarker(mark);
    drawStarts(this.layer, this, model);
    before.replaceWith(this.layer);
    this.drawLabels(strips);
    if (focused) this.layer.querySelector('[tabindex="0"]')?.focus();
    this.moveWindow(model.y, model.view);
  }

  strips() {
    const { sections, tops, ends, height } = this.model;
    const known = sections.filter(({ number }) => tops[number] !== undefined);
    return known.map((section, at) => {
      const from = tops[section.number];
      const next = known[at + 1] ? tops[known[at + 1].number] : height;
      const to = Math.max(from, Math.min(next, at + 1 < known.length ? next : ends[section.number] ?? height));
      return { section, at, y: this.place(from), height: (to - from) * this.scale };
    });
  }

  // The section that stands at a height of the drawing, if any does.
  sectionAt(y) {
    const { sections, tops } = this.model;
    const above = sections.filter(({ number }) => tops[number] !== undefined && this.place(tops[number]) <= y);
    return above.at(-1) ?? null;
  }

  drawTicks() {
    const { height, screen } = this.model;
    const count = Math.floor(height / screen);
    const step = [1, 2, 5, 10, 20, 50, 100, 200, 500].find((one) => (count / one) <= 26) ?? 1000;
    for (let at = 0; at <= count; at += step) {
      const y = this.place(at * screen);
      add(this.layer, "line", { x1: X.tick - 6, x2: X.tick, y1: y, y2: y, stroke: "var(--faint)" });
      add(this.layer, "text", { x: X.tick - 9, y: y + 3.5, "text-anchor": "end", class: "ruler-tick", "aria-hidden": "true" }, String(at));
    }
  }

  drawStrip({ section, at, y, height }) {
    const { chosen, lit } = this.model;
    const isChosen = chosen.kind === "section" && chosen.number === section.number;
    const isLit = lit === section.number;
    const group = add(this.layer, "g", {
      role: "button",
      tabindex: isChosen || (!this.hasChosenStop && at === 0) ? "0" : "-1",
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

  // Titles where they fit: the chosen one always, then by level, then in order.
  drawLabels(strips) {
    const { chosen, lit } = this.model;
    const used = [];
    const labels = [];
    const isFirst = ({ section }) => (chosen.kind === "section" && chosen.number === section.number) || lit === section.number;
    const order = [...strips].sort((one, other) =>
      isFirst(other) - isFirst(one) || one.section.depth - other.section.depth || one.at - other.at);
    for (const strip of order) {
      const { section, y, height } = strip;
      const first = isFirst(strip);
      const inset = 6 * Math.min(3, section.depth);
      const two = section.mark && (height >= 33 || (first && height >= 22));
      const at = y + Math.min(16, Math.max(9, height / 2 + 4));
      const room = [at - 11, at + (two ? 17 : 3)];
      if (used.some(([from, to]) => room[0] < to && room[1] > from)) continue;
      if (height < 11 && !first && strips.length > 30 && section.depth > 0) continue;
      used.push(room);
      const width = X.right - X.left - inset - 20;
      if (first && height < 14) {
        add(this.layer, "rect", { x: X.left + inset, y: at - 11, width: width + 12, height: 15, rx: 3, fill: "var(--card)", opacity: 0.92, class: "ruler-quiet" });
      }
      const x = X.left + inset + 8;
      labels.push(this.text(section.title, x, at, width, first ? "ruler-title on" : "ruler-title"));
      if (two) labels.push(this.text(`#${section.mark}`, x, at + 14.5, width + 10, "ruler-id"));
    }
    this.cut(labels);
  }

  text(words, x, y, width, look) {
    // Read with the section's own name, and isolated: it may run from right to left.
    const text = add(this.layer, "text", { x, y, class: look, "aria-hidden": "true" }, isolated(words));
    return { text, words, width };
  }

  // Cut by measure, so that a long title never runs over the arcs: on a canvas, where
  // nothing has to be laid out for it.
  cut(labels) {
    const canvas = document.createElement("canvas").getContext("2d");
    const fonts = new Map();
    for (const { text, words, width } of labels) {
      const look = text.getAttribute("class");
      if (!fonts.has(look)) fonts.set(look, getComputedStyle(text).font);
      canvas.font = fonts.get(look);
      const wide = (count) => canvas.measureText(words.slice(0, count)).width;
      if (wide(words.length) <= width) continue;
      let [low, high] = [0, words.length];
      while (low < high) {
        const middle = Math.ceil((low + high) / 2);
        if (wide(middle) <= width - 8) low = middle;
        else high = middle - 1;
      }
      text.textContent = isolated(`${words.slice(0, low).trimEnd()}…`);
    }
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
      window_.setPointerCapture(event.pointerId);
      event.preventDefault();
    };
    this.grip.addEventListener("pointerdown", start);
    this.frame.addEventListener("pointerdown", start);
    window_.addEventListener("pointermove", (event) => {
      if (from) this.tell.scroll(from.y + (event.clientY - from.at) / this.scale);
    });
    window_.addEventListener("pointerup", () => (from = null));
    window_.addEventListener("pointercancel", () => (from = null));
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

