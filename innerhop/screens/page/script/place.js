// The chosen part of the page: what it is, what stands around it, where a reader
// would land, and what can be done with it.
import Alpine from "@alpinejs/csp";
import { post } from "../../frame/script/ask.js";
import { begin } from "./machine.js";

// "A heading", "An article", "Bold words".
function articled(kind) {
  const isMany = /words$|^rows |^code$|navigation$/.test(kind);
  if (isMany) return kind[0].toUpperCase() + kind.slice(1);
  return `${/^[aeio]/.test(kind) ? "An" : "A"} ${kind}`;
}

const FRAMES = 5;

// A part by its name, else by what it holds.
function called({ kind, words, titled, holds }) {
  if (titled) return `${kind} with “${words}”`;
  if (holds) return `${kind} of ${holds}`;
  return words ? `${kind} “${words}”` : kind;
}

export function place(parts) {
  return {
    level: 2,
    keepsLook: true, // of a line that becomes a heading

    levelName(level) {
      const name = { 2: "main heading", 3: "heading below it" }[level] ?? "smaller heading";
      return `${name} (level ${level})`;
    },
    get isPlace() {
      return this.chosen.kind === "section" || this.chosen.kind === "place";
    },
    // What the server said of the chosen part, once it has.
    get here() {
      return this.spot.number === this.chosen.number ? (this.spot.line[0] ?? null) : null;
    },
    get placeTitle() {
      if (this.section) return this.section.title || "A heading without words";
      if (!this.here) return "";
      return this.here.words || (this.here.empty ? `#${this.here.id}` : `${articled(this.here.kind)} without words`);
    },
    get placeKind() {
      if (this.section) return this.sectionSize;
      const around = this.spot.line.find(({ tag }) => /^h[1-6]$/.test(tag));
      return this.here ? `${articled(this.here.kind)}${around && around !== this.here ? " in a heading" : ""}` : "";
    },
    get line() {
      const known = this.trail.length ? this.trail : this.spot.line;
      return known.map((one) => ({ ...one, on: one.number === this.chosen.number })).reverse();
    },
    // The frames that stand in each other, from the outermost that is drawn.
    get frames() {
      const { line } = this;
      const at = line.findIndex(({ on }) => on);
      const from = Math.max(0, Math.min(at - 1, line.length - FRAMES));
      const drawn = line.slice(from, from + FRAMES);
      return drawn.map((one, deep) => ({ ...one, deep, called: called(one), look: { inmost: deep === drawn.length - 1 } }));
    },
    get frameFeet() {
      return this.frames.slice(0, -1).map(({ deep }) => deep).reverse();
    },
    get isShared() {
      return this.spot.shared > 1;
    },
    get isLocked() {
      return this.spot.locked !== null;
    },
    // The field for an empty marker beside a part that has an ID, or can't be edited.
    get showsBeside() {
      return this.isMarker && (this.isLocked ? this.chosen.number === this.spot.locked : this.markHere !== null);
    },
    // A link that is no hop: to a page as a whole, or to another site.
    get isPlainLink() {
      return Alpine.raw(this.state.links).includes(this.chosen.number);
    },
    // Where a link or a button leads comes before its ID.
    get leadsFirst() {
      return this.isPlainLink || (this.canStart && this.chosen.kind === "place" && this.here?.tag === "button");
    },
    get canStart() {
      return !this.isPlainLink && !this.raw.hops.some(({ number }) => number === this.chosen.number);
    },
    get canLock() {
      return this.here !== null && !this.isLocked;
    },

    // The sheet says how it looks, the server what that means.
    described({ number, looks, inner }) {
      if (number === this.chosen.number && this.isPlace) this.lookAt(number, looks, inner);
    },
    async lookAt(number, looks, inner) {
      try {
        const sent = { number: number, looks, revision: this.state.revision };
        const found = await post(this.urls.lookAt, sent);
        if (number !== this.chosen.number) return;
        this.spot = found;
        this.inner = inner;
        this.level = found.levels[0];
        if (!this.trail.some((one) => one.number === number)) this.trail = found.line;
        if (!this.markHere) this.openIdField(this.isPointed && !this.leadsFirst);
        this.isPointed = false;
      } catch (problem) {
        this.refuse(problem);
      }
    },
    stepTo(number) {
      const isSection = Alpine.raw(this.state.sections).some((one) => one.number === number);
      this.choose(isSection ? "section" : "place", number, { stepping: true });
    },
    stepOut() {
      const at = this.trail.findIndex(({ number }) => number === this.chosen.number);
      const outer = this.trail[at + 1];
      if (at >= 0 && outer) this.stepTo(outer.number);
    },
    stepIn() {
      const at = this.trail.findIndex(({ number }) => number === this.chosen.number);
      if (at > 0) this.stepTo(this.trail[at - 1].number);
      else if (this.inner !== null) {
        this.trail = [];
        this.stepTo(this.inner);
      }
    },
    get cannotStepOut() {
      return !this.here || this.trail.at(-1)?.number === this.chosen.number;
    },
    get cannotStepIn() {
      return !this.here || this.trail[0]?.number === this.chosen.number && this.inner === null;
    },

    // Parts that can't be edited.

    async lock(on) {
      const number = on ? this.chosen.number : this.spot.locked;
      try {
        this.takeDone(await post(this.urls.lock, { number, on, revision: this.state.revision }), true);
        parts.link.tell("describe", { number: this.chosen.number });
      } catch (problem) {
        this.refuse(problem);
      }
    },
    markerBefore() {
      this.choose("place", this.spot.locked, { focus: true, side: "before" });
    },
    async linkToWords() {
      try {
        const { directive } = await post(this.urls.toWords, { number: this.chosen.number });
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
      this.machine = begin(this.machine, "heading");
      this.id = { ...this.id, number: this.chosen.number, side: "on" };
      this.readId(null, this.spot.headingWords);
    },
    lookAtHeading() {
      const sent = { number: this.chosen.number, level: Number(this.level), id: this.id.typed.trim(), keeps_look: this.keepsLook };
      return this.lookAhead(this.urls.heading, sent);
    },
    startLevel() {
      this.machine = begin(this.machine, "level");
      this.level = this.spot.levels[0];
      this.dropPlan();
    },
    lookAtLevel() {
      return this.lookAhead(this.urls.level, { number: this.chosen.number, level: Number(this.level) });
    },
  };
}
