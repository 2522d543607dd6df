// What the screen says of a menu: its lines, what its items do, and the pages named above them.

// meanings: { states: what an item does, by name: { says, wrong } }.
export function menuLines({ states }) {
  return {
    openAt: null, // the station whose pages are named

    get whereLine() {
      if (this.isPlan) return "A plan of a menu that lives in another system. What you do here changes no page.";
      const { where, pages, unlikeCount } = this.state;
      const same = unlikeCount ? `different on ${unlikeCount} of them` : pages > 1 ? "the same on all of them" : "";
      return `Found in ${where} of ${pages} page${pages === 1 ? "" : "s"}${same ? `, ${same}` : ""}`;
    },
    get legend() {
      const seen = new Set(this.state.items.flatMap((_, at) => this.state.stations.map((one) => one.states[at])));
      return Object.entries(states).filter(([state]) => seen.has(state)).map(([state, told]) => ({ state, ...told }));
    },
    stateOf(item, place) {
      return item.item === null ? "" : this.state.stations[place].states[item.item];
    },
    meaning(item, place) {
      return states[this.stateOf(item, place)]?.says ?? "";
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
  };
}
