// The page screen: what is chosen on ruler, sheet or desk is chosen on all three.
import Alpine from "@alpinejs/csp";
import { get, post, Told } from "../../frame/script/ask.js";
import { hopActs } from "./hop_acts.js";
import { idField } from "./id_field.js";
import { drawOutline } from "./outline.js";
import { Ruler } from "./ruler.js";
import { SheetLink } from "./sheet_link.js";

const NOTHING = { kind: "none", n: null, key: null };
const remembered = (name, otherwise) => localStorage.getItem(`innerhop ${name}`) ?? otherwise;

export function pageScreen() {
  // What draws itself stays out of Alpine's sight: it would watch every part of it.
  let ruler = null;
  let link = null;
  let measured = { height: 0, view: 0, y: 0, tops: {}, ends: {}, smooth: true };
  let keepY = null;

  return joined(idField(), hopActs(() => link), {
    // Until the page's own state is read, a page with nothing on it.
    state: { page: {}, sections: [], hops: [], into: [], marks: [], changes: [], measures: [], widths: [] },
    urls: {},
    width: 1280,
    zoom: "fit",
    room: { width: 640, height: 640 },
    screens: "",
    smooth: true,
    chosen: NOTHING,
    said: "",
    saidUndo: false,
    trouble: "",
    behind: false,
    helping: false,
    singleKeys: remembered("single keys", "on") === "on",
    addressTyped: "",
    allHops: false,
    isReading: true,

    init() {
      const { urls } = this.$el.dataset;
      this.urls = JSON.parse(urls);
      this.width = Number(remembered("width", "1280"));
      this.zoom = remembered("zoom", "fit");
      ruler = new Ruler(this.$refs.ruler, {
        choose: (kind, n, focus, key) => this.choose(kind, n, { scroll: true, focus, key }),
        over: (n) => this.over(n),
        scroll: (y) => link.tell("scroll", { y }),
      });
      link = new SheetLink(this.$refs.paper.querySelector("iframe"), this.hearing());
      new ResizeObserver(() => this.fit()).observe(this.$refs.column);
      new ResizeObserver(() => this.drawRuler()).observe(this.$refs.ruler);
      window.addEventListener("keydown", (event) => this.shortcut(event));
      this.takeState(JSON.parse(document.getElementById("page-state").textContent), true);
      this.fit();
      this.chooseFromAddress();
    },

    hearing() {
      return {
        ready: () => this.look(),
        measured: (found) => {
          measured = found;
          this.smooth = found.smooth;
          this.isReading = false;
          if (keepY !== null) {
            link.tell("scroll", { y: keepY });
            keepY = null;
          }
          this.screens = this.inScreens(found.height);
          this.drawRuler();
          this.keepMeasure();
        },
        scrolled: ({ y, view }) => {
          measured.y = y;
          measured.view = view;
          ruler.moveWindow(y, view);
        },
        chose: ({ kind, n }) => this.choose(kind, n, { scroll: false, focus: true }),
        over: ({ n }) => this.over(n, true),
        words: (words) => this.takeWords(words),
        nowords: () => this.dropWords(),
        found: ({ any }) => (this.trouble = any ? "" : "These words are not on this page."),
        key: (event) => this.act(event),
      };
    },

    // The page as the server has it.

    takeState(state, reload) {
      const before = this.state;
      const { pages } = state;
      const whole = (hop) => ({
        ...hop, key: `${hop.from}-${hop.n}`, from: pages[hop.from], to: pages[hop.to] ?? null,
      });
      this.state = {
        ...state,
        page: pages[state.page],
        hops: state.hops.map(whole),
        into: state.into.map(whole),
        sections: state.sections.map(({ number, ...more }) => ({ n: number, ...more })),
        marks: state.marks.map(({ number, ...more }) => ({ n: number, ...more })),
      };
      document.title = `${state.title} · Inner Hop`;
      this.addressTyped = this.state.page.path;
      drawOutline(this.$refs.outline, this.raw.sections, {
        choose: (kind, n, focus) => this.choose(kind, n, { scroll: true, focus }),
        over: (n) => this.over(n),
      });
      if (reload || before.sheet === undefined) {
        keepY = reload && measured.height ? measured.y : null;
        this.isReading = true;
        link.load(state.sheet);
      } else {
        this.look();
      }
      this.drawRuler();
    },

    // The state without Alpine's watch over each of its parts, for what draws it all.
    get raw() {
      return Alpine.raw(this.state);
    },

    // A change that adds no element leaves the sheet's numbers as they are.
    takeDone({ said, state }, undoable = true, reload = false) {
      const moved = reload || state.sections.length !== this.state.sections.length
        || state.hops.length !== this.state.hops.length
        || state.sections.some((one, at) => one.number !== this.state.sections[at].n);
      this.takeState(state, moved);
      this.tell(said, undoable);
      this.behind = false;
    },

    tell(said, undo = false) {
      this.said = said;
      this.saidUndo = undo;
      this.trouble = "";
    },

    refuse(problem) {
      if (!(problem instanceof Told)) throw problem;
      this.trouble = problem.message;
      this.behind = problem.status === 409;
    },

    // After someone else's change: the newest text, with all that was typed kept.
    async catchUp() {
      try {
        this.takeState(await get(this.urls.state), true);
        this.behind = false;
        this.trouble = "";
        this.tell("This is the page as it is now. What you typed is still here.");
      } catch (problem) {
        this.refuse(problem);
      }
    },

    look() {
      const { sections, hops, into, page } = this.raw;
      link.tell("look", {
        sections: sections.map(({ n, mark }) => ({ n, mark })),
        hops: hops.map(({ n, kind }) => ({ n, kind })),
        measure: [
          ...hops.map(({ end, to }) => (to?.id === page.id ? end : null)),
          ...into.map(({ end }) => end),
        ].filter((n) => n !== null),
        scale: this.scale,
      });
      this.showChosen(false);
    },

    keepMeasure() {
      const tops = Object.fromEntries(this.state.sections.map(({ n }) => [n, measured.tops[n] ?? 0]));
      const known = this.state.measures.find(({ width }) => width === this.width);
      const sent = { width: this.width, height: measured.height, tops };
      if (known && known.revision === this.state.revision && known.height === sent.height
        && JSON.stringify(known.tops) === JSON.stringify(tops)) return;
      this.state.measures = [
        ...this.state.measures.filter(({ width }) => width !== this.width),
        { ...sent, revision: this.state.revision },
      ];
      post(this.urls.measure, sent).catch(() => {}); // a guess on Pages is no loss
    },

    // Widths and zoom.

    get screen() {
      return this.state.widths.find(({ width }) => width === this.width) ?? this.state.widths[2];
    },
    get scale() {
      return this.zoom === "fit" ? Math.min(1, this.room.width / this.width) : 1;
    },
    fit() {
      const { clientWidth, clientHeight } = this.$refs.column;
      this.room = { width: clientWidth - 24, height: clientHeight - 14 };
      this.size();
    },
    // The sheet is as wide as the reader's screen, and drawn smaller where it must be.
    size() {
      const { width, scale, room } = this;
      Object.assign(link.frame.style, {
        width: `${width}px`, height: `${room.height / scale}px`, transform: `scale(${scale})`,
      });
      Object.assign(this.$refs.paper.style, {
        width: `${Math.round(width * scale)}px`, height: `${room.height}px`,
      });
      this.look();
    },
    setWidth(width) {
      this.width = width;
      localStorage.setItem("innerhop width", String(width));
      this.size();
    },
    setZoom(zoom) {
      this.zoom = zoom;
      localStorage.setItem("innerhop zoom", zoom);
      this.size();
    },
    isWidth(width) {
      return this.width === width ? "true" : "false";
    },
    isZoom(zoom) {
      return this.zoom === zoom ? "true" : "false";
    },

    // Choosing.

    choose(kind, n, { scroll = false, focus = false, key = null } = {}) {
      const hop = kind === "hop" ? this.hopOf(n, key) : null;
      if (kind === "hop" && !hop) return;
      this.chosen = kind === "none" ? NOTHING : { kind, n, key: hop?.key ?? null };
      this.tell("");
      this.over(null);
      if (kind !== "words") this.dropWords();
      this.showChosen(scroll);
      this.drawRuler();
      if (kind === "section") this.openIdField(focus);
      this.soon(() => {
        this.$refs.desk.scrollTop = 0;
        if (focus && kind === "hop") this.$refs.hopTitle.focus();
      });
    },
    // Once what has just been asked for is shown, which Alpine does a moment later.
    soon(act) {
      this.$nextTick(() => requestAnimationFrame(() => setTimeout(act)));
    },
    chooseNothing() {
      this.choose("none", null);
      link.tell("clear");
    },
    showChosen(scroll) {
      const inPage = this.chosen.kind === "hop" ? this.hop?.from.id === this.state.page.id : true;
      const n = inPage ? this.chosen.n : (this.hop?.end ?? null);
      link.tell("choose", { n, section: this.chosen.kind === "section", scroll });
      for (const row of this.$refs.outline.querySelectorAll(".outline-row.on")) row.classList.remove("on");
      this.rowOf(this.chosen.n)?.classList.add("on");
    },
    rowOf(n) {
      return n === null ? null : this.$refs.outline.querySelector(`[data-n="${n}"]`);
    },
    over(n, fromSheet = false) {
      for (const lit of this.$root.querySelectorAll(".lit")) lit.classList.remove("lit");
      if (n !== null) {
        this.rowOf(n)?.classList.add("lit");
        for (const row of this.$root.querySelectorAll(`[data-lights="${n}"]`)) row.classList.add("lit");
        ruler.layer.querySelector(`[data-n="${n}"]`)?.classList.add("lit");
        ruler.layer.querySelector(`[data-key="${this.state.page.id}-${n}"]`)?.classList.add("lit");
      }
      if (!fromSheet) link.tell("light", { numbers: n === null ? [] : [n] });
    },
    chooseFromAddress() {
      const hash = window.location.hash.slice(1);
      if (!hash) return;
      let asked = hash;
      try {
        asked = decodeURIComponent(hash);
      } catch {
        // a stray percent sign: take it as it stands
      }
      const found = this.state.sections.find((one) => one.mark === asked || `n${one.n}` === asked);
      if (found) this.choose("section", found.n, { scroll: true });
    },

    // What the desk says.

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
      const to = next ? measured.tops[next.n] : measured.height;
      const tall = Math.max(0, (to ?? 0) - (measured.tops[n] ?? 0)) / this.screen.view;
      const size = this.isReading ? "" : ` · ${tall.toFixed(1)} screens`;
      return `Section ${at + 1}${size} · ${words} word${words === 1 ? "" : "s"}`;
    },
    get landing() {
      if (!this.section) return [];
      const numbers = this.numbersOf(this.section);
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
      if (!this.section?.mark) return [];
      const { page, site, bareHash } = this.state;
      const hash = `#${this.section.fragment}`;
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
      const y = measured.tops[hop.n];
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
        link.tell("scroll", { y: 0 });
      } else {
        link.tell("choose", { n: end, section: false, scroll: true });
      }
    },
    goToStart() {
      const { from, n } = this.hop;
      if (from.id === this.state.page.id) link.tell("choose", { n, section: false, scroll: true });
      else window.location.assign(from.url);
    },
    encoded(section) {
      return encodeURIComponent(section?.mark ?? "");
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

    // Undo and redo, of the next change or of one in the list.

    async undo(change) {
      await this.turn(this.urls.undo, change);
    },
    async redo(change) {
      await this.turn(this.urls.redo, change);
    },
    async turn(url, change) {
      try {
        this.takeDone(await post(url, change ? { change } : {}), false, true);
        this.chosen = this.section ? this.chosen : NOTHING;
        if (this.section) this.openIdField(false);
        this.look();
      } catch (problem) {
        this.refuse(problem);
      }
    },
    async makeSmooth() {
      try {
        this.takeDone(await post(this.urls.smooth, { revision: this.state.revision }), true, true);
      } catch (problem) {
        this.refuse(problem);
      }
    },
    async saveAddress() {
      try {
        const done = await post(this.urls.address, { path: this.addressTyped });
        this.takeState(done.state, true);
        this.tell(done.said);
      } catch (problem) {
        this.refuse(problem);
      }
    },

    // Keys.

    shortcut(event) {
      const { key, ctrlKey, metaKey, shiftKey, altKey } = event;
      const command = (ctrlKey || metaKey) && key.toLowerCase() === "z";
      const typing = event.target.closest?.("input, textarea, select, dialog");
      if (typing && key !== "Escape") return;
      if (!command && (ctrlKey || metaKey || altKey)) return;
      if (this.act({ key, command, shift: shiftKey })) event.preventDefault();
    },
    act({ key, command, shift }) {
      if (command) {
        if (shift) this.redo();
        else this.undo();
      } else if (key === "Escape") this.chooseNothing();
      else if (key === "/" && this.singleKeys) {
        window.focus();
        document.getElementById("find").focus();
      } else if (key === "?" && this.singleKeys) this.help();
      else return false;
      return true;
    },
    help() {
      this.$refs.help.showModal();
    },
    keepSingleKeys() {
      localStorage.setItem("innerhop single keys", this.singleKeys ? "on" : "off");
    },

    drawRuler() {
      if (!ruler || !measured.height) return;
      const { page, sections, hops, into } = this.raw;
      const { section } = this;
      ruler.draw({
        ...measured,
        screen: this.screen.view,
        pageId: page.id,
        sections,
        hops,
        into,
        chosen: { ...this.chosen },
        section: section ? { numbers: this.numbersOf(section), page: page.id } : null,
        lit: null,
      });
    },
  });
}

// One object of several, with their getters as getters.
function joined(...parts) {
  const whole = {};
  for (const part of parts) Object.defineProperties(whole, Object.getOwnPropertyDescriptors(part));
  return whole;
}
