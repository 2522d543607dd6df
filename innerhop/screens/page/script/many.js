// Marking many sections at once: by heading level or one by one, with every ID there to be
// changed, saved as one change.
import Alpine from "@alpinejs/csp";
import { post } from "../../frame/script/ask.js";
import { intoField } from "../../frame/script/suggested.js";

const MOST_SHOWN = 120; // fields at once: a page of thousands would keep the browser busy

export function many() {
  return {
    manyRows: [], // { n, level, title, id, message, fix, valid, on }
    manyAll: false,
    manyRound: 0,
    manyBusy: false,

    startMany() {
      this.listMany();
      const levels = this.manyRows.map(({ level }) => level);
      return this.takeLevel(Math.min(...(levels.some(Boolean) ? levels.filter(Boolean) : levels)));
    },
    // Every section without a mark, none of them taken.
    listMany() {
      this.choose("many", null);
      const unmarked = Alpine.raw(this.state.sections).filter(({ mark }) => !mark);
      this.manyRows = unmarked.map(({ number, level, title, depth }) => ({
        number, level, what: this.state.serving[level]?.[0] ?? `level ${level}`, title: title || "A heading without words", depth, id: "", message: "", fix: "", valid: true, on: false, own: false,
      }));
    },
    // What is chosen and typed, as far as a reload of the same text may take it up again.
    get manyKept() {
      if (this.chosen.kind !== "many") return null;
      const rows = this.manyRows.flatMap(({ number, on, own, id }) => (on || own ? [[number, on, own ? id : null]] : []));
      return JSON.stringify({ revision: this.state.revision, rows });
    },
    // Whether there was something to take up.
    takeMany(kept) {
      const { revision, rows } = JSON.parse(kept ?? "{}");
      if (revision !== this.state.revision) return false;
      this.listMany();
      const known = new Map(rows.map(([number, on, id]) => [number, { on, own: id !== null, id: id ?? "" }]));
      for (const row of this.manyRows) Object.assign(row, known.get(row.number));
      this.readMany();
      return true;
    },
    get manyShown() {
      return this.manyAll ? this.manyRows : this.manyRows.slice(0, MOST_SHOWN);
    },
    get manyLevels() {
      const levels = [...new Set(this.manyRows.map(({ level }) => level))].sort();
      return levels.map((level) => {
        const rows = this.manyRows.filter((row) => row.level === level);
        return { level, name: this.state.serving[level]?.[1] ?? `of level ${level}`, count: rows.length, on: rows.every(({ on }) => on) ? "true" : "false" };
      });
    },
    takeLevel(level) {
      const rows = this.manyRows.filter((row) => row.level === level);
      const on = !rows.every((row) => row.on);
      for (const row of rows) row.on = on;
      return this.readMany();
    },
    takeOne(row) {
      row.on = !row.on;
      return this.readMany();
    },
    get manyChosen() {
      return this.manyRows.filter(({ on }) => on);
    },
    get manyReady() {
      return this.manyChosen.length > 0 && this.manyChosen.every(({ valid, id }) => valid && id) && !this.manyBusy;
    },
    get manyVerb() {
      const count = this.manyChosen.length;
      return count === 1 ? "Mark 1 section" : `Mark ${count} sections`;
    },
    ownIt(row) {
      row.own = true; // at once, so that an answer under way does not write over it
    },
    fixMany(row) {
      Object.assign(row, { id: row.fix, own: true });
      return this.readMany();
    },
    // What was typed is checked beside all the others; the rest is suggested.
    async readMany() {
      this.manyRound += 1;
      const round = this.manyRound;
      const rows = this.manyChosen;
      if (!rows.length) return;
      const marks = rows.map(({ number, id, own }) => ({ number: number, id: own ? id : null }));
      try {
        const { found } = await post(this.urls.checkMany, { marks });
        if (round !== this.manyRound) return;
        rows.forEach((row, at) => {
          const { id, ...more } = found[at];
          Object.assign(row, more);
          // The hash stands in front of the field: a typed one is taken off.
          if (row.own && !row.id.trim().startsWith("#")) return;
          if (!row.own && row.id !== id) intoField([`id-of-${row.number}`], id);
          row.id = id;
        });
      } catch (problem) {
        this.refuse(problem);
      }
    },
    async saveMany() {
      if (!this.manyReady) return;
      this.manyBusy = true;
      try {
        const marks = this.manyChosen.map(({ number, id }) => ({ number: number, id: id.trim() }));
        const done = await post(this.urls.mark, { marks, revision: this.state.revision });
        this.chooseNothing();
        this.takeDone(done);
        this.goOn();
      } catch (problem) {
        this.refuse(problem);
      } finally {
        this.manyBusy = false;
      }
    },
  };
}
