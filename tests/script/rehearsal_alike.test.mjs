// Rows of the rehearsal that stand for several pages.
import assert from "node:assert/strict";
import { test } from "node:test";
import { folded, walksOf } from "../../innerhop/screens/rehearsal/script/alike.js";

const row = (key, more = {}) => ({ key, frame: "nav", text: "Book", href: "#book", landings: { 390: { says: "nowhere" } }, walks: {}, ...more });
const fine = { agrees: true };
const off = { agrees: false };

test("a hop of the frame is shown once, one of a page's own each time", () => {
  const rows = [row("1"), row("2"), row("3", { frame: "" }), row("4", { frame: "" })];
  assert.deepEqual(folded(rows).map(({ key, alike }) => [key, alike.length]), [["1", 2], ["3", 1], ["4", 1]]);
});

test("one that lands elsewhere stands for itself", () => {
  assert.equal(folded([row("1"), row("2", { landings: { 390: { says: "clear" } } })]).length, 2);
});

test("what is said of walks holds for all", () => {
  const walks = (...all) => walksOf({ alike: all.map((one) => ({ walks: one })) });
  assert.deepEqual(walks({ 390: fine }, { 390: fine }), { 390: fine });
  assert.deepEqual(walks({ 390: fine }, { 390: off }), { 390: off });
  assert.deepEqual(walks({ 390: fine }, {}), {});
});
