// The rows of a contents list, without a browser.
import assert from "node:assert/strict";
import test from "node:test";
import { entriesSent, partsIn, rowsOf, scopesOf } from "../../innerhop/screens/page/script/contents_rows.js";

const possible = [
  { number: 10, kind: "h2", level: 2, title: "A", mark: "a", key: "a" },
  { number: 20, kind: "h3", level: 3, title: "A one", mark: "", key: "a-one" },
  { number: 30, kind: "h2", level: 2, title: "B", mark: "b", key: "b" },
  { number: 40, kind: "h2", level: 2, title: "C", mark: "", key: "c" },
];
const entry = (link, part, label) => ({ link, part, label, own: false, href: "" });
const list = (more) => ({
  number: 1, last: 5, levels: ["h2"], gone: [], leads: [], relabelled: [], moved: [], added: [], ownOrder: false, entries: [], ...more,
});

test("a new list takes what is usual, and says what gets an ID", () => {
  const rows = rowsOf({ possible }, null, ["h2"]);
  assert.deepEqual(rows.filter(({ on }) => on).map(({ title, isNew }) => [title, isNew]), [["A", false], ["B", false], ["C", true]]);
});

test("a list that is there keeps its order and words; what is new stands where the page has it", () => {
  const there = list({ entries: [entry(3, 30, "In short"), entry(2, 10, "A")], added: [40], ownOrder: true });
  const rows = rowsOf({ possible }, there, ["h2"]);
  assert.deepEqual(rows.filter(({ on }) => on).map(({ part, label }) => [part, label]), [[30, "In short"], [40, ""], [10, ""]]);
});

test("entries that lead to nothing go, renamed and misled ones are put right, moved ones move", () => {
  const there = list({
    entries: [entry(4, 30, "Old"), entry(2, 10, "A"), entry(5, null, "Gone"), entry(6, 10, "C"), entry(7, null, "Elsewhere")],
    gone: [5], relabelled: [[4, "B"]], leads: [[6, 40]], moved: [4],
  });
  const rows = rowsOf({ possible }, there, ["h2"]);
  const sent = entriesSent(rows.filter(({ on }) => on));
  assert.deepEqual(sent, [
    { part: 10, page: null, link: 2, label: "" },
    { part: 30, page: null, link: 4, label: "" },
    { part: 40, page: null, link: 6, label: "" },
    { part: null, page: null, link: 7, label: "" },
  ]);
});

test("a section holds what lies deeper up to the next", () => {
  assert.deepEqual([...partsIn(possible, "a")], [20]);
  assert.deepEqual(scopesOf(possible).map(({ value }) => value), ["page", "a", "chosen"]);
});
