// The page screen: what is chosen on ruler, sheet or desk is chosen on all three.
import Alpine from "@alpinejs/csp";
import { post, Told } from "../../frame/script/ask.js";
import { contentsDesk } from "./contents_desk.js";
import { deskView } from "./desk_view.js";
import { drafts } from "./drafts.js";
import { foundAgain } from "./found_again.js";
import { hopActs } from "./hop_acts.js";
import { idField, NO_ID } from "./id_field.js";
import { keyboard } from "./keyboard.js";
import { many } from "./many.js";
import { joined } from "../../frame/script/joined.js";
import { keepHere, keptHere } from "../../frame/script/kept_here.js";
import { markDesk } from "./mark_desk.js";
import { drawOutline, rowOf } from "./outline.js";
import { offers } from "./offers.js";
import { pageActs } from "./page_acts.js";
import { place } from "./place.js";
import { choose, members, START } from "./machine.js";
import { planning } from "./planning.js";
import { menuDesk } from "./menu_desk.js";
import { Ruler } from "./ruler.js";
import { SheetLink } from "./sheet_link.js";
import { sheetSize } from "./sheet_size.js";
import { frameOf, stopsOf } from "./stops.js";
import { passOn } from "./pass_on.js";
import { presence } from "./presence.js";
import { visitorDesk } from "./visitor_desk.js";

const LAST_LINE = 60; // px of a page’s end that a message could cover

export function pageScreen() {
  // What draws itself stays out of Alpine's sight: it would watch every part of it.
  const parts = {
    ruler: null,
    link: null,
    measured: { height: 0, view: 0, y: 0, tops: {}, ends: {}, smooth: true },
    drawing: 0, // the frame in which the ruler will be drawn
    keepY: null, // where to scroll a sheet that is being loaded anew
    stops: [], // what N and P go through
    drafts: new Map(), // what is half done with parts that are not chosen just now
    scrolls: false, // whether that is to what was chosen by the screen's own address
  };

  return joined(members(), idField(), planning(), place(parts), markDesk(parts), many(), hopActs(parts), sheetSize(parts), deskView(parts), pageActs(parts), contentsDesk(parts), visitorDesk(), passOn(), menuDesk(), keyboard(parts), drafts(parts), foundAgain(parts), offers(parts), presence(), {
    // Until the page's own state is read, a page with nothing on it.
    state: { page: {}, sections: [], hops: [], into: [], marks: [], changes: [], measures: [], widths: [], shared: [], locked: [], kinds: {}, lists: [], ways: [], led: [], findings: { site: 0, count: 0, groups: [], more: 0 }, links: [], newTabs: [], formNames: {}, forms: {}, counts: {}, left: 0, listHelps: { sections: 0, screens: 0 }, guess: { height: 0, words: 0 } },
    urls: {},
    screens: "",
    hasCloser: false, // whether the ruler can be drawn closer
    isCloser: false,
    smooth: true,
    machine: START, // what is chosen, and what is being done with it
    isAtEnd: false,
    message: "",
    messageUndo: false,
    messageCopies: [], // other forms of the link that was copied
    trouble: "",
    behind: false,
    catching: null, // the page's own state, while it is being read anew
    signedOut: false,
    isReading: true,
    measuredRound: 0, // so that what is said of lengths follows each measuring

    init() {
      this.urls = JSON.parse(document.getElementById("page-urls").textContent);
      parts.ruler = new Ruler(this.$refs.ruler, {
        choose: (kind, number, focus, key) => this.choose(kind, number, { scroll: true, focus, key }),
        goTo: (stop) => this.goTo(stop.number, stop.what ? "place" : "section"),
        over: (number) => this.over(number),
        scroll: (y) => parts.link.tell("scroll", { y }),
        connect: (start, section) => this.connect(start, section),
        drag: (mark, y, end) => parts.link.tell("probe", { mark, y, end }),
      });
      parts.link = new SheetLink(this.$refs.paper.querySelector("iframe"), this.hearing());
      new ResizeObserver(() => this.fit()).observe(this.$refs.column);
      new ResizeObserver(() => this.drawRuler()).observe(this.$refs.ruler);
      window.addEventListener("keydown", (event) => this.shortcut(event));
      this.$watch("machine", (now, before) => {
        if (now.doing !== before.doing) this.goToDoing(now);
      });
      Alpine.effect(() => this.loadFirst(this.firstEnd));
      window.addEventListener("hashchange", () => this.chooseFromAddress());
      this.takeState(JSON.parse(document.getElementById("page-state").textContent), true);
      this.takeCameBy();
      parts.measured = { ...parts.measured, ...knownLengths(this.raw, this.width) };
      this.fit();
      this.hopList = keptHere("hops") ?? this.hopList;
      this.$watch("hopList", (which) => keepHere("hops", which));
      this.$watch("manyKept", (kept) => keepHere("many", kept));
      const isMany = this.takeMany(keptHere("many"));
      parts.scrolls = !isMany && this.chooseFromAddress();
      this.hearLeaving();
      this.hearOthers();
    },

    get chosen() {
      return this.machine.chosen;
    },
    // The keyboard follows what is begun and what is over; hops have ways of their own.
    goToDoing({ doing }) {
      if (doing === "look") this.regain();
      else if (doing !== "hop") this.goToActivity(doing);
    },
    // What is under way with the chosen part, or with the page: "" for nothing.
    get mode() {
      const { doing } = this.machine;
      if (doing === "hop") return this.isPlace ? "hop" : "";
      return ["look", "movePage", "convert", "style", "visitors", "menu", "reword"].includes(doing) ? "" : doing;
    },
    get pageMode() {
      return { movePage: "move", convert: "convert" }[this.machine.doing] ?? "";
    },

    hearing() {
      return {
        ready: () => {
          this.look();
          this.lookAgain();
        },
        measured: (found) => {
          const before = parts.measured;
          const isNew = !sameLengths(before, found);
          parts.measured = found;
          // What is said of where a hop lands follows what covers the view's top.
          if (before.header !== found.header || before.padding !== found.padding) this.lookAgain();
          this.smooth = found.smooth;
          this.hidden = found.hidden;
          this.isReading = false;
          if (parts.keepY !== null) {
            parts.link.tell("scroll", { y: parts.keepY });
            parts.keepY = null;
          }
          this.screens = this.inScreens(found.height);
          this.hasCloser = Ruler.isLong({ height: found.height, screen: this.screen.view });
          this.measuredRound += 1;
          if (parts.scrolls) {
            this.showChosen(true);
            parts.scrolls = false;
          }
          if (isNew) this.drawRuler();
          this.keepMeasure();
        },
        scrolled: ({ y, view }) => {
          parts.measured.y = y;
          parts.measured.view = view;
          // What was done is said where it covers nothing that can't be scrolled out below it.
          this.isAtEnd = y > 0 && y + view > parts.measured.height - LAST_LINE;
          parts.ruler.scrolled(y, view);
        },
        chose: ({ kind, number }) => this.pointed(kind, number),
        looked: ({ number, look }) => this.takeLook(number, look),
        coloured: ({ colour }) => this.takeColour(colour),
        walked: (found) => this.walked(found),
        described: (found) => this.described(found),
        dropped: (found) => this.dropped(found),
        copyLink: ({ number }) => this.copyLinkOf(number),
        blocks: ({ numbers }) => this.takeBlocks(numbers),
        shown: ({ number, shown }) => (this.endHidden = this.end?.number === number && !shown),
        over: ({ number }) => this.over(number, true),
        words: (words) => this.takeWords(words),
        nowords: () => this.isMaking || this.dropWords(), // a hop that is half made waits
        found: ({ any }) => {
          this.trouble = "";
          if (!any) this.soon(() => (this.trouble = "These words are not on this page.")); // said each time
        },
        key: (event) => this.act(event),
        silent: () => {
          this.trouble = "The sheet does not answer: something in this page’s markup stands in its way. Outline, ruler and hops still work; load the page again to try once more.";
        },
        typed: ({ key }) => this.typedInSheet(key),
      };
    },

    // The page as the server has it.

    takeState(state, reload) {
      const before = this.state;
      this.state = { ...state, page: state.pages[state.page], ...wholeHops(state) };
      document.title = `${state.title} · Inner Hop`;
      // The bar above all screens says the same.
      document.querySelector("[data-findings-count]")?.replaceChildren(state.findings.site || "");
      this.addressTyped = this.state.page.path;
      parts.stops = stopsOf(state);
      drawOutline(this.$refs.outline, { stops: parts.stops, frame: frameOf(state) }, this.seconds, {
        choose: (kind, number, focus) => this.choose(kind, number, { scroll: true, focus }),
        over: (number) => this.over(number),
      });
      if (reload || before.sheet === undefined) {
        parts.keepY = reload && parts.measured.height ? parts.measured.y : null;
        this.isReading = true;
        parts.link.load(state.sheet);
      } else {
        this.look();
      }
      this.drawRuler();
    },

    // The hops that the state left out.
    takeMore(found) {
      this.state = { ...this.state, ...found, ...wholeHops(found), page: this.state.page };
      this.look();
      this.drawRuler();
    },

    // The state without Alpine's watch over each of its parts, for what draws it all.
    get raw() {
      return Alpine.raw(this.state);
    },

    // A change that adds no element leaves the sheet's numbers as they are.
    takeDone({ message, state }, undoable = true, reload = false) {
      const moved = reload || state.sections.length !== this.raw.sections.length
        || state.hops.length !== this.state.hops.length
        || state.sections.some((one, at) => one.number !== this.raw.sections[at].number);
      if (moved) this.dropDrafts();
      this.takeState(state, moved);
      this.tell(message, undoable);
      this.behind = false;
    },

    tell(message, undo = false, copies = []) {
      this.message = message;
      this.messageCopies = copies;
      this.messageUndo = undo;
      this.trouble = "";
    },

    refuse(problem) {
      if (!(problem instanceof Told)) throw problem;
      this.trouble = problem.message;
      this.behind = problem.status === 409;
      this.signedOut = problem.status === 401;
    },

    // After someone else's change: the newest text, with all that was typed kept.
    // What is pressed while the page is being read anew waits for it.
    catchUp() {
      this.catching = this.readAnew();
      return this.catching;
    },
    async readAnew() {
      try {
        const { now, state } = await post(this.urls.catchUp, { revision: this.state.revision, numbers: this.atStake });
        this.takeState(state, true);
        this.behind = false;
        this.newsOfOthers = "";
        const lost = await this.findAgain(now);
        this.tell(lost ? "" : "This is the page as it is now. What you typed is still here.");
        this.trouble = lost;
        this.regain();
      } catch (problem) {
        this.refuse(problem);
      }
    },

    look() {
      const { sections, hops, into, page, marks } = this.raw;
      parts.link.tell("look", {
        sections: sections.map(({ number, mark }) => ({ number, mark })),
        hops: hops.map(({ number, kind }) => ({ number, kind })),
        marks: marks.map(({ number, value, empty, twice, made }) => ({ number, value, empty, twice, made })),
        kinds: this.raw.kinds,
        measure: [
          ...hops.map(({ end, to }) => (to?.id === page.id ? end : null)),
          ...into.map(({ end }) => end),
          ...this.raw.lists.map(({ number }) => number),
        ].filter((number) => number !== null),
        scale: this.scale,
        tags: this.showsTags === "on",
      });
      this.showChosen(false);
    },

    keepMeasure() {
      if (document.hidden) return; // laid out for nobody: measured when it is looked at again
      const tops = Object.fromEntries(this.raw.sections.map(({ number }) => [number, parts.measured.tops[number] ?? 0]));
      const known = this.state.measures.find(({ width }) => width === this.width);
      const { height, header, padding, smooth } = parts.measured;
      const sent = { width: this.width, height, tops, header, padding, smooth };
      const { revision } = this.state;
      if (known && Object.entries({ ...sent, revision }).every(([name, value]) => JSON.stringify(known[name]) === JSON.stringify(value))) return;
      this.state.measures = [
        ...this.state.measures.filter(({ width }) => width !== this.width),
        { ...sent, revision: this.state.revision },
      ];
      post(this.urls.measure, sent).catch(() => {}); // a guess on Pages is no loss
    },

    // Choosing.

    // Something in the sheet was pointed at.
    pointed(kind, number) {
      if (this.picking && kind !== "none") return this.pickedPlace(number);
      if (this.isMaking) return kind === "none" || this.endPointedAt(number);
      if (this.isMoving && (kind === "place" || kind === "hop")) return this.moveTo(number);
      const isSection = this.raw.sections.some((one) => one.number === number);
      this.choose(kind === "place" && isSection ? "section" : kind, number, { focus: true });
    },
    choose(kind, number, { scroll = false, focus = false, key = null, stepping = false, side = null } = {}) {
      const hop = kind === "hop" ? this.hopOf(number, key) : null;
      if (kind === "hop" && !hop) return;
      this.keepDraft();
      if (this.chosen.kind === "list") this.leaveList();
      if (this.id.renames || this.id.isOwn) this.id = NO_ID;
      // The field for an ID opens at once, or when the sheet has said what the part is: not twice.
      const isFieldDue = kind === "section" || Boolean(side);
      this.machine = choose(this.machine, kind, { number, key: hop?.key ?? null, stepping, isPointed: focus && !isFieldDue });
      this.dropPlan();
      this.tell("");
      this.over(null);
      if (this.takeDraft()) this.tell("What you had typed here is still here.");
      this.keepInAddress();
      this.showChosen(scroll);
      this.drawRuler();
      if (kind !== "none") this.goToDesk();
      if (this.isPlace) {
        parts.link.tell("describe", { number });
        if (isFieldDue) this.openIdField(focus, side);
      }
      if (kind === "hop") this.findInClass(this.hop);
      this.soon(() => {
        this.$refs.desk.scrollTop = 0;
        if (focus && (kind === "hop" || (this.isPlace && this.markHere))) this.deskTitle()?.focus();
      });
    },
    // Once what has just been asked for is shown, which Alpine does a moment later.
    soon(act) {
      this.$nextTick(() => requestAnimationFrame(() => setTimeout(act)));
    },
    chooseNothing() {
      const { number } = this.chosen;
      this.choose("none", null);
      this.backToRow(number);
      parts.link.tell("clear");
    },
    // After a change: the mark with that ID, wherever it stands now.
    chooseMark(value) {
      const mark = value ? this.raw.marks.find((one) => one.value === value) : null;
      if (!mark) return this.chooseQuietly("none", null);
      const isSection = this.raw.sections.some(({ number }) => number === mark.number);
      this.chooseQuietly(isSection ? "section" : "place", mark.number);
    },
    // Without wiping the line that says what was done.
    chooseQuietly(kind, number, key = null) {
      const { message, messageUndo } = this;
      this.choose(kind, number, key === null ? {} : { key });
      this.tell(message, messageUndo);
    },
    // What is said of the chosen part may have changed with the page.
    lookAgain() {
      if (this.isPlace) parts.link.tell("describe", { number: this.chosen.number });
    },
    showChosen(scroll) {
      const inPage = this.chosen.kind === "hop" ? this.hop?.from.id === this.state.page.id : true;
      const number = inPage ? this.chosen.number : (this.hop?.end ?? null);
      parts.link.tell("choose", { number, section: this.chosen.kind === "section", scroll });
      for (const row of this.$refs.outline.querySelectorAll(".outline-row.on")) row.classList.remove("on");
      if (this.chosen.number !== null) rowOf(this.$refs.outline, this.chosen.number)?.classList.add("on");
    },
    over(number, fromSheet = false) {
      for (const lit of this.$root.querySelectorAll(".lit")) lit.classList.remove("lit");
      if (number !== null) {
        this.$refs.outline.querySelector(`[data-n="${number}"]`)?.classList.add("lit");
        for (const row of this.$root.querySelectorAll(`[data-lights="${number}"]`)) row.classList.add("lit");
        parts.ruler.layer.querySelector(`[data-n="${number}"]`)?.classList.add("lit");
        parts.ruler.layer.querySelector(`[data-key="${this.state.page.id}-${number}"]`)?.classList.add("lit");
      }
      if (!fromSheet) parts.link.tell("light", { numbers: number === null ? [] : [number] });
    },
    chooseFromAddress() {
      const hash = window.location.hash.slice(1);
      if (!hash) return false;
      const list = /^list-?(\d*)$/.exec(hash);
      if (list) this.startList(list[1] ? Number(list[1]) : null);
      if (list) return true;
      const start = /^hop-(\d+)$/.exec(hash);
      if (start) this.choose("hop", Number(start[1]), { key: `${this.state.page.id}-${start[1]}`, scroll: true });
      if (start) return true;
      let asked = hash;
      try {
        asked = decodeURIComponent(hash);
      } catch {
        // a stray percent sign: take it as it stands
      }
      const found = this.raw.sections.find((one) => one.mark === asked || `n${one.number}` === asked);
      if (found) this.choose("section", found.number, { scroll: true });
      if (found) return true;
      const mark = this.raw.marks.find((one) => one.value === asked || `n${one.number}` === asked);
      if (mark) this.choose("place", mark.number, { scroll: true });
      return Boolean(mark);
    },

    // What is found on the page: its place, if it has one.
    showFinding({ number, isLink }) {
      if (number === null) return;
      if (isLink && this.raw.hops.some((one) => one.number === number)) this.choose("hop", number, { key: `${this.state.page.id}-${number}`, scroll: true });
      else this.choose(this.raw.sections.some((one) => one.number === number) ? "section" : "place", number, { scroll: true });
    },
    // Once for all that is asked in one moment: a page may have thousands of sections.
    drawRuler() {
      cancelAnimationFrame(parts.drawing);
      parts.drawing = requestAnimationFrame(() => this.drawRulerNow());
    },
    turnCloser() {
      this.isCloser = !this.isCloser;
      parts.ruler.turnClose(this.isCloser);
    },
    get closerPressed() {
      return String(this.isCloser);
    },
    // The parts with an ID that another has before them.
    get seconds() {
      return new Set(this.raw.marks.filter((one) => one.twice).map((one) => one.number));
    },
    drawRulerNow() {
      if (!parts.ruler || !parts.measured.height) return;
      const { page, sections, hops, into } = this.raw;
      const { section } = this;
      parts.ruler.draw({
        ...parts.measured,
        screen: this.screen.view,
        pageId: page.id,
        sections,
        hops,
        into,
        marks: this.raw.marks.filter(({ empty }) => empty),
        stops: parts.stops,
        others: parts.stops.filter(({ what }) => what && what !== "marker"),
        twice: this.seconds,
        chosen: { ...this.chosen },
        lists: this.raw.lists,
        ways: this.raw.ways,
        words: this.words?.y === undefined ? null : { y: this.words.y },
        section: section ? { numbers: this.numbersOf(section), page: page.id } : null,
        lit: null,
      });
      parts.ruler.showReader(this.readerWindow);
    },
  });
}

// How long the page is until the sheet has measured it: as it was last time, or as long as
// its words make it, so that the ruler is there at once.
function knownLengths({ measures, revision, sections, guess }, width) {
  const known = measures.find((one) => one.width === width && one.revision === revision);
  if (known) return { height: known.height, tops: known.tops };
  const all = Math.max(1, guess.words);
  let before = all - sections.reduce((sum, { words }) => sum + words, 0);
  const tops = {};
  for (const { number, words } of sections) {
    tops[number] = (guess.height * Math.max(0, before)) / all;
    before += words;
  }
  return { height: guess.height, tops };
}

// Whether the ruler would be drawn as it is.
function sameLengths(one, other) {
  const drawn = ({ height, view, tops, ends }) => JSON.stringify([height, view, tops, ends]);
  return drawn(one) === drawn(other);
}

// Hops with their pages at hand, and what the server leaves out where it is empty.
function wholeHops({ pages, hops, into }) {
  const whole = (hop) => ({
    why: "", newTab: false, notes: [], meant: [], endTitle: "", ...hop, key: `${hop.from}-${hop.number}`, from: pages[hop.from], to: pages[hop.to] ?? null,
  });
  return { hops: hops.map(whole), into: into.map(whole) };
}
