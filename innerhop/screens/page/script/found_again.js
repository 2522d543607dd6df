// The page has changed under somebody's hands: what was chosen, and what is half done, is
// found again by what it is, since other parts may have its numbers now. What isn't there
// any more is chosen no longer, and what was typed for it is said.

import { post } from "../../frame/script/ask.js";
import { stop } from "./machine.js";

const OF_MARKS = new Set(["rename", "away", "move"]); // what is done with an ID that is there

// The numbers of this page's elements in what is under way.
export function numbersIn({ machine, id, manyRows, list, drafts, pageId }) {
  const { moving, newLink, end } = machine.fields;
  const { words } = machine.about;
  const own = [
    machine.chosen.number, id.number, moving?.to, newLink?.number, end?.page === pageId ? end.number : null,
    words?.start.number, words?.end.number, list.at, ...list.places,
    ...list.rows.flatMap(({ page, part, link }) => [page === null ? part : null, link]),
  ];
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

// The list as it is to be, with the numbers of now; parts that went are entries no more.
export function carriedList(list, to) {
  const rows = list.rows.filter(({ page, part }) => page !== null || part === null || to(part) !== null);
  return {
    ...list, at: to(list.at), places: list.places.map(to).filter((number) => number !== null),
    rows: rows.map((row) => ({ ...row, part: row.page === null ? to(row.part) : row.part, link: to(row.link) })),
  };
}

// now: the numbers of now by those of before, as the server tells them.
export function foundAgain(parts) {
  return {
    get atStake() {
      const { machine, id, manyRows } = this;
      const { list } = this;
      return numbersIn({ machine, id, manyRows, list, drafts: parts.drafts, pageId: this.state.page.id });
    },
    // Returns what is to be said where something went; "" where all was found.
    async findAgain(now) {
      const to = (number) => (Number.isInteger(number) ? (now[number] ?? null) : null);
      const pageId = this.state.page.id;
      const isElsewhere = this.chosen.kind === "hop" && !this.chosen.key?.startsWith(`${pageId}-`);
      this.manyRows = this.manyRows.map((row) => ({ ...row, number: to(row.number) })).filter(({ number }) => number !== null);
      this.carryDrafts(to, pageId);
      if (this.chosen.kind === "words") return this.findWordsAgain(to);
      if (this.chosen.kind === "list") await this.findListAgain(to);
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
    // The same words, if they still stand where they did.
    async findWordsAgain(to) {
      const { words } = this;
      const [start, end] = [words.start, words.end].map((point) => ({ ...point, number: to(point.number) }));
      if (start.number !== null && end.number !== null) {
        this.words = { ...words, start, end };
        await this.checkWords();
        if (this.wordsFit && this.words.text === words.text) return "";
      }
      this.chooseQuietly("none", null);
      return `The words “${words.text}” were changed or taken out meanwhile. Select them again.`;
    },
    async findListAgain(to) {
      this.list = carriedList(this.list, to);
      this.about = await post(this.urls.listParts, { number: this.chosen.number, pages: [] });
      this.lookAtList();
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
