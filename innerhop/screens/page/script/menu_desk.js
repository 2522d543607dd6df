// A mark, a section or the page put into a menu of the site; and a new menu put beside a
// part: seen first, on all pages that have it.
import { post } from "../../frame/script/ask.js";
import { begin, stop } from "./machine.js";

let waiting = 0; // for what is typed to be done

export function menuDesk() {
  return {
    get isInMenu() {
      return this.machine.doing === "menu" && this.menuAt !== "";
    },
    get isNewMenu() {
      return this.machine.doing === "menu" && this.menuAt === "";
    },
    async startMenu() {
      try {
        const { menus } = await post(this.urls.menus, {});
        if (!menus.length) {
          this.trouble = "This site has no menu yet. Choose the part where one should stand, and put a menu beside it.";
          return;
        }
        const menuEnd = await this.endForMenu();
        const menuWords = this.isPlace ? this.placeTitle : this.state.title;
        this.dropPlan();
        this.machine = begin(this.machine, "menu", { menus, menuAt: menus[0].key, menuWords, menuEnd });
        await this.lookAtMenu();
      } catch (problem) {
        this.refuse(problem);
      }
    },
    // The chosen part, marked by the same change where it has no mark.
    async endForMenu() {
      const page = this.state.page.id;
      if (!this.isPlace) return { page, id: "" };
      if (this.markHere) return { page, id: this.markHere.value };
      const { number } = this.chosen;
      const typed = this.id.number === number && this.id.valid ? this.id.typed.trim() : "";
      const id = typed || (await post(this.urls.checkId, { number, typed: null })).id;
      return { page, id, number, mark: true };
    },
    setMenu(key) {
      this.menuAt = key;
      return this.lookAtMenu();
    },
    isMenu(key) {
      return this.menuAt === key ? "true" : "false";
    },
    // What was seen of other words can't be saved any more.
    typeMenuWords(event) {
      this.menuWords = event.target.value;
      this.dropPlan();
      this.lookSoon(() => this.lookAtMenu());
    },
    lookSoon(look) {
      clearTimeout(waiting);
      waiting = setTimeout(look, 250);
    },
    lookAtMenu() {
      if (!this.menuWords.trim()) return this.dropPlan();
      return this.lookAhead(this.urls.menuAdd, { menu: this.menuAt, label: this.menuWords, end: this.menuEnd, sections: this.menuMore, room: this.menuRoom });
    },
    // Other sections of the page, which go into the menu with it.
    get menuSections() {
      if (!this.isInMenu) return [];
      const chosen = this.isPlace ? this.chosen.number : null;
      const rows = this.state.sections.filter(({ number, level }) => number !== chosen && level !== 1);
      return rows.map(({ number, title }) => ({ number, title, on: this.menuMore.includes(number) }));
    },
    toggleMenuSection(number) {
      const has = this.menuMore.includes(number);
      this.menuMore = has ? this.menuMore.filter((one) => one !== number) : [...this.menuMore, number];
      return this.lookAtMenu();
    },

    // A new one, of pages; sections are added on the menus' own screen.
    async startNewMenu() {
      try {
        const { pages } = await post(this.urls.menus, {});
        const rows = pages.map((page, at) => ({ ...page, on: at < 5 }));
        this.dropPlan();
        this.machine = begin(this.machine, "menu", { menuAt: "", newMenu: { side: "before", name: "Main", pages: rows } });
        await this.lookAtNewMenu();
      } catch (problem) {
        this.refuse(problem);
      }
    },
    setNewMenu(more) {
      this.newMenu = { ...this.newMenu, ...more };
      return this.lookAtNewMenu();
    },
    isMenuSide(side) {
      return this.newMenu.side === side ? "true" : "false";
    },
    typeMenuName(event) {
      this.newMenu = { ...this.newMenu, name: event.target.value };
      this.dropPlan();
      this.lookSoon(() => this.lookAtNewMenu());
    },
    toggleMenuPage(pk) {
      return this.setNewMenu({ pages: this.newMenu.pages.map((one) => (one.pk === pk ? { ...one, on: !one.on } : one)) });
    },
    lookAtNewMenu() {
      const { side, name, pages } = this.newMenu;
      const items = pages.filter(({ on }) => on).map(({ pk, title }) => ({ item: null, depth: 0, label: title, end: { page: pk, id: "" } }));
      return this.lookAhead(this.urls.menuNew, { number: this.chosen.number, side, name, items });
    },

    get menuVerb() {
      const { pages } = this.plan.looked;
      const where = pages > 1 ? `on ${pages} pages` : "on this page";
      return this.isNewMenu ? `Put it in ${where}` : `Put it in the menu ${where}`;
    },
    async saveMenu() {
      const then = this.menuEnd?.id ?? "";
      if (this.planReady) await this.savePlan(then);
    },
    stopMenu() {
      this.machine = stop(this.machine);
      this.dropPlan();
    },
  };
}
