// The page has changed under somebody's hands: what was chosen, and what is half done, is
// found again by what it is, since other parts may have its numbers now. What isn't there
// any more is chosen no longer, and what was typed for it is said.

import { stop } from "./machine.js";

const OF_MARKS = new Set(["rename", "away", "move"]); // what is done with an ID that is there

// The numbers of this page's elements in what is under way.
export function numbersIn({ chosen, fields, id, manyRows, drafts, pageId }) {
  const { moving, newLink, end } = fields;
  const own = [chosen.number, id.number, moving?.to, newLink?.number, end?.page === pageId ? end.number : null];
  const kept = [...drafts.values()].flatMap(({ machine, id: typed }) => [machine?.chosen.number, typed.number]);
  const all = [...own, ...kept, ...manyRows.map(({ number }) => number)];
  return [...new Set(all.filter((number) => Number.isInteger(number)))];
}

// The same activity with the numbers of now. to: the number of now, null for what went.
export function carried(machine, to, pageId) {
  const { chosen, fields, about } = machine;
  const number = chosen.number === null ? null : to(chosen.number);
  const key = chosen.key === null ? null : chosen.key.replace(new RegExp(`^${pageId}-\\d+$`), `${pageId}-${number}`);
  const moved = { ...fields };
  if (moved.moving) moved.moving = { ...moved.moving, to: to(moved.moving.to) };
  if (moved.newLink) moved.newLink = { ...moved.newLink, number: to(moved.newLink.number) };
  if (moved.end?.page === pageId && Number.isInteger(moved.end.number)) {
    const there = to(moved.end.number);
    moved.end = there === null && !moved.end.id ? null : { ...moved.end, number: there };
  }
  return { ...machine, chosen: { ...chosen, number, key }, about: { ...about, trail: [], inner: null }, fields: moved };
}

// now: the numbers of now by those of before, as the server tells them.
export function foundAgain(parts) {
  return {
    get atStake() {
      const { machine, id, manyRows } = this;
      return numbersIn({ chosen: machine.chosen, fields: machine.fields, id, manyRows, drafts: parts.drafts, pageId: this.state.page.id });
    },
    findAgain(now) {
      const to = (number) => (Number.isInteger(number) ? (now[number] ?? null) : null);
      const pageId = this.state.page.id;
      const isElsewhere = this.chosen.kind === "hop" && !this.chosen.key?.startsWith(`${pageId}-`);
      this.manyRows = this.manyRows.map((row) => ({ ...row, number: to(row.number) })).filter(({ number }) => number !== null);
      this.carryDrafts(to, pageId);
      if (this.chosen.number === null || isElsewhere) return "";
      const typed = this.isHalfDone ? this.id.typed : "";
      if (to(this.chosen.number) === null) return this.forgotten(typed);
      this.machine = carried(this.machine, to, pageId);
      this.id = { ...this.id, number: this.id.number === null ? null : this.chosen.number };
      this.keepInAddress();
      this.showChosen(false);
      if (!OF_MARKS.has(this.machine.doing) || this.markHere) return "";
      this.machine = stop(this.machine);
      return `The ID that this part had was taken away meanwhile.${typed ? ` You had typed “${typed}”.` : ""}`;
    },
    carryDrafts(to, pageId) {
      const before = [...parts.drafts];
      parts.drafts.clear();
      for (const [key, { machine, id }] of before) {
        const chosen = machine?.chosen ?? { kind: key.split(" ")[0], number: id.number, key: null };
        const number = to(chosen.number);
        if (number === null) continue;
        const now = machine && carried(machine, to, pageId);
        parts.drafts.set(this.draftKey(now?.chosen ?? { ...chosen, number }), { machine: now, id: { ...id, number } });
      }
    },
    forgotten(typed) {
      this.chooseQuietly("none", null);
      return `What you had chosen was changed or taken out meanwhile. Choose it again${typed ? `; you had typed “${typed}”` : ""}.`;
    },
  };
}
