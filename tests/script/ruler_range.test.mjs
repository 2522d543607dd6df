// Which part of a long page the ruler draws, and what of the page stands in it.
import assert from "node:assert/strict";
import { test } from "node:test";

import { rangeAround, within } from "../../innerhop/screens/page/script/ruler_range.js";

const page = { height: 80000, screen: 800 };

for (const [at, from] of [[40000, 35200], [0, 0], [100, 0], [79999, 70400]]) {
  test(`twelve screens around ${at} begin at ${from}`, () => {
    assert.deepEqual(rangeAround(at, page), { from, to: from + 9600 });
  });
}

test("a short page is drawn whole", () => {
  assert.deepEqual(rangeAround(100, { height: 2000, screen: 800 }), { from: 0, to: 2000 });
});

test("hops are drawn where one end is, and what is elsewhere is not", () => {
  const hop = (number, end, to = 1) => ({ number, end, to: { id: to } });
  const model = {
    pageId: 1,
    tops: { 1: 100, 2: 5000, 3: 9000 },
    hops: [hop(1, 3), hop(2, 2), hop(3, 2), hop(3, 3), hop(3, 2, 7)],
    into: [hop(90, 2), hop(91, 3), hop(92, null)],
    lists: [], marks: [{ number: 2 }, { number: 3 }], others: [{ number: 9 }],
  };
  const drawn = within({ from: 4000, to: 6000 }, model);
  assert.deepEqual(drawn.hops.map(({ number, end }) => [number, end]), [[2, 2], [3, 2]]);
  assert.deepEqual(drawn.into.map(({ number }) => number), [90]);
  assert.deepEqual([drawn.marks.length, drawn.others.length], [1, 0]);
  const top = within({ from: 0, to: 4000 }, model);
  assert.deepEqual(top.into.map(({ number }) => number), [92]);
});
