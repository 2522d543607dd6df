// The page screen's state: every activity with everything that can be chosen.
import assert from "node:assert/strict";
import { test } from "node:test";
import { begin, choose, chooseWords, get, members, NOTHING, set, START, stop } from "../../innerhop/screens/page/script/machine.js";

const KINDS = ["none", "section", "place", "hop", "many"];
const ALLOWED = {
  rename: ["section", "place"], away: ["section", "place"], move: ["section", "place"],
  heading: ["section", "place"], level: ["section", "place"], hop: ["section", "place", "hop"],
  movePage: ["none"], convert: ["none"],
};

for (const kind of KINDS) {
  for (const [doing, allowed] of Object.entries(ALLOWED)) {
    test(`${doing} with ${kind}`, () => {
      const at = choose(START, kind, { number: 7 });
      const after = begin(at, doing);
      assert.equal(after.doing, allowed.includes(kind) ? doing : "look");
      assert.equal(stop(after).doing, "look");
      assert.deepEqual(stop(after).chosen, at.chosen);
      const other = choose(after, "section", { number: 9 });
      assert.deepEqual([other.doing, other.fields, other.chosen.number], ["look", {}, 9]);
    });
  }
}

test("what is typed for an activity ends with it", () => {
  let at = begin(choose(START, "section", { number: 3 }), "hop", { making: "beside" });
  at = set(set(at, "form", "path"), "newTab", true);
  assert.equal(get(at, "form"), "path");
  at = begin(stop(at), "hop", { making: "part" });
  assert.deepEqual([get(at, "form"), get(at, "newTab"), get(at, "making")], ["", false, "part"]);
});

test("a late answer for what is over changes nothing", () => {
  const at = stop(begin(choose(START, "place", { number: 3 }), "away"));
  assert.equal(set(at, "awayEnd", { id: "x" }), at);
  assert.equal(get(at, "awayEnd"), null);
});

test("stepping keeps the line that was pointed at, choosing anew does not", () => {
  const at = set(set(choose(START, "place", { number: 5 }), "trail", [{ number: 5 }, { number: 2 }]), "wordsLink", "x");
  const stepped = choose(at, "place", { number: 2, stepping: true });
  assert.equal(get(stepped, "trail").length, 2);
  assert.equal(get(stepped, "wordsLink"), "");
  assert.deepEqual(get(choose(at, "place", { number: 2 }), "trail"), []);
});

test("words are chosen with a hop begun, and keep an end that was chosen before", () => {
  const first = set(chooseWords(START, { text: "one" }), "end", { id: "fees" });
  const second = chooseWords(first, { text: "two" });
  assert.deepEqual([second.chosen.kind, second.doing, get(second, "making")], ["words", "hop", "words"]);
  assert.deepEqual([get(second, "end"), get(second, "words").text], [{ id: "fees" }, "two"]);
  const none = choose(second, "none");
  assert.deepEqual([none.chosen, get(none, "words"), get(none, "end")], [NOTHING, null, null]);
});

test("as members of a screen", () => {
  const screen = Object.defineProperties({ machine: begin(choose(START, "hop", { number: 1, key: "2-1" }), "hop") }, Object.getOwnPropertyDescriptors(members()));
  screen.endId = "fees";
  assert.equal(screen.machine.fields.endId, "fees");
  screen.machine = stop(screen.machine);
  assert.equal(screen.endId, "");
});
