// What the desk says of the chosen section or hop, and of the page as a whole.
import Alpine from "@alpinejs/csp";
import { get } from "../../frame/script/ask.js";
import { html, markdown } from "./pass_on.js";

export function deskView(parts) {
  return {
    allHops: false,
    hopList: "", // which hops the outline lists: "", broken, within, out, in or menu
    knowsWords: localStorage.getItem("innerhop knows words") === "yes", // mark, hop
    hidden: [], // ends that the sheet does not show at this width

    learnWords() {
      localStorage.setItem("innerhop knows words", "yes");
      this.knowsWords = true;
      this.goOn();
    },
    get section() {
      const { chosen } = this;
      if (chosen.kind !== "section") return null;
      return Alpine.raw(this.state.sections).find(({ number }) => number === chosen.number) ?? null;
    },
    get hop() {
      return this.chosen.kind === "hop" ? this.hopOf(this.chosen.number, this.chosen.key) : null;
    },
    hopOf(number, key) {
      const all = [...Alpine.raw(this.state.hops), ...Alpine.raw(this.state.into)];
      return all.find((one) => (key ? one.key === key : one.number === number)) ?? null;
    },
    get hopStartsHere() {
      return this.hop !== null && this.hop.from.id === this.state.page.id;
    },
    // Whether the sheet can't show where the chosen hop ends.
    get hopIsHidden() {
      const { hop } = this;
      return Boolean(hop?.to) && hop.to.id === this.state.page.id && hop.kind !== "broken" && this.hidden.includes(hop.end);
    },
    get sectionSize() {
      if (this.measuredRound === 0) return "";
      const sections = Alpine.raw(this.state.sections);
      const { chosen } = this;
      const at = sections.findIndex((one) => one.number === chosen.number);
      if (at < 0) return "";
      const { number, words } = sections[at];
      const next = sections[at + 1];
      const to = next ? parts.measured.tops[next.number] : parts.measured.height;
      const tall = Math.max(0, (to ?? 0) - (parts.measured.tops[number] ?? 0)) / this.screen.view;
      const size = this.isReading ? "" : ` · ${tall.toFixed(1)} screens`;
      return `Section ${at + 1}${size} · ${words} word${words === 1 ? "" : "s"}`;
    },
    get landing() {
      if (!this.isPlace) return [];
      const numbers = this.section ? this.numbersOf(this.section) : new Set([this.chosen.number]);
      const { page } = this.raw;
      const [hops, into] = [Alpine.raw(this.state.hops), Alpine.raw(this.state.into)];
      return [...hops.filter((hop) => hop.to?.id === page.id), ...into]
        .filter((hop) => hop.end !== null && numbers.has(hop.end));
    },
    // A section is reached at its heading or at the element that carries its ID.
    numbersOf(section) {
      const numbers = new Set([section.number]);
      for (const mark of this.raw.marks) if (section.mark && mark.value === section.mark) numbers.add(mark.number);
      return numbers;
    },
    // The page's hops by where they lead, in the order in which they stand on it.
    hopsOf(which) {
      const { hops, into, page } = this.raw;
      const own = hops.filter(({ kind }) => kind !== "menu" || which === "menu");
      if (which === "in") return [...into].sort((one, other) => (one.end ?? -1) - (other.end ?? -1));
      if (which === "broken") return hops.filter(({ kind }) => kind === "broken");
      if (which === "menu") return hops.filter(({ kind }) => kind === "menu");
      if (which === "within") return own.filter(({ to, kind }) => to?.id === page.id && kind !== "broken");
      return own.filter(({ to, kind }) => to && to.id !== page.id && kind !== "broken");
    },
    get hopKinds() {
      const names = { broken: "Broken", within: "Within", out: "Out", in: "In", menu: "Menu" };
      const { counts, left } = this.state;
      const known = {
        broken: counts.broken, within: (counts.here ?? 0) + (counts.back ?? 0), out: counts.there, in: counts.into, menu: counts.menu,
      };
      return Object.entries(names)
        .map(([which, name]) => ({
          which, message: name, count: left ? (known[which] ?? 0) : this.hopsOf(which).length, on: this.hopList === which ? "true" : "false",
        }))
        .filter(({ count, which }) => count || which === this.hopList);
    },
    // Of a page with thousands of hops, the rest comes when it is asked for.
    async showAllHops() {
      try {
        if (this.state.left) this.takeMore(await get(this.urls.moreHops));
        this.allHops = true;
      } catch (problem) {
        this.refuse(problem);
      }
    },
    get listedCount() {
      const kind = this.hopKinds.find(({ which }) => which === this.hopList);
      return kind ? kind.count : this.listedHops.length + this.state.left;
    },
    listHops(which) {
      Object.assign(this, { hopList: this.hopList === which ? "" : which, allHops: false });
    },
    // With none of them asked for: broken ones first, since they are what needs doing,
    // then those that start here.
    get listedHops() {
      if (this.hopList) return this.hopsOf(this.hopList);
      const { hops } = this.raw;
      const rest = hops.filter(({ kind }) => kind !== "broken" && kind !== "menu");
      return [...this.hopsOf("broken"), ...rest];
    },
    get shownHops() {
      return this.allHops ? this.listedHops : this.listedHops.slice(0, 12);
    },
    get allHopsCount() {
      return (this.state.counts.all ?? 0) + (this.state.counts.into ?? 0);
    },
    besideHop(hop) {
      return this.hopList === "in" ? hop.from.title : hop.href;
    },
    get formCounts() {
      return Object.entries(this.state.forms).map(([form, count], at) => ({ form, count, message: `${this.state.formNames[form]}${at + 1 < Object.keys(this.state.forms).length ? ", " : "."}` }));
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
      return this.markHere ? this.copiesOf(this.markHere.fragment, this.placeTitle) : [];
    },
    copiesOf(fragment, title) {
      const { page, site, bareHash } = this.state;
      const hash = `#${fragment}`;
      const whole = site + page.path + hash;
      const words = title ? `${title} · ${page.title}` : page.title;
      return [
        ...(bareHash ? [{ text: hash, where: "this page" }] : []),
        { text: page.path + hash, where: "other pages, menus" },
        { text: whole, where: "other sites, mail" },
        { text: markdown(words, whole), where: "Markdown" },
        { text: html(words, whole), where: "HTML" },
      ];
    },
    kindMessage(hop) {
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
      const y = parts.measured.tops[hop.number];
      return y === undefined ? "this page" : `screen ${Math.floor(y / this.screen.view) + 1}`;
    },
    endOf(hop) {
      if (!hop.to) return hop.href;
      if (hop.to.id !== this.state.page.id) return hop.endTitle || hop.to.title;
      if (hop.end === null) return hop.kind === "broken" ? hop.href : "the top";
      const { sections, marks } = this.raw;
      const ends = marks.filter(({ number }) => number === hop.end);
      const values = ends.map(({ value }) => value);
      const section = sections.find(({ number, mark }) => number === hop.end || values.includes(mark));
      return section?.title ?? (ends[0]?.words || hop.href);
    },
    besideEnd({ to, endTitle }) {
      return endTitle && to.id !== this.state.page.id ? to.title : to.path;
    },
    canGoToEnd() {
      return Boolean(this.hop?.to) && this.hop.kind !== "broken";
    },
    // There and back: where the reader of the screen came from stays at hand.
    cameBy: null,
    takeCameBy() {
      const kept = sessionStorage.getItem("innerhop came by");
      this.cameBy = kept ? JSON.parse(kept) : null;
      if (this.cameBy && this.cameBy.to !== this.state.page.id) this.cameBy = null;
    },
    keepCameBy() {
      const { from, to, number, text } = this.hop;
      this.cameBy = { url: `${from.url}#hop-${number}`, title: from.title, from: from.id, to: to.id, number, text };
      sessionStorage.setItem("innerhop came by", JSON.stringify(this.cameBy));
    },
    goBack() {
      const { url, from, number } = this.cameBy;
      this.cameBy = null;
      sessionStorage.removeItem("innerhop came by");
      if (from === this.state.page.id) this.choose("hop", number, { key: `${from}-${number}`, scroll: true });
      else window.location.assign(url);
    },
    goToEnd() {
      const { to, end } = this.hop;
      this.keepCameBy();
      if (to.id !== this.state.page.id) {
        window.location.assign(`${to.url}${end === null ? "" : `#n${end}`}`);
      } else if (end === null) {
        parts.link.tell("scroll", { y: 0 });
      } else {
        parts.link.tell("choose", { number: end, section: false, scroll: true });
      }
    },
    goToStart() {
      const { from, number } = this.hop;
      if (from.id === this.state.page.id) parts.link.tell("choose", { number, section: false, scroll: true });
      else window.location.assign(`${from.url}#hop-${number}`);
    },
    get visitHere() {
      return `${this.urls.visit}?to=${encodeURIComponent(this.markHere?.value ?? "")}`;
    },
    inScreens(height) {
      const screens = height / this.screen.view;
      return `${screens >= 10 ? Math.round(screens) : screens.toFixed(1)} screens long`;
    },
    // A heading in the sheet was pointed at: the form that works from every page, with
    // the others beside it.
    copyLinkOf(number) {
      const mark = this.raw.marks.find((one) => one.number === number);
      const section = this.raw.sections.find((one) => one.number === number);
      const fragment = mark?.fragment ?? section?.fragment;
      if (!fragment) return;
      const forms = this.copiesOf(fragment, section?.title || mark?.words);
      const chosen = forms.find(({ where }) => where.startsWith("other pages"));
      return this.copy(chosen.text, forms.filter((one) => one !== chosen));
    },
    async copy(text, others = []) {
      try {
        await navigator.clipboard.writeText(text);
        this.tell(`Copied ${text}`, false, others);
      } catch {
        this.trouble = "The browser does not let this page copy. Select the address and copy it by hand.";
      }
    },
  };
}
