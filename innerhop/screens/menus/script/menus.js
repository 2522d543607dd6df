// The menus screen: a menu in order, what its items do on each page, and the chosen item.
// What is done is saved at once, as one change on all pages that have the menu.
import { get, post, Told } from "../../frame/script/ask.js";
import { dragging } from "./dragging.js";
import { keepHere, keptHere } from "../../frame/script/kept_here.js";
import { hiddenSheet } from "../../frame/script/hidden_sheet.js";
import * as tree from "./tree.js";

const FORM_NAMES = { hash: "Bare hash", path: "From the site’s root", relative: "From the page", absolute: "Whole address" };
const WRONG = new Set(["nothing", "lost", "gone"]);
const PHONE = 390; // px
const LITTLE = 160; // px of the desk: its title and the first field
const KEYS = { ArrowUp: "up", ArrowDown: "down", ArrowRight: "under", ArrowLeft: "out" };
const NO_PLAN = { href: "", forms: [], notes: [], spots: [], pages: 0, trouble: "" };

const NOTHING = { plan: null, key: "", items: [], stations: [], unlike: [], notes: [], saysCurrent: { pages: 0, said: 0 }, urls: {}, pages: 0 };
const read = (id, otherwise) => JSON.parse(document.getElementById(id)?.textContent ?? JSON.stringify(otherwise));

const isSame = (one, other) => JSON.stringify(one) === JSON.stringify(other);

export function menus() {
  // What the screen's element is: an item's own may be gone when an answer comes.
  const parts = { root: null, stopper: null, round: 0, waiting: 0, touched: 0 };
  return {
    ...dragging(parts),
    state: read("menu-state", NOTHING),
    meanings: read("menu-meanings", {}),
    planName: "",
    rows: [],
    chosen: null, // the place of the chosen item
    adding: false,
    label: "",
    end: null,
    form: "",
    searching: false,
    plan: NO_PLAN,
    openAt: null, // the station whose pages are named
    message: "",
    trouble: "",
    signedOut: false,
    change: null, // the last one made here
    busy: false,
    done: 0,
    total: 0,
    wide: {}, // items whose words need more than one line on a phone

    init() {
      parts.root = this.$root;
      this.take(this.state);
      this.chooseKept(keptHere("item"));
      this.$watch("chosen", () => keepHere("item", this.itemKept));
      window.addEventListener("beforeunload", (event) => {
        if (this.isHalfDone) event.preventDefault();
      });
    },
    take(state) {
      this.state = state;
      this.rows = state.items.map((item, key) => ({ ...item, key, item: key }));
      this.measure();
    },

    // The screen's lines.
    get whereLine() {
      if (this.isPlan) return "A plan of a menu that lives in another system. What you do here changes no page.";
      const { where, pages, unlikeCount } = this.state;
      const same = unlikeCount ? `different on ${unlikeCount} of them` : pages > 1 ? "the same on all of them" : "";
      return `Found in ${where} of ${pages} page${pages === 1 ? "" : "s"}${same ? `, ${same}` : ""}`;
    },
    get legend() {
      const seen = new Set(this.state.items.flatMap((_, at) => this.state.stations.map((one) => one.states[at])));
      return Object.entries(this.meanings).filter(([state]) => seen.has(state)).map(([state, says]) => ({ state, says, wrong: WRONG.has(state) }));
    },
    stateOf(item, place) {
      return item.item === null ? "" : this.state.stations[place].states[item.item];
    },
    meaning(item, place) {
      return this.meanings[this.stateOf(item, place)] ?? "";
    },
    indent(item) {
      return { paddingLeft: `${item.depth * 26}px` };
    },
    kindOf(item) {
      return item.kind === "button" ? "a button" : "words, no link";
    },
    endLine(item) {
      if (item.wrong) return item.wrong === this.state.pages ? "leads nowhere" : `nothing on ${item.wrong} of ${this.state.pages} pages`;
      if (!item.end) return "";
      if (!item.end.page) return "another site";
      return item.end.id ? item.end.pageTitle : `${item.end.pageTitle} · top`;
    },
    // Where few stations leave room: the page that an item leads to, with the place on it.
    leadsTitle({ end }) {
      if (!end) return "";
      if (!end.page) return "Another site";
      return end.id ? end.title : end.pageTitle;
    },
    leadsAddress({ end }) {
      if (!end?.page) return end?.outside ?? "";
      return end.id ? `${end.path}#${end.id}` : end.path;
    },
    stripSections({ end }) {
      return end.strip.tops.map((top) => `M${top * 100} 0V10`).join("");
    },
    stripPlace({ end }) {
      return `M${Math.min(99, Math.max(1, end.strip.at * 100))} 0V10`;
    },

    // Plans of menus that live elsewhere.
    get isPlan() {
      return this.state.plan !== null;
    },
    newPlan(isLikeThis) {
      const items = isLikeThis ? this.rows.filter(({ end }) => end).map((row) => this.planRow(row)) : [];
      const revision = Number(parts.root.dataset.revision);
      // The newest plan is the last of the tabs.
      return this.leaveFor("?menu=newest", parts.root.dataset.newPlan, { name: this.planName, items, revision });
    },
    // Done, and on to another menu: this one is not the one that is looked at afterwards.
    async leaveFor(address, url, sent) {
      try {
        await post(url, sent, { bare: true });
        window.location.assign(address);
      } catch (problem) {
        this.refuse(problem);
      }
    },
    dropPlan() {
      const { plan, revision, urls } = this.state;
      return this.leaveFor("?", urls.dropPlan, { plan, revision });
    },
    planRow({ label, depth, end }) {
      return { label, depth, end: this.sentEnd(end) };
    },
    get planSent() {
      const rows = this.rows.map((row) => this.planRow(row));
      const own = { label: this.label.trim(), end: this.end && this.sentEnd(this.end) };
      if (this.adding) return [...rows, { depth: 0, ...own }];
      if (this.chosen !== null) Object.assign(rows[this.chosen], own);
      return rows;
    },

    // Stations.
    isOpenStation(at) {
      return this.openAt === at ? "true" : "false";
    },
    openStation(at) {
      this.openAt = this.openAt === at ? null : at;
    },
    get opened() {
      return this.openAt === null ? null : this.state.stations[this.openAt];
    },
    get stationTitle() {
      return this.opened?.name ?? "";
    },
    get stationPages() {
      return this.opened?.pages ?? [];
    },
    get stationMore() {
      const left = this.opened ? this.opened.count - this.opened.pages.length : 0;
      return left ? `and ${left} more` : "";
    },
    get unlikeTitle() {
      const { unlikeCount } = this.state;
      return `On ${unlikeCount} page${unlikeCount === 1 ? " this menu is" : "s this menu is"} different`;
    },
    get itemsCount() {
      const { length } = this.state.items;
      return `${length} ${length === 1 ? "item" : "items"}`;
    },
    get currentLine() {
      const { pages, said } = this.state.saysCurrent;
      if (pages <= said) return "";
      return `${pages} of these pages ${pages === 1 ? "is" : "are"} an item’s own, and ${said || "none"} of them say${said === 1 ? "s" : ""} so to screen readers (aria-current).`;
    },

    // The chosen item.
    isChosen(at) {
      return this.chosen === at && !this.adding;
    },
    choose(at) {
      if (this.dragged) return;
      this.chosen = at;
      this.adding = false;
      this.reset();
      this.$nextTick(() => this.showDesk());
    },
    // In a narrow window the desk stands below the menu.
    showDesk() {
      const desk = parts.root.querySelector("aside");
      if (desk.getBoundingClientRect().top > window.innerHeight - LITTLE) desk.scrollIntoView();
    },
    get itemKept() {
      return this.item && { at: this.chosen, label: this.item.label, href: this.item.href };
    },
    chooseKept(kept) {
      const { label, href } = this.rows[kept?.at] ?? {};
      if (kept && this.chosen === null && label === kept.label && href === kept.href) this.choose(kept.at);
    },
    get item() {
      return this.chosen === null ? null : this.rows[this.chosen];
    },
    get isButton() {
      return !this.adding && this.item?.kind === "button";
    },
    reset() {
      const { item } = this;
      this.label = this.adding ? "" : item?.label ?? "";
      this.end = this.adding ? null : item?.end ?? null;
      this.form = "";
      this.searching = false;
      this.plan = NO_PLAN;
      // What is wrong is written anew at once, to be seen before it is saved.
      if (!this.adding && item?.wrong && item.end?.page && item.end.arrives !== false) this.look();
    },
    get deskTitle() {
      return this.adding ? "A new item" : this.item?.label || "An item without words";
    },
    get deskPlace() {
      if (this.isPlan) return this.adding ? "At the end of the plan" : `Item ${this.chosen + 1} of ${this.rows.length}`;
      const where = `in ${this.state.where} of ${this.state.pages === 1 ? "one page" : `all ${this.state.pages} pages`}`;
      return this.adding ? `At the end of the menu ${where}` : `Item ${this.chosen + 1} of ${this.rows.length} · ${where}`;
    },
    get says() {
      return this.adding ? "" : this.item?.says ?? "";
    },
    get worksLine() {
      const { wrong } = this.item ?? {};
      return wrong ? `Works on ${this.state.pages - wrong} of ${this.state.pages} pages.` : "";
    },
    get notes() {
      return this.adding ? [] : this.item?.notes ?? [];
    },
    get tooWide() {
      return this.adding || this.isEdited || !this.wide[this.item?.key] ? "" : `On a phone (${PHONE} px) these words need ${this.wide[this.item.key]} lines.`;
    },
    get endTitle() {
      return this.end?.title ?? "";
    },
    get endWhere() {
      if (!this.end) return "";
      return this.end.page ? this.end.pageTitle : "another site";
    },
    // A section's own words, for an item that says something else.
    get sectionWords() {
      const { end } = this;
      if (!end?.id || !end.title || end.title === this.label.trim()) return "";
      return `Use the section’s words: ${end.title}`;
    },
    takeSectionWords() {
      this.label = this.end.title;
      this.edited();
    },
    get isEdited() {
      if (!this.item) return false;
      return this.label !== this.item.label || !isSame(this.end, this.item.end) || this.form !== "";
    },
    // Whether something typed, or chosen for an item, is not saved yet.
    get isHalfDone() {
      return !this.busy && (this.adding ? this.label.trim() !== "" || this.end !== null : this.isEdited);
    },
    get leadsElsewhere() {
      return this.adding || !isSame(this.end, this.item?.end) || this.form !== "" || Boolean(this.item?.wrong && this.plan.pages);
    },
    get ready() {
      if (this.adding) return this.label.trim() !== "" && this.end !== null;
      return this.plan.pages > 0 && !this.plan.trouble;
    },
    get verb() {
      const pages = this.plan.pages || this.state.pages;
      const where = pages === 1 ? "on 1 page" : `on ${pages} pages`;
      if (this.isPlan) return this.adding ? "Put it in the plan" : "Save";
      if (this.adding) return `Put it in ${where}`;
      return this.item?.wrong && this.label === this.item.label ? `Write it so ${where}` : `Save ${where}`;
    },
    get writtenTitle() {
      return this.item?.wrong && this.plan.pages ? `Written so that it works on all ${this.state.pages}` : "How it is written";
    },
    // The new address, with what is new in front of it told apart.
    get href() {
      return this.plan.href || (this.adding ? "" : this.item?.href ?? "");
    },
    get hrefNew() {
      const old = this.adding ? "" : this.item?.href ?? "";
      return old && this.href !== old && this.href.endsWith(old) ? this.href.slice(0, -old.length) : "";
    },
    get hrefSame() {
      return this.href.slice(this.hrefNew.length);
    },
    get forms() {
      return this.plan.forms.filter((one) => one.href);
    },
    formName(one) {
      return FORM_NAMES[one.form];
    },
    isForm(one) {
      return one.href === this.href;
    },
    takeForm(one) {
      this.form = one.form;
      this.look();
    },
    get planNotes() {
      return this.plan.trouble ? [this.plan.trouble] : this.plan.notes;
    },
    get spots() {
      return this.plan.spots;
    },
    spotPlace({ page, line }) {
      return `${page}, line ${line}`;
    },
    search() {
      this.searching = true;
      this.$nextTick(() => document.getElementById("end-asked").focus());
    },
    async takeEnd(one) {
      const end = { ...one, title: one.kind === "page" ? "Its top" : one.title, mark: one.kind === "section" && !one.id };
      try {
        if (end.mark) {
          const url = this.state.urls.checkId.replace(`/${this.state.page}/`, `/${one.page}/`);
          end.id = (await post(url, { number: one.number, typed: null })).id;
        }
      } catch (problem) {
        return this.refuse(problem);
      }
      this.end = end;
      this.form = "";
      this.searching = false;
      if (this.adding && !this.label.trim()) this.label = one.kind === "page" ? one.pageTitle : one.title;
      this.$nextTick(() => document.getElementById("another-end").focus());
      return this.look();
    },
    edited() {
      parts.touched += 1;
      clearTimeout(parts.waiting);
      parts.waiting = setTimeout(() => this.look(), 250);
    },
    cancel() {
      if (this.adding) {
        this.adding = false;
        this.chosen = null;
      }
      this.reset();
    },
    startNew() {
      this.adding = true;
      this.reset();
      this.$nextTick(() => document.getElementById("item-words").focus());
    },

    // What is sent.
    sentEnd(end) {
      if (!end.page) return { outside: end.outside ?? end.title };
      return { page: end.page, id: end.id, number: end.number ?? null, mark: Boolean(end.mark), directive: end.directive ?? "" };
    },
    sentRow(row) {
      return { item: row.item, depth: row.depth };
    },
    get sentItems() {
      const rows = this.rows.map((row) => this.sentRow(row));
      const own = { label: this.label, ...(this.leadsElsewhere && this.end ? { end: this.sentEnd(this.end), form: this.form } : {}) };
      if (this.adding) return [...rows, { item: null, depth: 0, ...own }];
      if (this.chosen !== null) Object.assign(rows[this.chosen], this.label === this.item.label ? { ...own, label: null } : own);
      return rows;
    },
    // Where the item is led is not known before it was looked at once.
    get lookedItems() {
      const rows = this.sentItems;
      if (!this.adding && this.item?.wrong && this.end) Object.assign(rows[this.chosen], { end: this.sentEnd(this.end), form: this.form });
      return rows;
    },
    // What would be written, for the desk to show.
    async look() {
      parts.round += 1;
      const { round } = parts;
      if (this.isPlan) {
        const href = this.end?.page ? `${this.end.path}${this.end.id ? `#${this.end.id}` : ""}` : this.end?.outside ?? "";
        this.plan = this.label.trim() && this.end && (this.adding || this.isEdited) ? { ...NO_PLAN, href, pages: 1 } : NO_PLAN;
        return;
      }
      const isNothing = !this.adding && !this.isEdited && !this.item?.wrong;
      if (isNothing || !this.label.trim() || !this.end) {
        this.plan = NO_PLAN;
        return;
      }
      const sent = { number: this.state.number, items: this.lookedItems, revision: this.state.revision, look: true };
      try {
        const found = await post(this.state.urls.menu, sent);
        if (round === parts.round) this.plan = { ...NO_PLAN, ...found };
      } catch (problem) {
        if (!(problem instanceof Told)) throw problem;
        if (round === parts.round) this.plan = { ...NO_PLAN, trouble: problem.message };
      }
    },
    save() {
      if (!this.ready || this.busy) return undefined;
      const label = this.label.trim();
      const items = this.isPlan ? this.planSent : this.lookedItems;
      return this.act("menu", { items }, () => this.rows.findIndex((row) => row.label === label));
    },
    async act(name, more, chosen = () => null) {
      if (this.busy) return;
      Object.assign(this, { busy: true, trouble: "", signedOut: false, message: "", done: 0, total: 0 });
      const { touched } = parts;
      parts.stopper = new AbortController();
      try {
        const isKept = this.isPlan && name === "menu";
        const { message, change } = await post(
          this.state.urls[isKept ? "keepPlan" : name],
          { number: this.state.number, plan: this.state.plan, name: this.state.name, revision: this.state.revision, ...more },
          { progress: ({ done, total }) => Object.assign(this, { done, total }), signal: parts.stopper.signal, bare: true },
        );
        this.change = ["undo", "redo"].includes(name) ? null : change;
        await this.renew();
        this.message = message;
        const at = chosen();
        this.chosen = at === -1 ? null : at;
        this.adding = false;
        if (parts.touched === touched) this.reset();
        else this.edited(); // typed while it was being saved: that stays
      } catch (problem) {
        this.refuse(problem);
        if (problem.status === 409) await this.chooseAgain().catch(() => {});
      } finally {
        Object.assign(this, { busy: false, total: 0 });
      }
    },
    refuse(problem) {
      if (!(problem instanceof Told)) throw problem;
      this.trouble = problem.message;
      this.signedOut = problem.status === 401;
      this.rows = this.state.items.map((item, key) => ({ ...item, key, item: key }));
    },
    // Somebody else was faster. The item is known by what it is: another one may have its place.
    async chooseAgain() {
      const { rows: before, chosen, label, item } = this;
      await this.renew();
      if (chosen === null || this.adding) return;
      this.chosen = tree.again(before, chosen, this.rows);
      if (this.chosen !== null) return this.look();
      const typed = label.trim() === item.label ? "" : ` You had typed “${label.trim()}”.`;
      this.trouble = `${this.trouble} “${item.label}” is another item now, or gone: choose it again.${typed}`;
    },
    async renew() {
      this.take(await get(parts.root.dataset.url, { menu: this.state.key }));
      this.openAt = null;
    },
    async undo() {
      await this.act("undo", { change: this.change });
      this.$nextTick(() => document.activeElement === document.body && document.getElementById("menu-done").focus());
    },
    bringInLine() {
      return this.act("menuInLine", {});
    },
    markCurrent() {
      return this.act("menuCurrent", {});
    },
    toggleLit() {
      return this.act("menuLit", { on: !this.state.lit });
    },
    get progress() {
      return `${this.done} of ${this.total} pages`;
    },
    stop() {
      parts.stopper?.abort();
    },

    // What goes wrong, mended for all at once.
    get wrongItems() {
      return this.rows.filter((row) => row.wrong);
    },
    get wrongLine() {
      const { length } = this.wrongItems;
      return length === 1 ? `“${this.wrongItems[0].label}” leads nowhere on some pages.` : `${length} items lead nowhere on some pages.`;
    },
    get mendable() {
      return this.wrongItems.filter(({ end }) => end?.page && end.arrives !== false);
    },
    get canMendAll() {
      if (this.isPlan) return false; // what is wrong there leads to nothing that could be meant
      return this.mendable.length > 0;
    },
    get mendAllVerb() {
      const { length } = this.mendable;
      return length === 1 ? "Write it so that it works" : `Write all ${length} so that they work`;
    },
    mendAll() {
      const items = this.rows.map((row) => (this.mendable.includes(row) ? { ...this.sentRow(row), end: this.sentEnd(row.end) } : this.sentRow(row)));
      return this.act("menu", { items });
    },

    // Its place.
    get moves() {
      if (!this.item) return [];
      const found = tree.moves(this.rows, this.chosen, (at) => this.rows[at].label);
      if (this.item.end?.page && this.item.end.id) found.push({ name: "page", says: "Lead it to the page’s top" });
      if (this.rows.length > 1) found.push({ name: "take", says: "Take it out" });
      return found;
    },
    move(name) {
      if (name === "page") {
        this.end = { page: this.item.end.page, pageTitle: this.item.end.pageTitle, id: "", title: "Its top" };
        return this.look();
      }
      if (name === "take") return this.saveRows(tree.without(this.rows, this.chosen), null);
      return this.saveRows(tree[name](this.rows, this.chosen), this.item.key);
    },
    // The rows as they are to be: seen at once, then saved.
    saveRows(rows, key) {
      if (this.busy || JSON.stringify(rows) === JSON.stringify(this.rows)) return undefined;
      this.rows = rows;
      const at = rows.findIndex((row) => row.key === key);
      this.chosen = at < 0 ? null : at;
      const focused = document.activeElement?.id;
      const kept = at < 0 ? null : at;
      return this.act("menu", { items: rows.map((row) => (this.isPlan ? this.planRow(row) : this.sentRow(row))) }, () => kept).then(() => {
        if (!focused?.startsWith("item-") || kept === null) return;
        // Where the keyboard is elsewhere by now, it stays there.
        this.$nextTick(() => document.activeElement === document.body && document.getElementById(`item-${kept}`)?.focus());
      });
    },
    key(at, event) {
      const { key, altKey } = event;
      if (altKey && KEYS[key]) {
        event.preventDefault();
        this.chosen = at;
        this.move(KEYS[key]);
      } else if (key === "ArrowDown" || key === "ArrowUp") {
        event.preventDefault();
        document.getElementById(`item-${at + (key === "ArrowDown" ? 1 : -1)}`)?.focus();
      }
    },
    dropped(from, { to, depth }) {
      return this.saveRows(tree.moved(this.rows, from, to, depth), this.rows[from].key);
    },

    // Which words need more than one line on a phone, by the page's own styles.
    async measure() {
      if (this.isPlan || !this.state.sheet) return;
      const numbers = this.state.items.map(({ number }) => number);
      const found = await hiddenSheet(this.state.sheet, PHONE, { innerHop: "lines", numbers }).catch(() => null);
      if (!found) return;
      this.wide = Object.fromEntries(this.state.items.map((item, key) => [key, found.lines[item.number] ?? 0]).filter(([, lines]) => lines > 1));
    },
  };
}
