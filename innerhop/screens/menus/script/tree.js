// The items of a menu as rows in order, each with its depth, and what moving one does.
// An item takes along what stands under it. Every way gives a tree with each item once.

// Where an item is in the same menu after somebody else's change: by its words and where it
// leads, and of several alike by which of them it was; null where that can't be told.
export function again(before, at, now) {
  const isAlike = (one) => one.label === before[at].label && one.href === before[at].href;
  const places = (rows) => rows.flatMap((one, place) => (isAlike(one) ? [place] : []));
  const [then, there] = [places(before), places(now)];
  return then.length === there.length ? there[then.indexOf(at)] : null;
}

// How many rows from `at` on belong together: the item and all under it.
export function branch(rows, at) {
  let end = at + 1;
  while (end < rows.length && rows[end].depth > rows[at].depth) end += 1;
  return end - at;
}

const shifted = (rows, by) => rows.map((row) => ({ ...row, depth: row.depth + by }));

// What moving an item does. deepest: the largest depth of one.
export function treeOf(deepest) {
  // Depths without gaps: nothing stands deeper than one below what is before it.
  function closed(rows) {
    let above = -1;
    return rows.map((row) => {
      above = Math.min(row.depth, above + 1, deepest);
      return row.depth === above ? row : { ...row, depth: above };
    });
  }

  // The branch at `from` put before row `to` (counted before the move), at a depth.
  function moved(rows, from, to, depth) {
    const count = branch(rows, from);
    if (to > from && to < from + count) return rows; // into itself
    const taken = shifted(rows.slice(from, from + count), depth - rows[from].depth);
    const left = [...rows.slice(0, from), ...rows.slice(from + count)];
    const at = to > from ? to - count : to;
    return closed([...left.slice(0, at), ...taken, ...left.slice(at)]);
  }

  // The item beside which one stands: before or after it, under the same one.
  function sibling(rows, at, step) {
    const { depth } = rows[at];
    if (step > 0) {
      const next = at + branch(rows, at);
      return rows[next]?.depth === depth ? next : -1;
    }
    for (let up = at - 1; up >= 0 && rows[up].depth >= depth; up -= 1) if (rows[up].depth === depth) return up;
    return -1;
  }

  function up(rows, at) {
    const before = sibling(rows, at, -1);
    return before < 0 ? rows : moved(rows, at, before, rows[at].depth);
  }

  function down(rows, at) {
    const after = sibling(rows, at, 1);
    return after < 0 ? rows : moved(rows, at, after + branch(rows, after), rows[at].depth);
  }

  // Under the item before it.
  function under(rows, at) {
    const { depth } = rows[at];
    if (sibling(rows, at, -1) < 0 || depth >= deepest) return rows;
    return moved(rows, at, at, depth + 1);
  }

  // Out from under the item it stands under, to behind it and all else that stands there.
  function out(rows, at) {
    const { depth } = rows[at];
    if (!depth) return rows;
    let parent = at;
    while (rows[parent].depth >= depth) parent -= 1;
    return moved(rows, at, parent + branch(rows, parent), depth - 1);
  }

  // Taken out alone: what stood under it moves up in its place.
  function without(rows, at) {
    const count = branch(rows, at);
    const below = shifted(rows.slice(at + 1, at + count), -1);
    return closed([...rows.slice(0, at), ...below, ...rows.slice(at + count)]);
  }

  // What can be done with an item where it stands.
  function moves(rows, at, named) {
    const before = sibling(rows, at, -1);
    const found = [];
    if (before >= 0) found.push({ name: "up", says: "Move up" });
    if (sibling(rows, at, 1) >= 0) found.push({ name: "down", says: "Move down" });
    if (before >= 0 && rows[at].depth < deepest) found.push({ name: "under", says: `Put under ${named(before)}` });
    if (rows[at].depth) found.push({ name: "out", says: "Step out" });
    return found;
  }

  // Where a branch would go that is let go at an item: before it, after it, or on it, which puts it
  // under that one, behind all that stands there. null where it can't.
  function dropOn(rows, from, at, part) {
    const count = branch(rows, from);
    if (at >= from && at < from + count) return null; // into itself
    const { depth } = rows[at];
    if (part === "on") return depth < deepest ? { to: at + branch(rows, at), depth: depth + 1 } : null;
    if (part === "before") return { to: at, depth };
    // Right below an item that has others under it stands the first of these.
    return { to: at + 1, depth: branch(rows, at) > 1 ? depth + 1 : depth };
  }

  return { closed, moved, up, down, under, out, without, moves, dropOn };
}
