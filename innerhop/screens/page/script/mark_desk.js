// What is done with a mark that is there: rename it with all its hops, move it,
// take it away, and sort out two that have the same name.
import Alpine from "@alpinejs/csp";
import { post } from "../../frame/script/ask.js";
import { NO_ID } from "./id_field.js";

export function markDesk(parts) {
  return {
    keepOld: false,
    then: "break",
    moving: { to: null, side: "before" },
    followers: [], // { link, text, where, on }: which hops mean the second of two
    awayEnd: null,

    // The mark by which readers reach the chosen part; it may stand beside a heading.
    get markHere() {
      const marks = Alpine.raw(this.state.marks);
      const own = marks.find(({ n }) => n === this.chosen.n);
      if (own || !this.section?.mark) return own ?? null;
      return marks.find(({ value }) => value === this.section.mark) ?? null;
    },
    get markStands() {
      const mark = this.markHere;
      if (!mark || mark.n === this.chosen.n) return "";
      if (mark.empty) return "It stands on an empty marker beside the heading.";
      return `It stands on a ${this.state.kinds[mark.tag] ?? "block"} around or in the heading.`;
    },
    get sameIds() {
      const value = this.markHere?.value;
      if (!value || this.markHere.attribute !== "id") return [];
      const same = Alpine.raw(this.state.marks).filter((one) => one.value === value && one.attribute === "id");
      return same.length > 1 ? same.map((one, at) => this.aboutSame(one, at)) : [];
    },
    aboutSame(mark, at) {
      const sections = Alpine.raw(this.state.sections);
      const own = mark.n === this.chosen.n ? this.placeTitle : "";
      const title = sections.find(({ n }) => n === mark.n)?.title ?? (own || this.state.kinds[mark.tag] || "a part");
      const part = Alpine.raw(this.state.shared).find(({ number, last }) => mark.n >= number && mark.n <= last);
      const where = part ? `the shared ${part.kind}` : "this page";
      return { ...mark, title, where, says: at === 0 ? "readers arrive here" : "nobody arrives here" };
    },
    get isSecond() {
      const same = this.sameIds;
      return same.length > 1 && same[0].n !== this.markHere.n;
    },
    // Every ID that stands on the page more than once, for the outline.
    get twice() {
      const seen = new Map();
      for (const mark of Alpine.raw(this.state.marks)) {
        if (mark.attribute === "id") seen.set(mark.value, [...(seen.get(mark.value) ?? []), mark]);
      }
      return [...seen.values()].filter((same) => same.length > 1)
        .map((same) => ({ value: same[0].value, n: same[1].n, count: same.length }));
    },
    goToMark(n) {
      this.choose(Alpine.raw(this.state.sections).some((one) => one.n === n) ? "section" : "place", n, { scroll: true });
    },

    // Rename.

    startRename() {
      const mark = this.markHere;
      if (!mark) return;
      this.mode = "rename";
      this.keepOld = false;
      this.dropPlan();
      this.id = { ...NO_ID, n: mark.n, typed: mark.value, renames: true };
      this.followers = this.isSecond ? this.arrivingAtFirst() : [];
      this.soon(() => this.$refs.rename.select());
      if (this.isSecond) this.readNewName(null);
    },
    arrivingAtFirst() {
      const first = this.sameIds[0].n;
      const { page } = this.raw;
      return [...this.raw.hops.filter(({ to }) => to?.id === page.id), ...this.raw.into]
        .filter(({ end }) => end === first)
        .map((hop) => ({ link: hop.link, text: hop.text, where: hop.from.path, on: false }));
    },
    toggleFollower(one) {
      one.on = !one.on;
      this.readNewName(this.id.typed);
    },
    async readNewName(typed) {
      this.idRound += 1;
      const round = this.idRound;
      const before = this.id.typed;
      try {
        const found = await post(this.urls.checkId, { number: this.id.n, typed });
        if (round !== this.idRound || this.id.typed !== before) return; // typed on since
        if (typed === null) this.id.typed = found.id;
        Object.assign(this.id, { said: found.said, fix: found.fix, valid: found.valid });
        const follow = this.isSecond ? this.followers.filter(({ on }) => on).map(({ link }) => link) : null;
        const sent = { number: this.id.n, id: this.id.typed.trim().replace(/^#+/, ""), keep: this.keepOld, follow };
        if (!found.valid) this.dropPlan();
        else await this.lookAhead(this.urls.rename, sent);
      } catch (problem) {
        this.refuse(problem);
      }
    },
    newNameTyped() {
      return this.readNewName(this.id.typed);
    },
    keepToggled() {
      return this.readNewName(this.id.typed);
    },
    useNewFix() {
      this.id.typed = this.id.fix;
      return this.readNewName(this.id.fix);
    },

    // Take away.

    startAway() {
      this.mode = "away";
      this.then = "break";
      this.awayEnd = null;
      this.lookAtAway();
    },
    lookAtAway() {
      const sent = { number: this.markHere.n, then: this.then };
      if (this.then !== "retarget") return this.lookAhead(this.urls.takeAway, sent);
      this.dropPlan();
      if (!this.awayEnd) return;
      const { page, id } = this.awayEnd;
      return this.lookAhead(this.urls.takeAway, { ...sent, end_at: { page, id } });
    },
    chooseAwayEnd(one) {
      if (!one.id) {
        this.tell("");
        this.trouble = "That section has no mark yet. Mark it first, or choose one that has.";
        return;
      }
      this.awayEnd = one;
      this.lookAtAway();
    },

    // Move: the next part that is pointed at is where it goes.

    startMove() {
      this.mode = "move";
      this.dropPlan();
      this.moving = { to: null, side: this.markHere.empty ? "before" : "on" };
    },
    get isMoving() {
      return this.mode === "move";
    },
    moveTo(n, side = null) {
      if (n === this.markHere.n) return;
      this.moving = { ...this.moving, to: n, side: side ?? this.moving.side };
      parts.link.tell("light", { numbers: [n] });
      this.lookAtMove();
    },
    setMoveSide(side) {
      this.moving = { ...this.moving, side };
      if (this.moving.to !== null) this.lookAtMove();
    },
    isMoveSide(side) {
      return this.moving.side === side ? "true" : "false";
    },
    lookAtMove() {
      const { to, side } = this.moving;
      return this.lookAhead(this.urls.move, { number: this.markHere.n, to, side });
    },
    // A tag was dragged in the sheet, or along the ruler.
    dropped({ n, to, side }) {
      this.goToMark(n);
      this.soon(() => {
        if (this.markHere?.n !== n) return;
        this.startMove();
        this.moveTo(to, side);
      });
    },
    // What is under way, saved as it was looked at.

    get modeVerb() {
      return {
        rename: "Rename", away: "Remove it", move: "Move it", heading: "Make it a heading", rank: "Change the rank",
      }[this.mode] ?? "";
    },
    saveMode() {
      if (!this.planReady) return;
      const { value } = this.markHere ?? { value: "" };
      const kept = this.mode === "away" && this.then !== "keep" ? "" : value;
      return this.savePlan(this.mode === "rename" || this.mode === "heading" ? this.plan.sent.id : kept);
    },
    stopMode() {
      this.mode = "";
      this.dropPlan();
      parts.link.tell("light", { numbers: [] });
      this.openIdField(false);
    },

    // An ID that was typed into the class field: a broken hop looks for it.

    inClass: [],
    async findInClass(hop) {
      this.inClass = [];
      if (hop?.kind !== "broken" || hop.to?.id !== this.state.page.id) return;
      const word = hop.href.split("#")[1] ?? "";
      if (!word) return;
      try {
        const { found } = await post(this.urls.inClass, { word });
        if (this.hop === hop || this.hop?.key === hop.key) this.inClass = found.filter(({ id }) => !id).map((one) => ({ ...one, word }));
      } catch (problem) {
        this.refuse(problem);
      }
    },
    async moveFromClass(one) {
      await this.lookAhead(this.urls.fromClass, { number: one.n, word: one.word });
      if (this.plan.asked) await this.savePlan(one.word);
    },
  };
}
