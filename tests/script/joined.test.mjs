// Parts of a screen joined into one object: nothing of one hides what another has.
import assert from "node:assert/strict";
import { test } from "node:test";

import { joined } from "../../innerhop/screens/frame/script/joined.js";

test("getters stay getters, and see the whole", () => {
  const whole = joined({ count: 2 }, { get twice() { return this.count * 2; } });
  whole.count = 4;
  assert.equal(whole.twice, 8);
});

test("a name that two parts have is refused", () => {
  assert.throws(() => joined({ isLong: true }, { get isLong() { return false; } }), /Named twice: isLong/);
});
