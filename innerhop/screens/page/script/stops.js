// The places of a page that an editor goes through: its sections, and between them the
// marks of other parts (a question, a picture, a table), by what they are called.

// state: as the server tells it. Returns, in the page's order, { number, title, mark,
// depth, what }: what is "" for a section, else what kind of part has the mark.
export function stopsOf({ sections, marks, shared }) {
  const known = new Set(sections.map(({ mark }) => mark));
  const isShared = (number) => shared.some((one) => number >= one.number && number <= one.last);
  const others = marks
    .filter(({ number, value, words, empty }) => (words || empty) && !known.has(value) && !isShared(number))
    .map((mark) => ({ number: mark.number, title: mark.words || `#${mark.value}`, mark: mark.value, what: mark.what }));
  const all = [...sections.map((one) => ({ ...one, what: "" })), ...others]
    .sort((one, other) => one.number - other.number);
  let depth = 0;
  return all.map((one) => {
    if (!one.what) depth = one.depth + 1;
    return { ...one, depth: one.what ? depth : one.depth };
  });
}
