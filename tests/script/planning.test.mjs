// What was looked at before it is saved, without a browser.
import assert from "node:assert/strict";
import test from "node:test";

// The server's answers, in the order in which they are given.
const waiting = [];
globalThis.document = { body: { dataset: { csrf: "" }, toggleAttribute: () => true }, querySelector: () => null };
globalThis.window = { dispatchEvent: () => true };
globalThis.CustomEvent = class {};
globalThis.fetch = () => new Promise((done) => waiting.push((found) => done({
  ok: true, status: 200, redirected: false,
  headers: { get: () => "application/json" },
  json: async () => found,
  text: async () => JSON.stringify(found),
})));
const { planning } = await import("../../innerhop/screens/page/script/planning.js");

function desk() {
  const one = Object.create({}, Object.getOwnPropertyDescriptors(planning()));
  return Object.assign(one, { state: { revision: 1 }, chosen: { kind: "" }, refuse: (problem) => { throw problem; } });
}
const LOOKED = { message: "", forms: [], notes: [], spots: [], pages: 1, stamp: "s" };

test("what was looked at can be saved, until something else is asked for", async () => {
  const one = desk();
  const looking = one.lookAhead("/act/", { id: "a" });
  assert.equal(one.planReady, false);
  waiting.shift()(LOOKED);
  await looking;
  assert.equal(one.planReady, true);
  one.holdPlan(); // typed on, or another end chosen
  assert.equal(one.planReady, false);
  assert.deepEqual(one.plan.looked, LOOKED, "it is seen on");
});

test("an answer to what was asked before doesn't make it ready", async () => {
  const one = desk();
  const looking = one.lookAhead("/act/", { id: "a" });
  one.holdPlan();
  waiting.shift()(LOOKED);
  await looking;
  assert.equal(one.planReady, false);
});
