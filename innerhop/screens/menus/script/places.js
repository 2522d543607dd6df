// An item's place in its menu, by dragging, buttons and keys; and what leads nowhere, mended for
// all items at once.
import { dragging } from "./dragging.js";
import { joined } from "../../frame/script/joined.js";
import { treeOf } from "./tree.js";

const KEYS = { ArrowUp: "up", ArrowDown: "down", ArrowRight: "under", ArrowLeft: "out" };

// parts.root: the screen's element. deepest: the largest depth of an item.
export function itemPlaces(parts, { deepest }) {
  const tree = treeOf(deepest);
  return joined(dragging(parts, tree), {
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
  });
}
