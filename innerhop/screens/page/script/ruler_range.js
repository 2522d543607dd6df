// Which part of the page the ruler draws: all of it, or, closer, some screens around a
// place, with the whole page as a narrow bar beside it.
import { add } from "./svg.js";

export const LONG = 30; // screens: on longer pages sections are too small to point at
const CLOSE = 12; // screens drawn when the ruler is closer
const BAR = { x: 0.5, width: 4, rx: 2 }; // in the units of the drawing
const REACH = 24; // WCAG 2.2, 2.5.8

// All heights in CSS px of the page. at: the place to be drawn in the middle.
export function rangeAround(at, { height, screen }) {
  const length = Math.min(height, CLOSE * screen);
  const from = Math.max(0, Math.min(at - length / 2, height - length));
  return { from, to: from + length };
}

export function isWithin({ from, to }, top, bottom = top) {
  return top >= from && bottom <= to;
}

// What of the model stands in the range, or is a hop with one end there.
export function within(range, model) {
  const { tops, pageId } = model;
  const isHere = (number) => tops[number] !== undefined && isWithin(range, tops[number]);
  const endsHere = ({ end, to }) => to?.id === pageId && (end === null ? range.from === 0 : isHere(end));
  const isShown = ({ number }) => isHere(number);
  return {
    ...model,
    hops: model.hops.filter((hop) => isHere(hop.number) || endsHere(hop)),
    into: model.into.filter(endsHere),
    lists: model.lists.filter(isShown),
    marks: model.marks.filter(isShown),
    others: model.others.filter(isShown),
  };
}

// The whole page beside its part. tell: { to(y) }, where in the page it was pointed at.
export class WholeBar {
  constructor(ground, tell) {
    this.group = add(ground, "g", { class: "ruler-whole", "aria-hidden": "true", visibility: "hidden" });
    this.page = add(this.group, "rect", { ...BAR, class: "ruler-whole-page" });
    this.sections = add(this.group, "path", { class: "ruler-whole-sections" });
    this.part = add(this.group, "rect", { ...BAR, class: "ruler-whole-part" });
    const reach = add(this.group, "rect", { x: 0, width: REACH, fill: "transparent" });
    this.boxes = [this.page, reach];
    this.hear(reach, tell);
  }

  hear(reach, tell) {
    let held = false;
    const point = (event) => {
      const { top, height } = this.page.getBoundingClientRect();
      tell.to(Math.max(0, Math.min(1, (event.clientY - top) / height)) * this.height);
    };
    reach.addEventListener("pointerdown", (event) => {
      held = true;
      reach.setPointerCapture(event.pointerId);
      event.preventDefault();
      point(event);
    });
    reach.addEventListener("pointermove", (event) => {
      if (held) point(event);
    });
    for (const end of ["pointerup", "pointercancel"]) reach.addEventListener(end, () => (held = false));
  }

  // tops: where sections begin, in px of the page; box: { y, height } in units of the drawing.
  draw({ height, range, tops, box }) {
    this.height = height;
    this.group.setAttribute("visibility", range ? "visible" : "hidden");
    if (!range) return;
    const scale = box.height / Math.max(1, height);
    for (const part of this.boxes) {
      part.setAttribute("y", box.y);
      part.setAttribute("height", box.height);
    }
    const lines = new Set(tops.map((top) => Math.round(box.y + top * scale)));
    this.sections.setAttribute("d", [...lines].map((y) => `M${BAR.x} ${y}h${BAR.width}`).join(""));
    this.part.setAttribute("y", box.y + range.from * scale);
    this.part.setAttribute("height", Math.max(4, (range.to - range.from) * scale));
  }
}
