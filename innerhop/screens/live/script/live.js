// Lines from what waits to the mark that it waits for, and copying what is to be entered.
import { copying } from "../../frame/script/copying.js";
import { joined } from "../../frame/script/joined.js";

const NAMESPACE = "http://www.w3.org/2000/svg";

export function live() {
  return joined(copying(), {
    init() {
      this.$nextTick(() => this.draw());
      addEventListener("resize", () => this.draw());
    },
    draw() {
      const field = this.$el.querySelector("[data-lines]");
      field.querySelector("svg.live-lines")?.remove();
      const waiting = [...field.querySelectorAll("[data-waits]")];
      const frame = field.getBoundingClientRect();
      const all = document.createElementNS(NAMESPACE, "svg");
      all.classList.add("live-lines");
      all.setAttribute("aria-hidden", "true");
      all.setAttribute("viewBox", `0 0 ${frame.width} ${frame.height}`);
      for (const one of waiting) {
        const { waits, enter } = one.dataset;
        const id = enter.split("#")[1] ?? "";
        const marks = [...field.querySelectorAll(`[data-page="${waits}"]`)];
        const mark = marks.find((other) => other.dataset.enter === id) ?? marks[0];
        if (!mark) continue;
        const [from, to] = [one, mark].map((part) => middle(part, frame));
        const line = document.createElementNS(NAMESPACE, "path");
        const half = (from.y + to.y) / 2;
        line.setAttribute("d", `M${from.x} ${from.y}C${from.x} ${half} ${to.x} ${half} ${to.x} ${to.y}`);
        all.append(line);
      }
      if (all.childElementCount) field.append(all);
    },
  });
}

function middle(part, frame) {
  const box = part.getBoundingClientRect();
  return { x: box.x + box.width / 2 - frame.x, y: box.y + box.height / 2 - frame.y };
}
