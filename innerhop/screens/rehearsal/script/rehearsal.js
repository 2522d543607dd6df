// The rehearsal: pages measured in hidden frames, then every hop walked at each width in a
// window as visitors have it, each held against what was computed.
import { get, post, Told } from "../../frame/script/ask.js";
import { hiddenSheet } from "../../frame/script/hidden_sheet.js";
import { WalkerLink } from "./walker_link.js";

const HEIGHT = 74; // px of a drawn first screen
const NO_WALKER = "The hops are walked in a window of their own, and the browser keeps it back or it was closed. Allow it for this address, and start again.";

export function rehearsal() {
  const parts = { link: null, root: null };
  return {
    state: JSON.parse(document.getElementById("rehearsal-state").textContent),
    verdict: "", // the one that is shown alone
    doing: "", // measure, walk, or nothing
    done: 0,
    total: 0,
    now: "", // the row that is being walked
    message: "",
    trouble: "",
    change: null,
    undoUrl: "",
    busy: false,

    init() {
      parts.root = this.$root;
      if (this.state.measure.length) this.measure();
    },
    get rows() {
      const { rows } = this.state;
      return this.verdict ? rows.filter((row) => Object.values(row.landings).some(({ verdict }) => verdict === this.verdict)) : rows;
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
    share({ count }) {
      return { flexGrow: count };
    },
    show(verdict) {
      this.verdict = this.verdict === verdict ? "" : verdict;
    },
    isShown(verdict) {
      return this.verdict === verdict ? "true" : "false";
    },
    get progressWords() {
      return this.doing === "measure" ? `${this.done} of ${this.total} measured` : `${this.done} of ${this.total} walked`;
    },
    get isIdle() {
      return this.doing === "";
    },
    get walkVerb() {
      const walked = this.state.rows.some((row) => Object.keys(row.walks).length);
      return walked ? "Walk what is not walked yet" : "Walk every hop";
    },

    // A drawn first screen: what covers the top, the first line, what is covered of it.
    screenOf(row, width) {
      const landing = row.landings[width.width];
      const scale = HEIGHT / width.view;
      const wide = Math.round(width.width * scale);
      const under = landing ? landing.under * scale : 0;
      const seen = landing ? landing.seen * scale : 0;
      return { wide: Math.max(wide, 34), under, seen: Math.min(Math.max(seen, 1), HEIGHT - 6), isNowhere: landing?.verdict === "nowhere", isKnown: Boolean(landing), isCovered: landing?.verdict === "covered" || landing?.verdict === "cut" };
    },
    svgOf(row, width) {
      const { wide, under, seen, isNowhere, isKnown, isCovered } = this.screenOf(row, width);
      const lines = [0, 1, 2, 3, 4].map((at) => seen + 14 + at * 8).filter((y) => y > under + 2 && y < HEIGHT - 4);
      const parts = [`M0.500 0.500h${wide - 1}v${HEIGHT - 1}h${1 - wide}z`];
      return { wide, frame: parts[0], under: isKnown && !isNowhere ? under : 0, seen, line: Math.max(10, wide * 0.45), lines: isKnown && !isNowhere ? lines : [], isNowhere, isCovered, cross: `M${wide / 2 - 9} 28l18 18m0 -18l-18 18` };
    },
    draw(row, width) {
      const one = this.svgOf(row, width);
      const bars = one.lines.map((y) => `<rect x="5" y="${y}" width="${one.wide - 12}" height="2.500" fill="var(--line)"/>`).join("");
      const head = one.under ? `<rect x="0.500" y="0.500" width="${one.wide - 1}" height="${one.under}" fill="var(--ink)" opacity="0.820"/>` : "";
      const heading = one.isNowhere || !one.lines.length && !one.under ? "" : `<rect x="5" y="${one.seen}" width="${one.line}" height="6" rx="1.500" fill="${one.isCovered ? "var(--broken)" : "var(--good)"}"/>`;
      const cross = one.isNowhere ? `<path d="${one.cross}" stroke="var(--broken)" stroke-width="2" fill="none"/>` : "";
      return `<svg width="${one.wide}" height="${HEIGHT}" viewBox="0 0 ${one.wide} ${HEIGHT}" aria-hidden="true"><path d="${one.frame}" fill="var(--card)" stroke="var(--line)"/>${bars}${heading}${head}${cross}</svg>`;
    },
    paint(element, row, width) {
      // Made of numbers of our own alone; drawn here since the strict policy has no x-html.
      const made = new DOMParser().parseFromString(this.draw(row, width).replace("<svg", '<svg xmlns="http://www.w3.org/2000/svg"'), "image/svg+xml");
      element.replaceChildren(document.importNode(made.documentElement, true));
    },
    says(row, width) {
      return row.landings[width.width]?.says ?? "not measured";
    },
    verdictOf(row, width) {
      return row.landings[width.width]?.verdict ?? "";
    },
    walkedWords(row) {
      if (this.now === row.key) return "walking now…";
      const walks = Object.values(row.walks);
      if (!walks.length) return "not walked yet";
      const off = walks.find(({ agrees }) => !agrees);
      const where = walks.length === this.state.widths.length ? "walked at all three" : `walked at ${walks.length} of ${this.state.widths.length}`;
      return off ? `${where}; ${off.trouble}` : `${where}, as computed`;
    },
    isOff(row) {
      return Object.values(row.walks).some(({ agrees }) => !agrees);
    },

    // One thing after another, with how far it has come; what is found is kept at once.
    async run(doing, jobs) {
      if (!this.isIdle) return;
      Object.assign(this, { doing, done: 0, total: jobs.length, trouble: "", message: "" });
      try {
        if (doing === "walk") {
          parts.link = new WalkerLink(this.state.walker);
          await parts.link.ready;
        }
        for (const job of jobs) {
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
      this.now = "";
      this.doing = "";
      await this.renew();
    },
    async renew() {
      this.state = await get(parts.root.dataset.url, this.state.page ? { page: this.state.page } : {});
    },
    stop() {
      this.doing = "";
    },
    widthOf(number) {
      return this.state.widths.find(({ width }) => width === number);
    },
    measure() {
      const jobs = this.state.measure.flatMap((page) => page.widths.map((number) => () => this.measureOne(page, this.widthOf(number))));
      return this.run("measure", jobs);
    },
    // In a hidden frame, in the sheet's own sandbox.
    async measureOne({ sheet, marks, url, revision }, { width, view }) {
      const told = await hiddenSheet(sheet, width, { innerHop: "layout", marks }, view).catch(() => null);
      if (told) await post(`${url}layout/`, { revision, width, view: told.layout.view, targets: told.layout.targets });
    },
    walkAll() {
      const jobs = this.state.rows.flatMap((row) => this.state.widths.filter(({ width }) => !row.walks[width]).map((width) => () => this.walkOne(row, width)));
      return this.run("walk", jobs);
    },
    async walkOne(row, { width, view }) {
      this.now = row.key;
      const { path, revision, number, href, nth, id } = row;
      const found = await parts.link.order("walk", { path, width, height: view, hop: { href, nth, id } });
      row.walks = { ...row.walks, [width]: await post(row.walkUrl, { revision, width, number, found }) };
    },

    // What mends most.
    get room() {
      return this.state.mends.room;
    },
    get roomWords() {
      const { clear, worse } = this.room ?? { clear: 0, worse: 0 };
      return `${clear} landing${clear === 1 ? " becomes" : "s become"} clear, ${worse ? `${worse} get worse` : "none gets worse"}`;
    },
    get headerWords() {
      return `It is ${(this.room?.headers ?? []).join(", ")} px tall at the three widths.`;
    },
    mendRoom() {
      const { url, revision, undo, all } = this.room;
      return this.act(url, { revision, all }, undo);
    },
    mend({ url, revision, undo, number, page, id }) {
      return this.act(url, { revision, number, end: { page, id }, all: true }, undo);
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
