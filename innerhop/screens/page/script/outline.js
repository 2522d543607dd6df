// The outline on the desk: every section with its mark, or the lack of one, and the other
// marked parts. Drawn by hand, since a long handbook has two thousand of them.

// From this many on, and more than there are sections, other marked parts would hide those.
const MANY = 20;

// stops, frame: see stops.js. Sections come first where the others are many; what stands in
// parts that pages share comes last. Both are drawn when somebody opens them.
export function drawOutline(place, { stops, frame }, twice, tell) {
  const others = stops.filter(({ what }) => what);
  const isCrowded = others.length > Math.max(MANY, stops.length - others.length);
  const draw = (rows) => listOf(rows, twice, tell);
  const shown = isCrowded ? stops.filter(({ what }) => !what) : stops;
  const parts = [draw(shown)];
  if (isCrowded) parts.push(fold(`${others.length} other marked parts`, others, draw, !shown.length));
  if (frame.length) parts.push(fold(`${frame.length === 1 ? "1 mark" : `${frame.length} marks`} in parts that pages share`, frame, draw));
  // What Alpine does not look at: there are thousands of parts.
  place.querySelector("[x-ignore]").replaceChildren(...parts);
}

// The row of a part, once the fold that holds it is open.
export function rowOf(place, number) {
  const row = place.querySelector(`[data-n="${number}"]`);
  if (row) return row;
  const holder = [...place.querySelectorAll("details:not([open])")].find((one) => one.numbers.has(number));
  holder?.unfold();
  return holder ? rowOf(place, number) : null;
}

function fold(words, rows, draw, isOpen = false) {
  const part = document.createElement("details");
  part.className = "mt-1";
  const summary = document.createElement("summary");
  summary.className = "cursor-pointer py-2 text-small";
  summary.textContent = words;
  part.append(summary);
  part.numbers = new Set(rows.map(({ number }) => number));
  part.unfold = () => {
    if (!part.querySelector("ul")) part.append(draw(rows));
    part.open = true;
  };
  part.addEventListener("toggle", () => part.open && part.unfold());
  if (isOpen) part.unfold();
  return part;
}

function listOf(rows, twice, tell) {
  const list = document.createElement("ul");
  list.append(...rows.map((one) => itemOf(one, twice, tell)));
  return list;
}

function itemOf(section, twice, tell) {
  const row = document.createElement("button");
  row.type = "button";
  row.className = "row outline-row";
  row.dataset.n = section.number;
  row.style.paddingLeft = `${6 + 12 * Math.min(4, section.depth)}px`;
  const dot = document.createElement("span");
  const isSecond = twice.has(section.number);
  dot.className = isSecond ? "dot twice" : section.mark ? "dot marked" : "dot";
  row.append(dot, titleOf(section), markOf(section, isSecond));
  row.addEventListener("click", () => tell.choose(section.what ? "place" : "section", section.number, true));
  row.addEventListener("pointerenter", () => tell.over(section.number));
  row.addEventListener("pointerleave", () => tell.over(null));
  const item = document.createElement("li");
  item.className = "outline-item";
  item.append(row);
  return item;
}

function titleOf({ title, what }) {
  const part = document.createElement("span");
  part.textContent = title || "A heading without words";
  part.className = `min-w-0 flex-1 [overflow-wrap:anywhere]${what ? " text-small" : ""}`;
  if (what) part.append(note(what));
  return part;
}

function markOf({ mark }, isSecond) {
  const part = document.createElement("span");
  part.className = mark ? "code max-w-[46%] truncate text-soft" : "text-small text-soft";
  if (mark) part.title = `#${mark}`; // it may be cut
  part.textContent = mark ? `#${mark}${isSecond ? " again" : ""}` : "no mark yet";
  return part;
}

function note(words) {
  const part = document.createElement("span");
  part.className = "text-soft";
  part.textContent = ` · ${words}`;
  return part;
}
