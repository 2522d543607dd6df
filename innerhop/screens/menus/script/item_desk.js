// The chosen item of a menu, or a new one: its words, where it leads, how that is written, and
// what would be saved.
import { post, Told } from "../../frame/script/ask.js";

export const PHONE = 390; // px
const LITTLE = 160; // px of the desk: its title and the first field
const NO_PLAN = { href: "", forms: [], notes: [], spots: [], pages: 0, trouble: "" };

const isSame = (one, other) => JSON.stringify(one) === JSON.stringify(other);

// parts: { root: the screen's element, round, waiting, touched: of what is asked while typing }.
// formNames: what the ways to write an address are called.
export function itemDesk(parts, { formNames }) {
  return {
    chosen: null, // the place of the chosen item
    adding: false,
    label: "",
    end: null,
    form: "",
    searching: false,
    plan: NO_PLAN,

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
      return formNames[one.form];
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
  };
}
