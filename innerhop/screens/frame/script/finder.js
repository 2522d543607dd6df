// A search field over every page, section and mark of the site. In the bar it
// goes where it finds; on the desk it chooses the end of a hop.
import { get } from "./ask.js";

let made = 0;

export function finder() {
  made += 1;
  const name = `found-${made}`;
  return {
    asked: "",
    found: [],
    at: -1,
    isOpen: false,
    answered: null, // what `found` is the answer to
    waiting: null, // what has been asked, and the answer that is on its way

    init() {
      // On the desk the page's own sections are there before anything is typed.
      if (this.$el.dataset.open) this.ask();
    },
    // Asking again for the same words while the answer is on its way waits for it.
    ask() {
      const q = this.asked;
      if (!q.trim() && this.$root.dataset.pages) return this.close();
      if (this.waiting?.q !== q) this.waiting = { q, answer: this.fetch(q) };
      return this.waiting.answer;
    },
    async fetch(q) {
      const { url, near, pages } = this.$root.dataset;
      const answer = await get(url, { q, near: near ?? "", pages: pages ?? "" }).catch(() => null);
      if (this.waiting?.q !== q) return; // a late answer moves nothing
      this.waiting = null;
      if (!answer) return;
      this.answered = q;
      this.found = answer.found;
      this.at = answer.found.length ? 0 : -1;
      this.isOpen = true;
    },
    close() {
      this.isOpen = false;
      this.at = -1;
    },
    key(event) {
      const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
      if (step && this.found.length) {
        event.preventDefault();
        this.at = (this.at + step + this.found.length) % this.found.length;
        this.$nextTick(() => document.getElementById(this.active)?.scrollIntoView({ block: "nearest" }));
      } else if (event.key === "Enter") {
        event.preventDefault();
        this.takeBest();
      } else if (event.key === "Escape") {
        event.stopPropagation();
        this.asked = "";
        if (this.$root.dataset.pages) this.close();
        else this.ask();
      }
    },
    // Enter may come before the answer to what was typed last: wait for it.
    async takeBest() {
      if (this.answered !== this.asked) await this.ask();
      if (this.at >= 0 && this.answered === this.asked) this.take(this.at);
    },
    take(at) {
      const one = this.found[at];
      if (this.$root.dataset.pages) {
        const hash = one.id ? `#${encodeURIComponent(one.id)}` : one.n === null ? "" : `#n${one.n}`;
        this.close();
        this.asked = "";
        this.$refs.field.blur();
        window.location.assign(one.url + hash);
      } else {
        this.$dispatch("end-chosen", { ...one });
      }
    },
    get nothing() {
      return this.isOpen && this.found.length === 0;
    },
    get active() {
      return this.at >= 0 ? this.idOf(this.at) : "";
    },
    idOf(at) {
      return `${name}-${at}`;
    },
    isAt(at) {
      return at === this.at ? "true" : "false";
    },
    addressOf(one) {
      if (one.kind === "page") return one.path;
      return one.id ? `#${one.id}` : "";
    },
    placeOf(one) {
      const where = one.here ? "this page" : one.pageTitle;
      if (one.kind === "page") return "page";
      return one.id ? where : `${where} · no mark yet`;
    },
  };
}
