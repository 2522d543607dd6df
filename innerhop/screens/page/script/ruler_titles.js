// Titles of sections on the ruler, where they fit.
import { X } from "./ruler_places.js";
import { add } from "./svg.js";

// Unicode Standard Annex 9, first strong isolate and pop directional isolate.
const isolated = (words) => `\u2068${words}\u2069`;

// The chosen one always, then by level, then in order.
export function drawTitles(layer, strips, { chosen, lit }) {
  const used = [];
  const labels = [];
  const isFirst = ({ section }) => (chosen.kind === "section" && chosen.number === section.number) || lit === section.number;
  const order = [...strips].sort((one, other) =>
    isFirst(other) - isFirst(one) || one.section.depth - other.section.depth || one.at - other.at);
  for (const strip of order) {
    const { section } = strip;
    // Of a section that began further up, what is drawn of it is named.
    const y = Math.max(strip.y, 0);
    const height = strip.height - (y - strip.y);
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
      add(layer, "rect", { x: X.left + inset, y: at - 11, width: width + 12, height: 15, rx: 3, fill: "var(--card)", opacity: 0.92, class: "ruler-quiet" });
    }
    const x = X.left + inset + 8;
    labels.push(text(layer, section.title, x, at, width, first ? "ruler-title on" : "ruler-title"));
    if (two) labels.push(text(layer, `#${section.mark}`, x, at + 14.5, width + 10, "ruler-id"));
  }
  cut(labels);
}

function text(layer, words, x, y, width, look) {
  // Read with the section's own name, and isolated: it may run from right to left.
  return { text: add(layer, "text", { x, y, class: look, "aria-hidden": "true" }, isolated(words)), words, width };
}

// Cut by measure, so that a long title never runs over the arcs: on a canvas, where
// nothing has to be laid out for it.
function cut(labels) {
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
