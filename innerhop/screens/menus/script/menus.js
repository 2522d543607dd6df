// The menus screen: a menu in order, what its items do on each page, and the chosen item.
// What is done is saved at once, as one change on all pages that have the menu.
import { get, post, Told } from "../../frame/script/ask.js";
import { hiddenSheet } from "../../frame/script/hidden_sheet.js";
import { joined } from "../../frame/script/joined.js";
import { keepHere, keptHere } from "../../frame/script/kept_here.js";
import { itemDesk, PHONE } from "./item_desk.js";
import { menuLines } from "./lines.js";
import { itemPlaces } from "./places.js";
import { menuPlans } from "./plans.js";
import { again } from "./tree.js";

const NOTHING = { plan: null, key: "", items: [], stations: [], unlike: [], notes: [], saysCurrent: { pages: 0, said: 0 }, urls: {}, pages: 0 };
const NO_MEANINGS = { states: {}, formNames: {}, deepest: 0 };
const read = (id, otherwise) => JSON.parse(document.getElementById(id)?.textContent ?? JSON.stringify(otherwise));

export function menus() {
  // What the screen's element is: an item's own may be gone when an answer comes.
  const parts = { root: null, stopper: null, round: 0, waiting: 0, touched: 0 };
  const meanings = read("menu-meanings", NO_MEANINGS);
  return joined(screen(parts), menuLines(meanings), menuPlans(parts), itemDesk(parts, meanings), itemPlaces(parts, meanings));
}

function screen(parts) {
  return {
    state: read("menu-state", NOTHING),
    rows: [],
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
      this.chosen = again(before, chosen, this.rows);
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
