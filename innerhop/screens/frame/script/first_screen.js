// The first screen that a reader gets after a hop, drawn to scale: what covers its top and
// its bottom, the first line, and how much of that is covered.
const SVG = "http://www.w3.org/2000/svg";
const HEIGHT = 74; // px, of every drawing

function shape(name, values) {
  const made = document.createElementNS(SVG, name);
  for (const [key, value] of Object.entries(values)) made.setAttribute(key, value);
  return made;
}

// landing: as the server has it, or nothing for one that is not known.
export function firstScreen(landing, { width, view }) {
  const scale = HEIGHT / view;
  const wide = Math.max(34, Math.round(width * scale));
  const drawing = shape("svg", { width: wide, height: HEIGHT, viewBox: `0 0 ${wide} ${HEIGHT}`, "aria-hidden": "true" });
  drawing.append(shape("rect", { x: 0.5, y: 0.5, width: wide - 1, height: HEIGHT - 1, rx: 3, fill: "var(--card)", stroke: "var(--line)" }));
  if (!landing) return drawing;
  if (landing.verdict === "nowhere") {
    drawing.append(shape("path", { d: `M${wide / 2 - 9} 28l18 18m0 -18l-18 18`, stroke: "var(--broken)", "stroke-width": 2, fill: "none" }));
    return drawing;
  }
  const under = Math.max(0, landing.under * scale);
  const seen = Math.min(Math.max(landing.seen * scale, 2), HEIGHT - 8);
  const isCovered = ["covered", "cut"].includes(landing.verdict);
  for (let y = seen + 13; y < HEIGHT - 4; y += 8) {
    if (y > under + 2) drawing.append(shape("rect", { x: 6, y, width: wide - 12, height: 2.5, fill: "var(--line)" }));
  }
  if (under) drawing.append(shape("rect", { x: 0.5, y: 0.5, width: wide - 1, height: under, fill: "var(--ink)", opacity: 0.85 }));
  const foot = Math.min(landing.foot * scale, HEIGHT / 2);
  if (foot) drawing.append(shape("rect", { x: 0.5, y: HEIGHT - foot - 0.5, width: wide - 1, height: foot, fill: "var(--ink)", opacity: 0.85 }));
  drawing.append(shape("rect", { x: 6, y: seen, width: Math.max(10, wide * 0.45), height: 6, rx: 1.5, fill: isCovered ? "var(--broken)" : "var(--good)" }));
  if (landing.verdict === "gap" && seen > under + 4) {
    drawing.append(shape("path", { d: `M${wide - 5} ${under + 2}V${seen}m-3 0h6m-6 ${under + 2 - seen}h6`, stroke: "var(--warn)", fill: "none" }));
  }
  return drawing;
}
