// The places of a page that an editor goes through: its sections, and between them the
// marks of other parts (a question, a picture, a table), by what they are called.

// state: as the server tells it. Returns, in the page's order, { number, title, mark,
// depth, what }: what is "" for a section, else what kind of part has the mark.
export function stopsOf({ sections, marks, shared }) {
  const known = new Set(sections.map(({ mark }) => mark));
  const others = marks.filter((one) => (one.words || one.empty) && !known.has(one.value) && !isShared(one, shared));
  const all = [...sections.map((one) => ({ ...one, what: "" })), ...asStops(others)]
    .sort((one, other) => one.number - other.number);
  let depth = 0;
  return all.map((one) => {
    if (!one.what) depth = one.depth + 1;
    return { ...one, depth: one.what ? depth : one.depth };
  });
}

// The marks that stand in parts that pages share, as stops.
export function frameOf({ marks, shared }) {
  return asStops(marks.filter((one) => isShared(one, shared)));
}

function isShared({ number }, shared) {
  return shared.some((one) => number >= one.number && number <= one.last);
}

// A part with both an ID and a name is one part.
function asStops(marks) {
  const byNumber = new Map();
  for (const mark of marks) if (!byNumber.has(mark.number)) byNumber.set(mark.number, mark);
  return [...byNumber.values()].map(({ number, words, value, what }) => ({ number, title: words || `#${value}`, mark: value, what, depth: 0 }));
}
