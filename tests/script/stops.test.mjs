// What an outline goes through: sections, other marked parts, and the frame's own apart.
import assert from "node:assert/strict";
import { test } from "node:test";

import { frameOf, stopsOf } from "../../innerhop/screens/page/script/stops.js";

const mark = (number, value, more = {}) => ({ number, value, words: value, empty: false, what: "block", ...more });
const state = {
  sections: [{ number: 3, title: "Locks", mark: "locks", depth: 0 }],
  marks: [mark(1, "bar"), mark(3, "locks"), mark(5, "gate"), mark(5, "old-gate"), mark(9, "", { words: "" })],
  shared: [{ number: 1, last: 2 }],
};

test("a part with an ID and a name is one stop, below the section it stands in", () => {
  assert.deepEqual(stopsOf(state).map(({ number, mark: id, depth }) => [number, id, depth]), [[3, "locks", 0], [5, "gate", 1]]);
});

test("marks of parts that pages share stand apart", () => {
  assert.deepEqual(frameOf(state).map(({ number }) => number), [1]);
});
