// After somebody else's change: what is under way goes on with the same parts, by their
// numbers of now, and what went is let go of.
import assert from "node:assert/strict";
import { test } from "node:test";

import { carried, carriedList, foundAgain, numbersIn } from "../../innerhop/screens/page/script/found_again.js";
import { begin, choose, START } from "../../innerhop/screens/page/script/machine.js";

const NOW = { 5: 8, 7: 10, 9: null };
const to = (number) => NOW[number] ?? null;
const PAGE = 3;

test("all that is under way is asked for, and nothing of other pages", () => {
  const machine = begin(choose(START, "section", { number: 5 }), "hop", { end: { page: PAGE, number: 9 }, newLink: { number: 7 } });
  const away = begin(machine, "hop", { end: { page: 4, number: 70 } });
  const drafts = new Map([["section 2", { machine: null, id: { number: 2 } }]]);
  const list = { at: 20, places: [21], rows: [{ page: null, part: 22, link: 23 }, { page: 4, part: 70, link: null }] };
  const ask = (one) => numbersIn({ machine: one, id: { number: 5 }, manyRows: [{ number: 11 }], list, drafts, pageId: PAGE });
  assert.deepEqual(ask(machine), [5, 7, 9, 20, 21, 22, 23, 2, 11]);
  assert.deepEqual(ask(away), [5, 20, 21, 22, 23, 2, 11]);
});

test("a hop of this page has another key; one of another page keeps it", () => {
  const own = choose(START, "hop", { number: 5, key: "3-5" });
  const other = choose(START, "hop", { number: 5, key: "4-5" });
  assert.deepEqual(carried(own, to, PAGE).chosen, { kind: "hop", number: 8, key: "3-8" });
  assert.equal(carried(other, to, PAGE).chosen.key, "4-5");
});

test("an end that went is let go of, unless it has an ID to be found by", () => {
  const hop = (end) => begin(choose(START, "section", { number: 5 }), "hop", { end });
  const endOf = (end) => carried(hop(end), to, PAGE).fields.end;
  assert.equal(endOf({ page: PAGE, number: 9, id: "" }), null);
  assert.deepEqual(endOf({ page: PAGE, number: 9, id: "tolls" }), { page: PAGE, number: null, id: "tolls" });
  assert.deepEqual(endOf({ page: PAGE, number: 7, id: "" }), { page: PAGE, number: 10, id: "" });
});

test("what was typed for another part follows it, or is dropped with it", () => {
  const drafts = new Map([
    ["section 5", { machine: null, id: { number: 5, typed: "a" } }],
    ["section 9", { machine: null, id: { number: 9, typed: "b" } }],
  ]);
  const screen = { draftKey: ({ kind, number }) => `${kind} ${number}`, ...foundAgainWithoutGetters(drafts) };
  screen.carryDrafts(to, PAGE);
  assert.deepEqual([...drafts], [["section 8", { machine: null, id: { number: 8, typed: "a" } }]]);
});

function foundAgainWithoutGetters(drafts) {
  const { carryDrafts } = Object.fromEntries(Object.entries(Object.getOwnPropertyDescriptors(foundAgain({ drafts }))).map(([name, { value }]) => [name, value]));
  return { carryDrafts };
}

test("a list keeps its entries by what they are, and those of other pages", () => {
  const row = (page, part, link = null) => ({ page, part, link, label: "own" });
  const list = { at: 7, places: [5, 9], rows: [row(null, 5, 7), row(null, 9), row(4, 9), row(null, null)] };
  const now = carriedList(list, to);
  assert.deepEqual([now.at, now.places], [10, [8]]);
  assert.deepEqual(now.rows, [row(null, 8, 10), row(4, 9), row(null, null)]);
});
