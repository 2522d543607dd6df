// A list of ends: what stands in parts that pages share waits in one row at its foot.
import assert from "node:assert/strict";
import { test } from "node:test";

import { finder, folded } from "../../innerhop/screens/frame/script/finder.js";

const row = (id, shared = false) => ({ kind: "mark", id, shared });

test("marks of parts that pages share are folded, however they lie", () => {
  const found = folded([row("bar", true), row("locks"), row("phone", true)]);
  assert.deepEqual(found.map(({ kind, id }) => [kind, id]), [["mark", "locks"], ["fold", ""]]);
  assert.equal(found[1].title, "Show 2 marks in parts that pages share");
  assert.deepEqual(folded([row("locks")]), [row("locks")]);
});

test("taking the row opens it, and chooses nothing", () => {
  const list = Object.assign(finder(), { $root: { dataset: {} }, $refs: {}, $dispatch: () => assert.fail("chosen") });
  list.found = folded([row("locks"), row("phone", true)]);
  list.take(1);
  assert.deepEqual(list.found.map(({ id }) => id), ["locks", "phone"]);
});
