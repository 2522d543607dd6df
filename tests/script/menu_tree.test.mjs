// What moving an item of a menu does, without a browser: every way gives a tree with every
// item once.
import assert from "node:assert/strict";
import { test } from "node:test";
import { again, branch, treeOf } from "../../innerhop/screens/menus/script/tree.js";

const { closed, down, dropOn, moved, moves, out, under, up, without } = treeOf(4);

const rows = (...told) => told.map((one) => ({ key: one.trim(), depth: one.length - one.trimStart().length }));
const told = (found) => found.map(({ key, depth }) => " ".repeat(depth) + key);
const MENU = rows("a", " b", "  c", " d", "e", "f");

test("an item takes along what stands under it", () => {
  assert.equal(branch(MENU, 0), 4);
  assert.deepEqual(told(down(MENU, 0)), ["e", "a", " b", "  c", " d", "f"]);
  assert.deepEqual(told(up(MENU, 4)), ["e", "a", " b", "  c", " d", "f"]);
  assert.deepEqual(told(under(MENU, 4)), ["a", " b", "  c", " d", " e", "f"]);
  assert.deepEqual(told(out(MENU, 1)), ["a", " d", "b", " c", "e", "f"]);
  assert.deepEqual(told(under(MENU, 3)), ["a", " b", "  c", "  d", "e", "f"]);
});

test("what can't be moved so stays", () => {
  assert.equal(up(MENU, 0), MENU);
  assert.equal(up(MENU, 1), MENU); // the first under its item
  assert.equal(under(MENU, 0), MENU);
  assert.equal(out(MENU, 5), MENU);
  assert.equal(moved(MENU, 0, 2, 1), MENU); // into itself
});

test("taken out alone, what stood under it moves up", () => {
  assert.deepEqual(told(without(MENU, 0)), ["b", " c", "d", "e", "f"]);
});

test("dropped before, after or on an item", () => {
  assert.deepEqual(dropOn(MENU, 5, 1, "before"), { to: 1, depth: 1 }); // b, which stands under a
  assert.deepEqual(dropOn(MENU, 5, 0, "before"), { to: 0, depth: 0 });
  assert.deepEqual(dropOn(MENU, 5, 0, "after"), { to: 1, depth: 1 }); // a has others under it
  assert.deepEqual(dropOn(MENU, 5, 4, "on"), { to: 5, depth: MENU[4].depth + 1 });
  assert.equal(dropOn(MENU, 0, 1, "on"), null); // into itself
});

test("only what is possible is offered", () => {
  assert.deepEqual(moves(MENU, 1, (at) => MENU[at].key).map(({ name }) => name), ["down", "out"]);
  assert.deepEqual(moves(MENU, 4, (at) => MENU[at].key).map(({ says }) => says), ["Move up", "Move down", "Put under a"]);
});

test("any series of moves leaves a tree with every item once", () => {
  let seed = 7;
  const random = (most) => (seed = (seed * 1103515245 + 12345) % 2147483648) % most;
  let now = MENU;
  for (let step = 0; step < 2_000; step += 1) {
    const at = random(now.length);
    const stay = { to: at, depth: now[at].depth };
    const { to: place, depth } = dropOn(now, at, random(now.length), ["before", "after", "on"][random(3)]) ?? stay;
    const way = [() => up(now, at), () => down(now, at), () => under(now, at), () => out(now, at), () => moved(now, at, place, depth)][random(5)];
    now = way();
    assert.deepEqual(now.map(({ key }) => key).sort(), ["a", "b", "c", "d", "e", "f"]);
    assert.deepEqual(now, closed(now));
  }
});

test("an item is found again by what it is, never by its place", () => {
  const item = (label, href = `/${label}/`) => ({ label, href });
  const before = [item("locks"), item("book"), item("more", "#"), item("more", "#")];
  const moved = [item("book"), item("locks"), item("more", "#"), item("more", "#")];
  assert.deepEqual([0, 1, 2, 3].map((at) => again(before, at, moved)), [1, 0, 2, 3]);
  assert.equal(again(before, 0, [item("locks", "/elsewhere/")]), null);
  assert.equal(again(before, 2, [item("more", "#")]), null); // which of the two is left?
});
