// The chosen part of the page: what it is, what stands around it, where a reader
// would land, and what can be done with it.
import Alpine from "@alpinejs/csp";
import { post } from "../../frame/script/ask.js";

const NO_SPOT = { number: null, line: [], ranks: [], before: [], sealed: null, shared: 0, words: "", headingWords: "", isHeading: false };

export function place(parts) {
  return {
    spot: NO_SPOT,
    trail: [], // the line outward from the innermost part that was pointed at
    inner: null,
    mode: "", // what is under way with it: "", rename, away, move, heading or rank
    rank: 2,
    wordsLink: "",

    get isPlace() {
      return this.chosen.kind === "section" || this.chosen.kind === "place";
    },
    // What the server said of the chosen part, once it has.
    get here() {
      return this.spot.number === this.chosen.n ? (this.spot.line[0] ?? null) : null;
    },
    get placeTitle() {
      if (this.section) return this.section.title || "A heading without words";
      if (!this.here) return "";
      return this.here.words || (this.here.empty ? `#${this.here.id}` : `A ${this.here.kind} without words`);
    },
    get placeKind() {
      if (this.section) return this.sectionSize;
      const around = this.spot.line.find(({ tag }) => /^h[1-6]$/.test(tag));
      return this.here ? `A ${this.here.kind}${around && around !== this.here ? " in a heading" : ""}` : "";
    },
    get line() {
      const known = this.trail.length ? this.trail : this.spot.line;
      return known.map((one) => ({ ...one, on: one.n === this.chosen.n })).reverse();
    },
    get isShared() {
      return this.spot.shared > 1;
    },
    get isSealed() {
      return this.spot.sealed !== null;
    },
    // The field for an empty marker beside a part that has an ID, or can't be edited.
    get showsBeside() {
      return this.isMarker && (this.isSealed ? this.chosen.n === this.spot.sealed : this.markHere !== null);
    },
    // A link that is no hop: to a page as a whole, or to another site.
    get isPlainLink() {
      return Alpine.raw(this.state.links).includes(this.chosen.n);
    },
    get canStart() {
      return !this.isPlainLink && !this.raw.hops.some(({ n }) => n === this.chosen.n);
    },
    get canSeal() {
      return this.here !== null && !this.isSealed;
    },

    // The sheet says how it looks, the server what that means.
    described({ n, looks, inner }) {
      if (n === this.chosen.n && this.isPlace) this.lookAt(n, looks, inner);
    },
    async lookAt(n, looks, inner) {
      try {
        const sent = { number: n, looks, revision: this.state.revision };
        const found = await post(this.urls.lookAt, sent);
        if (n !== this.chosen.n) return;
        this.spot = found;
        this.inner = inner;
        this.rank = found.ranks[0];
        if (!this.trail.some((one) => one.n === n)) this.trail = found.line;
        if (!this.markHere) this.openIdField(this.isPointed);
        this.isPointed = false;
      } catch (problem) {
        this.refuse(problem);
      }
    },
    stepTo(n) {
      const isSection = Alpine.raw(this.state.sections).some((one) => one.n === n);
      this.choose(isSection ? "section" : "place", n, { stepping: true });
    },
    stepOut() {
      const at = this.trail.findIndex(({ n }) => n === this.chosen.n);
      const outer = this.trail[at + 1];
      if (at >= 0 && outer) this.stepTo(outer.n);
    },
    stepIn() {
      const at = this.trail.findIndex(({ n }) => n === this.chosen.n);
      if (at > 0) this.stepTo(this.trail[at - 1].n);
      else if (this.inner !== null) {
        this.trail = [];
        this.stepTo(this.inner);
      }
    },
    get cannotStepOut() {
      return !this.here || this.trail.at(-1)?.n === this.chosen.n;
    },
    get cannotStepIn() {
      return !this.here || this.trail[0]?.n === this.chosen.n && this.inner === null;
    },

    // Parts that can't be edited.

    async seal(on) {
      const n = on ? this.chosen.n : this.spot.sealed;
      try {
        this.takeDone(await post(this.urls.seal, { number: n, on, revision: this.state.revision }), false);
        parts.link.tell("describe", { n: this.chosen.n });
      } catch (problem) {
        this.refuse(problem);
      }
    },
    markerBefore() {
      this.choose("place", this.spot.sealed, { focus: true, side: "before" });
    },
    async linkToWords() {
      try {
        const { directive } = await post(this.urls.toWords, { number: this.chosen.n });
        this.wordsLink = directive;
      } catch (problem) {
        this.refuse(problem);
      }
    },
    get wordsLinks() {
      const link = this.spot.words || this.wordsLink;
      if (!link) return [];
      const { page, site, bareHash } = this.state;
      return [
        ...(bareHash ? [{ text: `#${link}`, where: "this page" }] : []),
        { text: `${page.path}#${link}`, where: "other pages" },
        { text: `${site}${page.path}#${link}`, where: "other sites, mail" },
      ];
    },

    // Headings.

    startHeading() {
      this.mode = "heading";
      this.id = { ...this.id, n: this.chosen.n, side: "on" };
      this.readId(null, this.spot.headingWords);
    },
    lookAtHeading() {
      const sent = { number: this.chosen.n, rank: Number(this.rank), id: this.id.typed.trim() };
      return this.lookAhead(this.urls.heading, sent);
    },
    startRank() {
      this.mode = "rank";
      this.rank = this.spot.ranks[0];
      this.dropPlan();
    },
    lookAtRank() {
      return this.lookAhead(this.urls.rank, { number: this.chosen.n, rank: Number(this.rank) });
    },
  };
}

export { NO_SPOT };
