// Hops of menus and footers stand on many pages: those that are read alike and land alike are
// shown once, with on how many pages. What is said of their walks holds for all of them.

const keyOf = ({ frame, text, href, landings }) => JSON.stringify([frame, text, href, Object.values(landings).map(({ says }) => says)]);

export function folded(rows) {
  const found = new Map();
  for (const row of rows) {
    const key = row.frame ? keyOf(row) : row.key;
    if (found.has(key)) found.get(key).alike.push(row);
    else found.set(key, { ...row, alike: [row] });
  }
  return [...found.values()];
}

// What was walked of rows that are shown as one: at each width the walk that disagreed, if any
// did; nothing where one of them was not walked there.
export function walksOf({ alike }) {
  const found = {};
  for (const width of Object.keys(alike[0].walks)) {
    const all = alike.map(({ walks }) => walks[width]);
    if (all.every(Boolean)) found[width] = all.find(({ agrees }) => !agrees) ?? all[0];
  }
  return found;
}
