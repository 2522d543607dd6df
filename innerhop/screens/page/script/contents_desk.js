// The contents list on the desk: its kind, its entries, the ways back to it, and what it
// saves a reader. What it will be is shown in the sheet as it is being made.
import Alpine from "@alpinejs/csp";
import { post } from "../../frame/script/ask.js";
import { entriesSent, partsIn, scopesOf, shown } from "./contents_rows.js";

const WAYS = [
  { where: "", name: "As they are" },
  { where: "none", name: "None" },
  { where: "sections", name: "After each section" },
  { where: "screens", name: "Every few screens" },
];
const NEW = {
  kind: "nested", levels: [], rows: [], title: "", titleLevel: 0, room: false, at: null, side: "before", classes: "",
  look: "", scope: "page", ownOrder: false, where: "", words: "", toList: true, every: 2, places: [],
  instead: false,
};
const MOST_SHOWN = 120; // rows at once: a page of thousands would keep the browser busy

export function contentsDesk(parts) {
  return {
    about: null, // what could be listed, as the server says
    list: NEW, // the list as it is to be
    listBusy: false,
    listAll: false,
    picking: false, // the next part pointed at is where the list goes
    ordering: false,
    worth: null, // the row whose worth is drawn
    isListTouched: false,

    // number: of a list that is there; null for a new one.
    async startList(number = null) {
      Object.assign(this, { about: null, list: NEW, picking: false, ordering: false, listAll: false, isListTouched: false });
      this.choose("list", number, { scroll: number !== null });
      this.goOn();
      await this.readList();
    },
    async readList(pages = []) {
      this.listBusy = true;
      try {
        const found = await post(this.urls.listParts, { number: this.chosen.number, pages });
        if (this.chosen.kind !== "list") return;
        this.about = found;
        if (!pages.length) this.list = this.listFrom(found);
        else this.list = { ...this.list, rows: [...Alpine.raw(this.list.rows), ...this.otherRows(found)] };
        this.lookAtList();
      } catch (problem) {
        this.refuse(problem);
      } finally {
        this.listBusy = false;
      }
    },
    leaveList() {
      this.picking = false;
      this.showPreview(null);
    },
    get listThere() {
      return this.about?.lists.find(({ number }) => number === this.chosen.number) ?? null;
    },
    listFrom(found) {
      const there = found.lists.find(({ number }) => number === this.chosen.number) ?? null;
      const levels = there?.levels.length ? there.levels : found.usual;
      return {
        ...NEW, levels, rows: shown(found.rows), kind: there?.kind ?? "nested",
        title: there ? there.title : "", scope: there?.scope ?? "page", ownOrder: there?.ownOrder ?? false,
        look: found.looks[0]?.class ?? "", words: found.backWords,
        toList: !there || found.ways.some(({ to }) => to !== ""),
      };
    },
    otherRows({ others }) {
      const known = new Set(this.list.rows.map(({ page }) => page));
      return shown(others.filter(({ page }) => !known.has(page)));
    },
    get listTitle() {
      return this.listThere ? "Contents list" : "New contents list";
    },
    get listAbout() {
      const { listThere } = this;
      if (!listThere) return "It goes before the first section, unless you choose another place.";
      const by = listThere.made ? "It keeps its own settings." : "It was made by hand: saving takes it over and leaves its look as it is.";
      const { count } = listThere;
      return `${count} ${count === 1 ? "entry" : "entries"}. ${by}`;
    },
    get listKinds() {
      return (this.about?.listKinds ?? []).map((one) => ({ ...one, on: one.kind === this.list.kind ? "true" : "false" }));
    },
    get listLevels() {
      return (this.about?.kinds ?? []).map((one) => ({ ...one, on: this.list.levels.includes(one.kind) ? "true" : "false" }));
    },
    get listScopes() {
      return scopesOf(this.about?.possible ?? []).map((one) => ({ ...one, on: one.value === this.list.scope }));
    },
    get listRows() {
      const { scope, levels, rows } = this.list;
      const inside = scope === "page" || scope === "chosen" ? null : partsIn(Alpine.raw(this.about.possible), scope);
      return rows.filter(({ kind, page, link, part }) =>
        page !== null || link !== null || (levels.includes(kind) && (!inside || inside.has(part))));
    },
    // Of another stretch of the page: its parts of the highest level there.
    setScope() {
      const { scope } = this.list;
      const possible = Alpine.raw(this.about.possible);
      if (scope === "chosen") return this.turnAll(false);
      const inside = partsIn(possible, scope);
      const within = possible.filter(({ number }) => inside.has(number));
      const highest = Math.min(...within.map(({ level }) => level));
      const levels = scope === "page" ? this.about.usual : [...new Set(within.filter(({ level }) => level === highest).map(({ kind }) => kind))];
      for (const row of this.list.rows) if (row.page === null && row.part !== null) row.on = inside.has(row.part) && levels.includes(row.kind);
      this.setList({ levels });
    },
    get listShown() {
      return this.listAll ? this.listRows : this.listRows.slice(0, MOST_SHOWN);
    },
    get listChosen() {
      return this.listRows.filter(({ on }) => on);
    },
    get newIds() {
      return this.listChosen.filter(({ needsId }) => needsId).length;
    },
    get waysChoices() {
      return WAYS.map((one) => ({ ...one, on: one.where === this.list.where ? "true" : "false" }));
    },
    get waysThere() {
      const made = this.waysMade.length;
      if (!this.about?.ways.length) return "There are none yet.";
      return made === 1 ? "1 was made here." : `${made || "None"} of them were made here.`;
    },
    get waysMade() {
      return (this.about?.ways ?? []).filter(({ place }) => place !== "");
    },
    // The site's own: they stay, unless someone chooses to have them replaced.
    get waysOwn() {
      return (this.about?.ways ?? []).filter(({ place }) => place === "");
    },
    get waysOwnWords() {
      const words = [...new Set(this.waysOwn.map((one) => one.words || "a picture"))];
      const count = this.waysOwn.length;
      return `${count === 1 ? "1 link back up is" : `${count} links back up are`} the site’s own (“${words.slice(0, 3).join("”, “")}”${words.length > 3 ? " …" : ""}). Sections that end with one get no second.`;
    },
    get waysInstead() {
      return this.list.instead ? this.waysOwn.map(({ number }) => number) : [];
    },
    toggleInstead() {
      this.setList({ instead: !this.list.instead });
      return this.lookAtList();
    },
    get canReword() {
      return this.list.where === "" && (this.waysMade.length > 0 || this.list.instead);
    },
    usualPlace() {
      this.setList({ at: null });
    },
    setList(more) {
      this.isListTouched = true;
      this.list = { ...this.list, ...more };
      this.lookAtList();
    },
    setKind(kind) {
      this.setList({ kind });
    },
    toggleLevel(kind) {
      const on = this.list.levels.includes(kind);
      const levels = on ? this.list.levels.filter((one) => one !== kind) : [...this.list.levels, kind];
      for (const row of this.list.rows) if (row.kind === kind && row.page === null) row.on = !on;
      this.setList({ levels });
    },
    toggleWords(row) {
      row.rewords = !row.rewords;
      if (row.rewords) this.soon(() => document.getElementById(`list-words-${this.listRows.indexOf(row)}`)?.focus());
    },
    toggleRow(row) {
      row.on = !row.on;
      this.isListTouched = true;
      this.lookAtList();
    },
    turnAll(on) {
      for (const row of this.listRows) row.on = on;
      this.lookAtList();
    },
    turnOrdering() {
      this.ordering = !this.ordering;
    },
    moveRow(row, step) {
      const rows = [...this.list.rows];
      const shown = this.listRows;
      const other = shown[shown.indexOf(row) + step];
      if (!other) return;
      const [from, to] = [rows.indexOf(row), rows.indexOf(other)];
      rows.splice(from, 1);
      rows.splice(to, 0, row);
      this.setList({ rows, ownOrder: true });
    },
    inPageOrder() {
      const rows = [...this.list.rows].sort((one, other) => (one.part ?? Infinity) - (other.part ?? Infinity));
      this.setList({ rows, ownOrder: false });
    },
    addPage(row) {
      if (row.page !== this.state.page.id) this.readList([row.page]);
    },
    // Where it goes: the next part that is pointed at.
    pickPlace() {
      this.picking = true;
      this.tell("Point at the part before which the list is to stand.");
    },
    pickedPlace(number) {
      this.picking = false;
      this.tell("");
      this.setList({ at: number });
    },
    setWays(where) {
      this.list = { ...this.list, where };
      if (where === "screens") this.askBlocks();
      else this.lookAtList();
    },
    askBlocks() {
      parts.link.tell("blocksEvery", { screens: Number(this.list.every) || 2, view: this.screen.view });
    },
    takeBlocks(places) {
      if (this.chosen.kind === "list" && this.list.where === "screens") this.setList({ places });
    },
    toggleRoom() {
      this.setList({ room: !this.list.room });
    },
    setWaysEnd(toList) {
      this.setList({ toList });
    },
    get listSent() {
      const { kind, title, titleLevel, at, side, classes, look, scope, ownOrder, where, words, toList, places, room } = this.list;
      const chosen = Alpine.raw(this.listChosen).map((row) => Alpine.raw(row));
      const picked = scope === "chosen" || chosen.some(({ page }) => page !== null);
      return {
        there: this.chosen.number, kind, levels: this.list.levels.join(" "), scope: picked ? "chosen" : scope,
        own_order: ownOrder, title, title_level: Number(titleLevel), at, side, classes,
        look_class: kind === "buttons" ? look : "", entries: entriesSent(chosen), where, words, to_list: toList, places,
        instead: this.waysInstead, room,
      };
    },
    lookAtList() {
      if (!this.listChosen.length) {
        this.dropPlan();
        this.showPreview(null);
        return;
      }
      return this.lookAhead(this.urls.contents, this.listSent);
    },
    showPreview(preview) {
      parts.link.tell("preview", { preview });
    },
    get listVerb() {
      return this.listThere ? "Save the list" : "Make the list";
    },
    get listSums() {
      const entries = this.listChosen.length;
      const said = [`${entries} ${entries === 1 ? "entry" : "entries"}`];
      if (this.newIds) said.push(`${this.newIds} new ${this.newIds === 1 ? "ID" : "IDs"}`);
      const ways = this.plan.looked.spots.filter(({ parts: pieces }) => pieces.some(([what, words]) => what === "new" && words.includes("data-hop-back"))).length;
      if (ways) said.push(`${ways} ${ways === 1 ? "way" : "ways"} back`);
      return said.join(", ");
    },
    async saveList() {
      if (!this.planReady) return;
      await this.savePlan("");
    },
    lookAtRemoval() {
      const { number } = this.chosen;
      this.showPreview(null);
      return this.lookAhead(this.urls.removeList, { number, ways: this.about.ways.some(({ to }) => to !== "") });
    },
    get isRemoving() {
      return this.plan.url !== "" && this.plan.url === this.urls.removeList;
    },
    async updateLists(all) {
      await this.savedThen(this.urls.updateLists, { all }, "");
    },
    // Ways back one by one, and all together.
    async putWayBack() {
      const toList = this.raw.lists.some(({ id }) => id);
      await this.savedThen(this.urls.waysBack, { where: "places", places: [this.chosen.number], to_list: toList }, this.markHere?.value ?? "");
    },
    async rewordWays() {
      const toList = this.about.ways.some(({ to }) => to !== "");
      await this.savedThen(this.urls.rewordWays, { words: this.list.words, to_list: toList, instead: this.waysInstead }, "");
    },
    // The list that an element of the page is in.
    listOf(number) {
      return Alpine.raw(this.state.lists).find((one) => number >= one.number && number <= one.last) ?? null;
    },
    get listHere() {
      return this.chosen.number !== null && (this.isPlace || this.hopStartsHere) ? this.listOf(this.chosen.number) : null;
    },
    get listsOff() {
      return this.state.lists.filter(({ says }) => says.length).length;
    },
    // Whether a list would help readers of this page, and why.
    get worthAList() {
      const { sections, lists, listHelps } = this.state;
      if (lists.length || sections.length < listHelps.sections || !this.measuredRound) return "";
      const screens = parts.measured.height / parts.measured.view;
      return screens < listHelps.screens ? "" : `A list would help here: ${sections.length} sections on ${this.screensOf(screens)} screens, and none yet.`;
    },
    listWords({ title, kind, links }) {
      const name = kind === "points" ? "Points at the side" : title ? `“${title}”` : "Contents list";
      return `${name}, ${links.length} entries`;
    },
    get waysWords() {
      const { ways } = this.state;
      if (!ways.length) return "";
      return ways.length === 1 ? "1 way back up" : `${ways.length} ways back up`;
    },

    // What it saves: how far a reader scrolls to a section, with the list and without.
    get worthRows() {
      if (!this.measuredRound || !this.about) return [];
      const { tops, view } = parts.measured;
      const listAt = this.listTop(tops) / view;
      return this.listChosen
        .filter(({ part, page }) => page === null && part !== null && tops[part] !== undefined)
        .map(({ part, title }) => ({ part, title, without: tops[part] / view, with: Math.min(listAt, tops[part] / view) }));
    },
    // Where the list stands, or will: before the first section, or in the one pointed at.
    listTop(tops) {
      if (this.listThere) return tops[this.listThere.number] ?? 0;
      const { at } = this.list;
      const before = Alpine.raw(this.about.possible).filter(({ number }) => number <= at);
      return tops[at ?? this.about.possible[0]?.number] ?? tops[before.at(-1)?.number] ?? 0;
    },
    get worthShown() {
      const rows = this.worthRows;
      return rows.find(({ part }) => part === this.worth) ?? rows.at(-1) ?? null;
    },
    worthOf(row) {
      this.worth = row.part;
      this.over(row.page === null ? row.part : null);
    },
    // How long the lines are that stand for the scrolling, in pixels.
    get worthNear() {
      const { worthShown } = this;
      const part = worthShown ? worthShown.with / Math.max(worthShown.without, 0.1) : 0;
      return { width: `${Math.max(6, Math.round(110 * part))}px` };
    },
    screensOf(count) {
      return count < 9.95 ? count.toFixed(1) : String(Math.round(count));
    },
  };
}
