// A search field over every page, section and mark of the site. In the bar it
// goes where it finds; on the desk it chooses the end of a hop.
import { get } from "./ask.js";

let made = 0;

// Where nothing was asked for, marks of headers and footers wait in one row, opened like
// any other row is taken.
export function folded(found) {
  const rows = found.filter(({ shared }) => shared);
  if (!rows.length) return found;
  const title = `${rows.length === 1 ? "1 mark" : `${rows.length} marks`} in parts that pages share`;
  const fold = { kind: "fold", title: `Show ${title}`, id: "", number: null, page: null, rows };
  return [...found.filter(({ shared }) => !shared), fold];
}

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
    message: "", // what a typed address was understood as
    leading: "", // the words that are to lead there: by a name that no screen around it has
    inside: null, // the page whose sections are being gone through

    init() {
      if (this.$el.dataset.pages) this.hearSlash();
      // On the desk the page's own sections are there before anything is typed: asked for
      // once the field is seen, since many screens never show it.
      if (!this.$el.dataset.open) return;
      const seen = new IntersectionObserver((entries) => {
        if (!entries.some(({ isIntersecting }) => isIntersecting)) return;
        seen.disconnect();
        if (this.answered === null) this.ask();
      });
      seen.observe(this.$el);
    },
    // "/" leads to the field in the bar, on every screen, unless single keys are off.
    hearSlash() {
      window.addEventListener("keydown", (event) => {
        const { key, ctrlKey, metaKey, altKey, target } = event;
        if (key !== "/" || ctrlKey || metaKey || altKey || event.defaultPrevented) return;
        if (target.closest?.("input, textarea, select, dialog[open]")) return;
        if (localStorage.getItem("innerhop single keys") === "off") return;
        event.preventDefault();
        this.$refs.field.focus();
      });
    },
    // Asking again for the same words while the answer is on its way waits for it.
    ask() {
      const q = this.asked;
      if (!q.trim() && this.$root.dataset.pages) return this.close();
      if (this.waiting?.q !== q) this.waiting = { q, answer: this.fetch(q) };
      return this.waiting.answer;
    },
    // On the desk, from where the hop starts: pages are ends too, and an address is read.
    get query() {
      const { near, pages, from, menu } = this.$root.dataset;
      if (from && !this.inside) return { near, from, pages: "1", ...(menu && { menu }) };
      return { near: this.inside?.page ?? near ?? "", from: from ?? "", pages: pages ?? "" };
    },
    async fetch(q) {
      const words = q.trim() ? "" : this.leading;
      const answer = await get(this.$root.dataset.url, { q, ...this.query, ...(words && { words }) }).catch(() => null);
      if (this.waiting?.q !== q) return; // a late answer moves nothing
      this.waiting = null;
      if (!answer) return;
      this.answered = q;
      const found = this.inside ? answer.found.filter(({ page }) => page === this.inside.page) : answer.found;
      this.found = q.trim() ? found : folded(found);
      this.message = answer.message;
      this.at = this.found.length ? 0 : -1;
      this.isOpen = true;
    },
    close() {
      this.isOpen = false;
      this.at = -1;
      this.waiting = null; // an answer on its way opens nothing any more
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
      } else if (event.key === "ArrowRight" && this.$root.dataset.from && this.at >= 0 && this.isCaretAtEnd(event.target)) {
        event.preventDefault();
        this.enterPage(this.at);
      } else if (event.key === "ArrowLeft" && this.inside && event.target.selectionStart === 0) {
        event.preventDefault();
        this.leavePage();
      } else if (event.key === "Escape" && this.asked) {
        event.stopPropagation();
        this.asked = "";
        if (this.$root.dataset.pages) this.close();
        else this.ask();
      }
    },
    isCaretAtEnd({ selectionStart, value }) {
      return selectionStart === value.length && !this.inside;
    },
    // The sections of one page, in order.
    enterPage(at) {
      const { page, pageTitle } = this.found[at];
      if (page === null) return;
      this.inside = { page, title: pageTitle };
      this.asked = "";
      this.waiting = null;
      return this.ask();
    },
    leavePage() {
      this.reset();
    },
    reset(event) {
      this.leading = event?.detail?.words ?? this.leading;
      Object.assign(this, { inside: null, asked: "", message: "", waiting: null });
      return this.ask();
    },
    // Enter may come before the answer to what was typed last: wait for it.
    async takeBest() {
      if (this.answered !== this.asked) await this.ask();
      if (this.at >= 0 && this.answered === this.asked) this.take(this.at);
    },
    // What was found for other words than stand there now can't be taken any more.
    get isOld() {
      return this.answered !== null && this.answered !== this.asked;
    },
    // Pointed at, a place of this page is shown there.
    pointAt(place) {
      const one = place === null ? null : this.found[place];
      this.$dispatch("end-over", { number: one?.here ? one.number : null });
    },
    take(at) {
      if (this.isOld) return;
      const one = this.found[at];
      if (one.kind === "fold") return this.unfold(at);
      if (this.$root.dataset.pages) {
        const hash = one.id ? `#${encodeURIComponent(one.id)}` : one.number === null ? "" : `#n${one.number}`;
        this.close();
        this.asked = "";
        this.$refs.field.blur();
        window.location.assign(one.url + hash);
      } else {
        this.$dispatch("end-chosen", { ...one });
      }
    },
    unfold(at) {
      this.found = [...this.found.slice(0, at), ...this.found[at].rows];
      this.$refs.field?.focus();
    },
    // The keyboard is elsewhere now.
    left(event) {
      if (!this.$root.contains(event.relatedTarget)) this.close();
    },
    // Heard by those who don't see the list.
    get counted() {
      if (!this.isOpen || this.answered === null || !this.asked.trim()) return "";
      const { length } = this.found;
      return length === 0 ? "Nothing found." : `${length === 1 ? "1 place" : `${length} places`} found.`;
    },
    get nothing() {
      return this.isOpen && this.found.length === 0;
    },
    get nothingAsked() {
      return this.nothing && !this.answered?.trim();
    },
    get nothingFound() {
      return this.nothing && !this.nothingAsked;
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
      if (one.kind === "fold") return "";
      const where = one.here ? "this page" : one.pageTitle;
      if (one.why) return `${where} · ${one.why}`;
      if (one.kind === "outside") return "another site";
      if (one.kind === "page") return "page";
      if (one.what) return `${one.what} · ${where}`;
      return one.id ? where : `${where} · no mark yet`;
    },
  };
}
