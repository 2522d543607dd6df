// An item dragged to its place: between two others, where a line shows it, or onto one, which puts
// it under that one.

const EDGE = 0.28; // of an item's height: above and below it is beside the item, between on it
const FAR = 5; // px: less is a click

function partOf({ top, height }, y) {
  const far = (y - top) / height;
  if (far < EDGE) return "before";
  return far > 1 - EDGE ? "after" : "on";
}

// parts.root: the screen's element. dropOn: where a branch would go (see `tree`).
export function dragging(parts, { dropOn }) {
  return {
    dragged: null, // { from, x, y, drop } while an item is in hand

    grab(from, event) {
      if (event.button || this.busy || event.pointerType === "touch" && !event.target.closest(".menu-handle")) return;
      const { clientX: x, clientY: y } = event;
      const hand = { from, x, y, drop: null };
      const move = (at) => this.drag(hand, at);
      const leave = (last) => {
        window.removeEventListener("pointermove", move);
        window.removeEventListener("pointerup", leave);
        window.removeEventListener("pointercancel", leave);
        window.removeEventListener("keydown", cancel, true);
        this.letGo(hand, last.type === "pointerup");
      };
      const cancel = (last) => {
        if (last.key !== "Escape") return;
        last.stopPropagation();
        leave(last);
      };
      window.addEventListener("pointermove", move);
      window.addEventListener("pointerup", leave);
      window.addEventListener("pointercancel", leave);
      window.addEventListener("keydown", cancel, true);
    },
    drag(hand, { clientX, clientY }) {
      if (!this.dragged && Math.hypot(clientX - hand.x, clientY - hand.y) < FAR) return;
      this.dragged = hand;
      window.getSelection()?.removeAllRanges();
      const lines = [...parts.root.querySelectorAll("tr[data-row]")];
      const boxes = lines.map((line) => line.querySelector(".menu-card").getBoundingClientRect());
      const below = boxes.findIndex(({ bottom }) => clientY < bottom);
      const at = below < 0 ? lines.length - 1 : below;
      const part = below < 0 ? "after" : partOf(boxes[at], clientY);
      hand.drop = dropOn(this.rows, hand.from, at, part);
      for (const line of lines) line.removeAttribute("data-drop");
      if (hand.drop) lines[at].setAttribute("data-drop", part);
    },
    letGo(hand, isMeant) {
      for (const line of parts.root.querySelectorAll("tr[data-drop]")) line.removeAttribute("data-drop");
      if (this.dragged && isMeant && hand.drop) this.dropped(hand.from, hand.drop);
      // The click that ends it chooses nothing.
      setTimeout(() => (this.dragged = null));
    },
  };
}
