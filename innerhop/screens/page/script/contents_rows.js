// The rows from which a contents list is chosen: what is listed, in the list's own order,
// and what could be, as the server sends them. No part of a browser is needed here.

// Rows as the server sends them, as they stand on the desk. rewords: whether one is being given
// words of its own.
export function shown(rows) {
  return rows.map((row) => ({ ...row, rewords: false }));
}

// The parts in a section, by their numbers: up to the next as high as it.
export function partsIn(possible, key) {
  const at = possible.findIndex((one) => one.key === key);
  if (at < 0) return new Set(possible.map(({ number }) => number));
  const rest = possible.slice(at + 1);
  const end = rest.findIndex(({ level }) => level <= possible[at].level);
  return new Set((end < 0 ? rest : rest.slice(0, end)).map(({ number }) => number));
}

// What a list can be of: the whole page, a section that has parts, or what one chooses.
export function scopesOf(possible) {
  const sections = possible.filter(({ level }, at) => possible[at + 1]?.level > level);
  return [
    { value: "page", name: "the whole page" },
    ...sections.map(({ key, title }) => ({ value: key, name: `“${title}”` })),
    { value: "chosen", name: "only what I choose" },
  ];
}

// The rows as the act asks for them.
export function entriesSent(rows) {
  return rows.map(({ part, page, link, label }) => ({ part, page, link, label: label.trim() }));
}
