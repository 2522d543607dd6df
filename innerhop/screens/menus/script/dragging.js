// An item dragged to its place: up and down for the order, to the right to put it under the
// one above. A line shows where it would go.
import { dropAt } from "./tree.js";

const STEP = 26; // px to the right for one depth
const FAR = 5; // px: less is a click

// parts.root: the screen's element.
export function dragging(parts) {
  return {
    dragged: null, // { from, x, y, drop } while an item is in hand

    grab(from, event) {
      if (event.button || this.busy || event.pointerType === "touch" && !event.target.closest(".menu-grip")) return;
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
      const before = lines.findIndex((line) => {
        const { top, height } = line.getBoundingClientRect();
        return clientY < top + height / 2;
      });
      const to = before < 0 ? lines.length : before;
      const depth = this.rows[hand.from].depth + Math.round((clientX - hand.x) / STEP);
      hand.drop = dropAt(this.rows, hand.from, to, Math.max(0, depth));
      this.drawDrop(lines, hand.drop);
    },
    drawDrop(lines, { to, depth }) {
      for (const line of lines) line.removeAttribute("data-drop");
      const line = lines[to] ?? lines.at(-1);
      line.setAttribute("data-drop", lines[to] ? "before" : "after");
      line.style.setProperty("--drop-depth", depth);
    },
    letGo(hand, isMeant) {
      for (const line of parts.root.querySelectorAll("tr[data-drop]")) line.removeAttribute("data-drop");
      if (this.dragged && isMeant && hand.drop) this.dropped(hand.from, hand.drop);
      // The click that ends it chooses nothing.
      setTimeout(() => (this.dragged = null));
    },
  };
}
