// What the desk says of the chosen section or hop, and of the page as a whole.
import Alpine from "@alpinejs/csp";

export function deskView(parts) {
  return {
    allHops: false,

    get section() {
      if (this.chosen.kind !== "section") return null;
      return Alpine.raw(this.state.sections).find(({ n }) => n === this.chosen.n) ?? null;
    },
    get hop() {
      return this.chosen.kind === "hop" ? this.hopOf(this.chosen.n, this.chosen.key) : null;
    },
    hopOf(n, key) {
      const all = [...Alpine.raw(this.state.hops), ...Alpine.raw(this.state.into)];
      return all.find((one) => (key ? one.key === key : one.n === n)) ?? null;
    },
    get sectionSize() {
      const sections = Alpine.raw(this.state.sections);
      const at = sections.findIndex(({ n }) => n === this.chosen.n);
      if (at < 0) return "";
      const { n, words } = sections[at];
      const next = sections[at + 1];
      const to = next ? parts.measured.tops[next.n] : parts.measured.height;
      const tall = Math.max(0, (to ?? 0) - (parts.measured.tops[n] ?? 0)) / this.screen.view;
      const size = this.isReading ? "" : ` · ${tall.toFixed(1)} screens`;
      return `Section ${at + 1}${size} · ${words} word${words === 1 ? "" : "s"}`;
    },
    get landing() {
      if (!this.isPlace) return [];
      const numbers = this.section ? this.numbersOf(this.section) : new Set([this.chosen.n]);
      const { page } = this.raw;
      const [hops, into] = [Alpine.raw(this.state.hops), Alpine.raw(this.state.into)];
      return [...hops.filter((hop) => hop.to?.id === page.id), ...into]
        .filter((hop) => hop.end !== null && numbers.has(hop.end));
    },
    // A section is reached at its heading or at the element that carries its ID.
    numbersOf(section) {
      const numbers = new Set([section.n]);
      for (const mark of this.raw.marks) if (section.mark && mark.value === section.mark) numbers.add(mark.n);
      return numbers;
    },
    get leaving() {
      return Alpine.raw(this.state.hops).filter(({ kind }) => kind !== "menu");
    },
    // Broken ones first: they are what needs doing.
    get shownHops() {
      const rank = ({ kind }) => (kind === "broken" ? 0 : 1);
      const ordered = [...this.leaving].sort((one, other) => rank(one) - rank(other));
      return this.allHops ? ordered : ordered.slice(0, 12);
    },
    get broken() {
      return Alpine.raw(this.state.hops).filter(({ kind }) => kind === "broken");
    },
    get markedCount() {
      return Alpine.raw(this.state.sections).filter(({ mark }) => mark).length;
    },
    get unmarkedCount() {
      return this.state.sections.length - this.markedCount;
    },
    get copies() {
      if (!this.markHere) return [];
      const { page, site, bareHash } = this.state;
      const hash = `#${this.markHere.fragment}`;
      return [
        ...(bareHash ? [{ text: hash, where: "on this page" }] : []),
        { text: page.path + hash, where: "other pages, menus" },
        { text: site + page.path + hash, where: "other sites, mail" },
      ];
    },
    kindSaid(hop) {
      return {
        here: "A hop to a place on this page",
        there: "A hop to another page",
        menu: "A hop from the menu",
        back: "A hop back to the top",
        broken: "A hop that goes nowhere",
      }[hop.kind];
    },
    placeOf(hop) {
      if (hop.from.id !== this.state.page.id) return hop.from.path;
      const y = parts.measured.tops[hop.n];
      return y === undefined ? "this page" : `screen ${Math.floor(y / this.screen.view) + 1}`;
    },
    endOf(hop) {
      if (!hop.to) return hop.href;
      if (hop.to.id !== this.state.page.id) return hop.to.title;
      if (hop.end === null) return hop.kind === "broken" ? hop.href : "the top";
      const { sections, marks } = this.raw;
      const values = marks.filter(({ n }) => n === hop.end).map(({ value }) => value);
      return sections.find(({ n, mark }) => n === hop.end || values.includes(mark))?.title ?? hop.href;
    },
    canGoToEnd() {
      return Boolean(this.hop?.to) && this.hop.kind !== "broken";
    },
    goToEnd() {
      const { to, end } = this.hop;
      if (to.id !== this.state.page.id) {
        window.location.assign(`${to.url}${end === null ? "" : `#n${end}`}`);
      } else if (end === null) {
        parts.link.tell("scroll", { y: 0 });
      } else {
        parts.link.tell("choose", { n: end, section: false, scroll: true });
      }
    },
    goToStart() {
      const { from, n } = this.hop;
      if (from.id === this.state.page.id) parts.link.tell("choose", { n, section: false, scroll: true });
      else window.location.assign(from.url);
    },
    get visitHere() {
      return `${this.urls.visit}?to=${encodeURIComponent(this.markHere?.value ?? "")}`;
    },
    inScreens(height) {
      const screens = height / this.screen.view;
      return `${screens >= 10 ? Math.round(screens) : screens.toFixed(1)} screens long`;
    },
    async copy(text) {
      try {
        await navigator.clipboard.writeText(text);
        this.tell(`Copied ${text}`);
      } catch {
        this.trouble = "The browser does not let this page copy. Select the address and copy it by hand.";
      }
    },
  };
}
