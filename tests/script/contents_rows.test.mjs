// The rows of a contents list, without a browser.
import assert from "node:assert/strict";
import test from "node:test";
import { entriesSent, partsIn, scopesOf, shown } from "../../innerhop/screens/page/script/contents_rows.js";

const possible = [
  { number: 10, kind: "h2", level: 2, title: "A", mark: "a", key: "a" },
  { number: 20, kind: "h3", level: 3, title: "A one", mark: "", key: "a-one" },
  { number: 30, kind: "h2", level: 2, title: "B", mark: "b", key: "b" },
  { number: 40, kind: "h2", level: 2, title: "C", mark: "", key: "c" },
];

test("what is sent of a row is where it leads and its words", () => {
  const rows = shown([{ part: 10, page: null, kind: "h2", level: 2, title: "A", mark: "a", on: true, label: " In short ", link: 2, needsId: false }]);
  assert.deepEqual(entriesSent(rows), [{ part: 10, page: null, link: 2, label: "In short" }]);
});

test("a section holds what lies deeper up to the next", () => {
  assert.deepEqual([...partsIn(possible, "a")], [20]);
  assert.deepEqual(scopesOf(possible).map(({ value }) => value), ["page", "a", "chosen"]);
});
