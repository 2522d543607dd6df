// The outline on the desk: every section with its mark, or the lack of one, and the other
// marked parts. Drawn by hand, since a long handbook has two thousand of them.

export function drawOutline(place, stops, twice, tell) {
  const rows = stops.map((section) => {
    const row = document.createElement("button");
    row.type = "button";
    row.className = "row outline-row";
    row.dataset.n = section.number;
    row.style.paddingLeft = `${6 + 12 * Math.min(4, section.depth)}px`;
    const dot = document.createElement("span");
    const isSecond = twice.has(section.number);
    dot.className = isSecond ? "dot twice" : section.mark ? "dot marked" : "dot";
    const title = document.createElement("span");
    title.textContent = section.title || "A heading without words";
    title.className = `min-w-0 flex-1 [overflow-wrap:anywhere]${section.what ? " text-small" : ""}`;
    if (section.what) title.append(note(section.what));
    const mark = document.createElement("span");
    mark.className = section.mark ? "code max-w-[46%] truncate text-soft" : "text-small text-soft";
    mark.textContent = section.mark ? `#${section.mark}${isSecond ? " again" : ""}` : "no mark yet";
    row.append(dot, title, mark);
    row.addEventListener("click", () => tell.choose(section.what ? "place" : "section", section.number, true));
    row.addEventListener("pointerenter", () => tell.over(section.number));
    row.addEventListener("pointerleave", () => tell.over(null));
    const item = document.createElement("li");
    item.className = "outline-item";
    item.append(row);
    return item;
  });
  const list = document.createElement("ul");
  list.append(...rows);
  // What Alpine does not look at: there are thousands of parts.
  place.querySelector("[x-ignore]").replaceChildren(list);
}

function note(words) {
  const part = document.createElement("span");
  part.className = "text-soft";
  part.textContent = ` · ${words}`;
  return part;
}
