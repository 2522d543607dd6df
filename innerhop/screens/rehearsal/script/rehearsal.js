// The rehearsal: pages measured in hidden frames, then every hop walked at each width in a
// window as visitors have it, each held against what was computed.
import { folded, walksOf } from "./alike.js";
import { get, post, Told } from "../../frame/script/ask.js";
import { firstScreen } from "../../frame/script/first_screen.js";
import { keepHere, keptHere } from "../../frame/script/kept_here.js";
import { measured } from "./measuring.js";
import { WalkerLink } from "./walker_link.js";

const NO_WALKER = "The hops are walked in a window of their own, and the browser keeps it back or it was closed. Allow it for this address, and start again.";

export function rehearsal() {
  const parts = { link: null, root: null, pages: new Map(), visited: new Set() };
  return {
    state: JSON.parse(document.getElementById("rehearsal-state").textContent),
    roomWhere: "page", // or on each target
    roomSheet: "", // the style sheet that the line goes into, or the pages' heads
    doing: "", // measure, walk, or nothing
    done: 0,
    total: 0,
    now: "", // the row that is being walked
    message: "",
    trouble: "",
    change: null,
    undoUrl: "",
    busy: false,
    hasRun: false,

    init() {
      parts.root = this.$root;
      if (this.state.measure.length) this.measure();
      else if (keptHere("verdict")) this.renew(keptHere("verdict"));
    },
    get known() {
      return this.state.counts.filter(({ count }) => count);
    },
    get summary() {
      const { landings } = this.state;
      const words = { nowhere: "go nowhere", shut: "in closed parts", covered: "covered", cut: "with the heading cut off", gap: "too low", short: "at the page’s end", clear: "clear" };
      if (!landings) return "Nothing is measured yet.";
      return `Of ${landings} landings, ${this.known.map(({ verdict, count }) => `${count} ${words[verdict]}`).join(", ")}.`;
    },
    get unrunWords() {
      const pages = this.state.unrun === 1 ? "One page was" : `${this.state.unrun} pages were`;
      return `${pages} measured with their own scripts at rest, which may hide or shrink a header for visitors. Walk the hops to have that measured too.`;
    },
    share({ count }) {
      return { flexGrow: count };
    },
    show(verdict) {
      const shown = this.state.verdict === verdict ? "" : verdict;
      keepHere("verdict", shown);
      return this.renew(shown);
    },
    isShown(verdict) {
      return this.state.verdict === verdict ? "true" : "false";
    },
    get moreWords() {
      const next = Math.min(this.state.more, 300);
      return `Show the next ${next} of ${this.state.more} more`;
    },
    async showMore() {
      const next = await this.ask(this.state.rows.length, this.state.verdict);
      Object.assign(this.state, { rows: [...this.state.rows, ...next.rows], more: next.more });
    },
    get progressWords() {
      return this.doing === "measure" ? `${this.done} of ${this.total} measured` : `${this.done} of ${this.total} walked`;
    },
    // Said once at the start, once at the end, and once for each filter.
    get heard() {
      if (this.doing) return this.doing === "measure" ? "Measuring where readers land…" : "Walking the hops…";
      const { verdict } = this.state;
      const shown = this.known.find((one) => one.verdict === verdict);
      if (verdict) return `Landings of this kind, ${shown?.name ?? verdict}: ${shown?.count ?? 0}.`;
      return this.hasRun ? "That is done; what was found is shown." : "";
    },
    get shownRows() {
      return folded(this.state.rows);
    },
    whereOf({ where, pageTitle, alike }) {
      if (alike.length === 1) return where || pageTitle;
      return `${where}, on ${alike.length} pages`;
    },
    get isIdle() {
      return this.doing === "";
    },
    get walkVerb() {
      if (this.state.isWalked) return "Walk every hop again";
      const walked = this.state.rows.some((row) => Object.keys(row.walks).length);
      return walked ? "Walk the rest" : "Walk every hop";
    },

    paint(element, row, width) {
      element.replaceChildren(firstScreen(row.landings[width.width], width));
    },
    says(row, width) {
      return row.landings[width.width]?.says ?? "not measured";
    },
    verdictOf(row, width) {
      return row.landings[width.width]?.verdict ?? "";
    },
    walkedWords(row) {
      if (row.alike.some(({ key }) => key === this.now)) return "walking now…";
      const walks = Object.values(walksOf(row));
      if (!walks.length) return "not clicked in a browser yet";
      const off = walks.find(({ agrees }) => !agrees);
      const wanted = this.state.widths.length;
      const where = walks.length >= wanted ? `walked at all ${["", "", "", "three", "four"][wanted]}` : `walked at ${walks.length} of ${wanted}`;
      return off ? `${where}; ${off.trouble}` : `${where}, as computed`;
    },
    isOff(row) {
      return Object.values(walksOf(row)).some(({ agrees }) => !agrees);
    },

    // One thing after another, with how far it has come; what is found is kept at once.
    async run(doing, jobs, total) {
      if (!this.isIdle) return;
      Object.assign(this, { doing, done: 0, total, trouble: "", message: "" });
      try {
        if (doing === "walk") {
          parts.link = new WalkerLink(this.state.walker);
          await parts.link.ready;
        }
        for await (const job of jobs) {
          if (this.doing !== doing) break; // stopped
          await job();
          this.done += 1;
        }
      } catch (problem) {
        if (problem instanceof Told) this.trouble = problem.message;
        else this.trouble = NO_WALKER;
      }
      parts.link?.end();
      parts.link = null;
      Object.assign(this, { now: "", doing: "", hasRun: true });
      await this.renew();
    },
    // The hops from one on, worst first; of one verdict alone, if one is given.
    ask(from, verdict) {
      const { url, width } = parts.root.dataset;
      const { page } = this.state;
      return get(url, { from, ...(verdict && { verdict }), ...(page && { page }), ...(width && { width }) });
    },
    async renew(verdict = this.state.verdict) {
      this.state = await this.ask(0, verdict);
    },
    stop() {
      this.doing = "";
    },
    widthOf(number) {
      return this.state.widths.find(({ width }) => width === number);
    },
    measure() {
      const total = this.state.measure.reduce((count, { widths }) => count + widths.length, 0);
      return this.run("measure", this.measures(), total);
    },
    async *measures() {
      for (const page of this.state.measure) {
        const widths = page.widths.map((number) => this.widthOf(number));
        for await (const _ of measured(page, widths)) yield () => null;
      }
    },
    // All that are listed, those too that are not shown yet; at each width at which nobody
    // has walked them as they are now, or at all where somebody has.
    walkAll() {
      parts.pages.clear();
      parts.visited.clear();
      return this.run("walk", this.walks(), (this.state.rows.length + this.state.more) * this.state.widths.length);
    },
    async *walks() {
      const seen = new Set();
      const { isWalked } = this.state;
      // What is measured on the way may put hops into another order, so that one is passed
      // over: a second look at the list finds it.
      for (const again of this.state.more ? [false, true] : [false]) {
        let { rows, more } = again ? await this.ask(0, this.state.verdict) : this.state;
        for (let from = 0; rows.length; ) {
          for (const row of rows) {
            for (const width of this.state.widths) {
              const key = `${row.key} ${width.width}`;
              if (seen.has(key)) continue;
              seen.add(key);
              if (row.walks[width.width] && !isWalked) this.done += 1;
              else yield () => this.walkOne(row, width);
            }
          }
          from += rows.length;
          ({ rows, more } = more ? await this.ask(from, this.state.verdict) : { rows: [], more: 0 });
        }
      }
    },
    // As visitors have it, the page's own scripts running: once for each page and width.
    async measureVisited(page, { width, view }) {
      const key = `${page} ${width}`;
      if (page === null || parts.visited.has(key)) return;
      parts.visited.add(key);
      const about = parts.pages.get(page) ?? (await get(parts.root.dataset.aboutUrl, { page }));
      parts.pages.set(page, about);
      const { path, marks, revision, url } = about;
      const found = await parts.link.order("layout", { path, width, height: view, marks });
      if (found.view) await post(`${url}layout/`, { revision, width, view: found.view, targets: found.targets });
    },
    async walkOne(row, { width, view }) {
      this.now = row.key;
      await this.measureVisited(row.endPage, { width, view });
      const { path, revision, number, href, nth, id } = row;
      const found = await parts.link.order("walk", { path, width, height: view, hop: { href, nth, id } });
      row.walks = { ...row.walks, [width]: await post(row.walkUrl, { revision, width, number, found }) };
    },

    // What mends most.
    get room() {
      return this.state.mends.room;
    },
    get roomWords() {
      return this.effectWords(this.room ?? { clear: 0, worse: 0 });
    },
    effectWords({ clear, worse }) {
      return `${clear} landing${clear === 1 ? " becomes" : "s become"} clear, ${worse ? `${worse} get worse` : "none gets worse"}`;
    },
    get headerWords() {
      return `It is ${(this.room?.headers ?? []).join(", ")} px tall at the three common widths.`;
    },
    get roomVerb() {
      if (this.roomSheet) return "Save it in the style sheet";
      return this.room?.all ? "Save it on all pages" : "Save it";
    },
    mendRoom() {
      const { url, revision, undo, all } = this.room;
      const sheet = this.roomSheet ? Number(this.roomSheet) : null;
      return this.act(url, { revision, all, room_on: this.roomWhere, sheet }, undo);
    },
    takeOut({ url, revision, undo }) {
      return this.act(url, { revision }, undo);
    },
    lineWords({ count }) {
      return count === 1 ? "One empty line stands" : `${count} empty lines stand`;
    },
    mend({ url, sent, undo }) {
      return this.act(url, sent, undo);
    },
    moveMark({ url, revision, undo, number }) {
      return this.act(url, { revision, number }, undo);
    },
    undoLast() {
      return this.act(this.undoUrl, { change: this.change }, "");
    },
    async act(url, sent, undo) {
      if (this.busy) return;
      Object.assign(this, { busy: true, trouble: "", message: "" });
      try {
        const { message, change } = await post(url, sent, { bare: true });
        Object.assign(this, { message, change, undoUrl: undo });
        await this.renew();
        if (this.state.measure.length) await this.measure();
        this.message = message;
      } catch (problem) {
        if (!(problem instanceof Told)) throw problem;
        this.trouble = problem.message;
      } finally {
        this.busy = false;
      }
    },
  };
}
