// Moving a mark by its tag: over the sheet, or along the ruler. A line shows
// where it would stand, and says so when a heading would be cut off there.
import { dropAt, edgeNear, isBelowHeading, numberOf } from "./places.js";

const FAR = 5; // CSS pixels on the sheet before a press becomes a drag

export class Dragging {
  constructor(overlay, tell) {
    this.overlay = overlay;
    this.tell = tell;
    this.held = null;
    window.addEventListener("pointermove", (event) => this.over(event));
    window.addEventListener("pointerup", () => this.drop());
    window.addEventListener("pointercancel", () => this.stop());
    window.addEventListener("keydown", (event) => {
      if (event.key === "Escape") this.stop();
    });
  }

  hold(tag, mark) {
    tag.addEventListener("pointerdown", (event) => {
      this.held = { mark, x: event.clientX, y: event.clientY, moved: false, spot: null };
    });
    tag.addEventListener("mousedown", (event) => event.preventDefault()); // no words selected
    // A drag is no click.
    tag.addEventListener("click", (event) => {
      if (this.justDropped) event.stopImmediatePropagation();
    }, true);
  }

  over({ clientX, clientY }) {
    const { held } = this;
    if (!held) return;
    if (!held.moved && Math.hypot(clientX - held.x, clientY - held.y) < FAR / this.overlay.scale) return;
    held.moved = true;
    const rim = window.innerHeight * 0.06;
    if (clientY < rim) window.scrollBy({ top: -24, behavior: "instant" });
    if (clientY > window.innerHeight - rim) window.scrollBy({ top: 24, behavior: "instant" });
    this.show(dropAt(clientX, clientY, this.overlay.host, held.mark.empty), held.mark);
  }

  show(spot, mark) {
    if (!spot) return;
    // A mark that stands on an element goes onto another; an empty marker goes between.
    const side = mark.empty ? spot.side : "on";
    const warn = side !== "on" && isBelowHeading(spot.element, side);
    if (this.held) this.held.spot = { to: numberOf(spot.element), side };
    this.overlay.drop = { number: numberOf(spot.element), side, warn, value: mark.value };
    this.overlay.draw();
    return { to: numberOf(spot.element), side, warn };
  }

  // A marker dragged along the ruler: the block nearest to that height.
  probe({ mark, y, end }) {
    const spot = edgeNear(y);
    if (!spot) return;
    window.scrollTo({ top: y - window.innerHeight / 2, behavior: "instant" });
    const found = this.show(spot, mark);
    if (end) {
      this.clear();
      this.tell("dropped", { number: mark.number, ...found });
    }
  }

  drop() {
    const { held } = this;
    this.held = null;
    if (!held?.moved) return; // a click, which a tag drawn anew would never get
    this.justDropped = true;
    setTimeout(() => (this.justDropped = false));
    this.clear();
    if (held.spot && held.spot.to !== held.mark.number) this.tell("dropped", { number: held.mark.number, ...held.spot });
  }

  stop() {
    if (this.held?.moved) this.clear();
    this.held = null;
  }

  clear() {
    this.overlay.drop = null;
    this.overlay.draw();
  }
}
