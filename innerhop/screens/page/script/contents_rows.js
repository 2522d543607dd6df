// The rows from which a contents list is chosen: what is listed, in the list's own order,
// and what could be. No part of a browser is needed here.

// found: as the server says what could be listed. there: a list that is there, or null.
// Returns { part, page, kind, level, title, mark, on, label, link, isNew } for each; part
// null for an entry that leads elsewhere, page null for this page.
export function rowsOf(found, there, levels) {
  const titles = new Map(found.possible.map((one) => [one.number, one]));
  if (!there) return found.possible.map((one) => row(one, { on: levels.includes(one.kind), isNew: !one.mark }));
  const gone = new Set(there.gone);
  const leads = new Map(there.leads);
  const renamed = new Map(there.relabelled);
  const listed = there.entries.filter(({ link }) => !gone.has(link)).map((entry) => {
    const one = titles.get(leads.get(entry.link) ?? entry.part);
    if (!one) return { ...blank, title: entry.label, link: entry.link, on: true };
    const label = renamed.has(entry.link) || entry.label === one.title ? "" : entry.label;
    return row(one, { on: true, label, link: entry.link });
  });
  const known = new Set(listed.map(({ part }) => part));
  const added = new Set(there.added);
  const rest = found.possible.filter(({ number }) => !known.has(number) && !isInside(number, there))
    .map((one) => row(one, { on: added.has(one.number), isNew: added.has(one.number) }));
  return there.ownOrder || there.moved.length === 0 ? merged(listed, rest) : merged(inOrder(listed), rest);
}

const blank = { part: null, page: null, kind: "", level: 2, title: "", mark: "", on: false, label: "", link: null, isNew: false, rewords: false };

function row({ number, kind, level, title, mark }, more) {
  return { ...blank, part: number, kind, level, title, mark, ...more };
}

function isInside(number, { number: first, last }) {
  return number >= first && number <= last;
}

function inOrder(rows) {
  return [...rows].sort((one, other) => (one.part ?? Infinity) - (other.part ?? Infinity));
}

// What is not listed stands behind the nearest listed part before it on the page.
function merged(listed, rest) {
  const rows = [...listed];
  for (const one of rest) {
    let at = -1;
    rows.forEach(({ part }, index) => {
      if (part !== null && part < one.part && (at < 0 || part >= rows[at].part)) at = index;
    });
    rows.splice(at + 1, 0, one);
  }
  return rows;
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

// The sections of another page, and the page itself first.
export function asOptions({ page, title, possible, usual }) {
  const whole = { ...blank, page, title, kind: "page", level: 1, mark: "page", on: true };
  return [whole, ...possible.filter(({ kind }) => usual.includes(kind)).map((one) => ({ ...row(one, { on: true }), page }))];
}

// The rows as the act asks for them.
export function entriesSent(rows) {
  return rows.map(({ part, page, link, label }) => ({ part, page, link, label: label.trim() }));
}
