// Where hops start on the ruler: a dot on the edge, to be dragged to the section
// where the hop should end. Selected words have one too.
import { arcPath, MANY } from "./ruler_hops.js";
import { X } from "./ruler_places.js";
import { add } from "./svg.js";

export function drawStarts(layer, ruler, model) {
  const { tops, hops, words } = model;
  // Where there are too many to tell apart, the chosen hop's and the broken ones'.
  const shown = hops.length > MANY ? hops.filter(({ kind, key }) => kind === "broken" || key === model.chosen.key) : hops;
  for (const hop of shown) {
    if (hop.kind !== "menu" && tops[hop.number] !== undefined) start(layer, ruler, hop.number, tops[hop.number], `“${hop.text}”`);
  }
  if (words) start(layer, ruler, "words", words.y, "The selected words").classList.add("words");
}

function start(layer, ruler, from, top, what) {
  const y = ruler.place(top);
  const dot = add(layer, "g", { class: "ruler-start", "data-start": from });
  add(dot, "circle", { cx: X.arcs, cy: y, r: from === "words" ? 5 : 2.6 });
  add(dot, "circle", { cx: X.arcs, cy: y, r: 7, fill: "transparent", stroke: "none" });
  add(dot, "title", {}, `${what}: drag this to the section where the hop should end.`);
  hear(dot, ruler, from, y);
  return dot;
}

function hear(dot, ruler, from, y) {
  let held = null;
  const at = (event) => event.clientY - ruler.svg.getBoundingClientRect().top;
  const end = () => {
    held?.path.remove();
    light(ruler, null);
    held = null;
    ruler.release();
  };
  dot.addEventListener("pointerdown", (event) => {
    held = { y: event.clientY, moved: false, path: add(ruler.layer, "path", { class: "ruler-drawn" }) };
    ruler.hold();
    dot.setPointerCapture(event.pointerId);
    event.preventDefault();
  });
  dot.addEventListener("pointermove", (event) => {
    if (!held || (!held.moved && Math.abs(event.clientY - held.y) < 4)) return;
    held.moved = true;
    held.path.setAttribute("d", arcPath(y, at(event)));
    light(ruler, ruler.sectionAt(at(event)));
  });
  dot.addEventListener("pointerup", (event) => {
    const section = held?.moved ? ruler.sectionAt(at(event)) : null;
    const isClick = held && !held.moved;
    end();
    if (section) ruler.tell.connect(from, section.number);
    else if (isClick && from !== "words") ruler.tell.choose("hop", from, true);
  });
  dot.addEventListener("pointercancel", end);
}

// The section under a held start, so that it is seen where the hop would end.
function light(ruler, section) {
  for (const one of ruler.layer.querySelectorAll(".aimed")) one.classList.remove("aimed");
  if (section) ruler.layer.querySelector(`.ruler-section[data-n="${section.number}"]`)?.classList.add("aimed");
}
