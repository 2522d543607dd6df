// Words of a site's pages that name a section and lead nowhere, looked for some pages at a
// time; each made a hop from here.
import { get, post, Told } from "../../frame/script/ask.js";

const ENOUGH = 200; // at a time: who has made these looks on

export function siteOffers() {
  const parts = { data: {} };
  return {
    pages: [], // those with offers
    next: 0, // after which page to look on; null where all were
    done: 0,
    total: 0,
    isRunning: false,
    hasLooked: false,
    busy: false,
    message: "",
    trouble: "",
    change: null,
    undoUrl: "",
    changed: [], // the pages that the last one made a hop on, or marked a section of

    init() {
      parts.data = { ...this.$el.dataset };
    },
    get rows() {
      return this.pages.flatMap(({ page, title, url, revision, offers }) =>
        offers.map((one, at) => ({ ...one, key: `${page}-${revision}-${at}`, from: title, placeUrl: `${url}#n${one.number}`, url, revision, fromPage: page })));
    },
    get lookVerb() {
      if (!this.hasLooked) return "Look for them";
      return this.next === null ? "Look again" : "Look on";
    },
    get progress() {
      return `${this.done} of ${this.total} pages`;
    },
    ask(query) {
      return get(parts.data.url, query);
    },
    async look() {
      if (this.next === null) Object.assign(this, { next: 0, done: 0, pages: [] });
      Object.assign(this, { isRunning: true, trouble: "", message: "", change: null });
      const { page } = parts.data;
      const most = this.rows.length + ENOUGH;
      try {
        while (this.isRunning && this.next !== null && this.rows.length < most) {
          const found = await this.ask(page ? { page } : { after: this.next });
          this.pages = [...this.pages, ...found.pages.filter(({ offers }) => offers.length)];
          Object.assign(this, { next: found.next, total: page ? 1 : found.total, done: this.done + found.pages.length });
        }
        this.message = this.found;
      } catch (problem) {
        this.refused(problem);
      }
      Object.assign(this, { isRunning: false, hasLooked: true });
    },
    get found() {
      const { length } = this.rows;
      const where = this.next === null ? "" : ` so far, on ${this.progress}`;
      if (!length) return `No words name a section and lead nowhere${where}.`;
      return `${length} place${length === 1 ? " names a section and leads" : "s name a section and lead"} nowhere${where}.`;
    },
    stop() {
      this.isRunning = false;
    },
    refused(problem) {
      if (!(problem instanceof Told)) throw problem;
      this.trouble = problem.message;
    },
    take({ start, stop, end, url, revision, fromPage }) {
      return this.act(`${url}act/hop/`, { start, stop, end, revision }, `${url}undo/`, [fromPage, end.page]);
    },
    undoLast() {
      return this.act(this.undoUrl, { change: this.change }, "", this.changed);
    },
    // These pages have other words and numbers then: they alone are looked through again.
    async act(url, sent, undoUrl, changed) {
      if (this.busy) return;
      Object.assign(this, { busy: true, trouble: "", message: "" });
      try {
        const { message, change } = await post(url, sent, { bare: true });
        Object.assign(this, { message, undoUrl, change: undoUrl ? change : null, changed });
        for (const page of new Set(changed)) await this.again(page);
      } catch (problem) {
        this.refused(problem);
      }
      this.busy = false;
    },
    async again(page) {
      const isListed = this.done === this.total || this.pages.some((one) => one.page === page);
      if (!isListed) return;
      const { pages } = await this.ask({ page });
      const others = this.pages.filter((one) => one.page !== page);
      this.pages = [...others, ...pages].filter(({ offers }) => offers.length).sort((a, b) => a.page - b.page);
    },
  };
}
