// What is done with a mark that is there: rename it with all its hops, move it,
// take it away, and sort out two that have the same name.
import Alpine from "@alpinejs/csp";
import { post } from "../../frame/script/ask.js";
import { firstScreen } from "../../frame/script/first_screen.js";
import { measured } from "../../rehearsal/script/measuring.js";
import { idOf } from "./hop_acts.js";
import { NO_ID } from "./id_field.js";
import { begin, stop } from "./machine.js";

const NO_SCREENS = { key: "", screens: [], busy: false };

export function markDesk(parts) {
  return {
    first: NO_SCREENS, // what readers of the chosen mark see first, at each width

    // Where a reader ends: at the chosen mark, or at the end of the chosen hop.
    get firstEnd() {
      const { hop, markHere } = this;
      const here = this.state.page;
      if (hop) return hop.to && hop.end !== null && !hop.href.includes(":~:") ? { page: hop.to, id: idOf(hop) } : null;
      return markHere ? { page: here, id: markHere.value } : null;
    },
    get firstIsHere() {
      return this.firstEnd?.page.id === this.state.page.id;
    },
    // Asked for when another end is chosen, or the page is another.
    async loadFirst(end, again = false) {
      const key = end ? `${end.page.id} ${end.id} ${this.state.revision}` : "";
      if (key === this.first.key && !again) return;
      if (!again) this.first = { ...NO_SCREENS, key };
      if (!end) return;
      const url = this.urls.firstScreens.replace(`/${this.state.page.id}/`, `/${end.page.id}/`);
      const found = await post(url, { id: end.id }).catch(() => null);
      if (found && this.first.key === key) this.first = { key, screens: found.screens, busy: false };
      this.drawRuler();
    },
    // What the reader of the chosen hop or mark sees of this page, at the sheet's width: how
    // far down the view is before, with the hop a third down in it, and after.
    get readerWindow() {
      const { firstEnd, hop, screen } = this;
      const landing = this.firstScreens.find(({ width }) => width === screen.width)?.landing;
      if (!firstEnd || !landing || firstEnd.page.id !== this.state.page.id || landing.verdict === "nowhere") return null;
      const start = hop && hop.from.id === this.state.page.id ? parts.measured.tops[hop.number] : undefined;
      const from = start === undefined ? null : Math.max(0, start - screen.view / 3);
      return { key: `${this.first.key} ${hop?.key ?? ""} ${screen.width}`, from, to: landing.y, view: screen.view };
    },
    get firstScreens() {
      return this.first.screens;
    },
    get lacksFirst() {
      return this.firstScreens.some(({ landing }) => !landing);
    },
    paintFirst(element, one) {
      element.replaceChildren(firstScreen(one.landing, one));
    },
    async measureFirst() {
      this.first = { ...this.first, busy: true };
      const marks = [...new Set(Alpine.raw(this.state.marks).map(({ value }) => value))];
      const page = { sheet: this.state.sheet, marks, url: this.state.page.url, revision: this.state.revision };
      try {
        for await (const _ of measured(page, Alpine.raw(this.state.widths)));
      } catch (problem) {
        this.refuse(problem);
      }
      await this.loadFirst(this.firstEnd, true);
    },
    // The mark by which readers reach the chosen part; it may stand beside a heading.
    get markHere() {
      const { chosen, section } = this;
      const marks = Alpine.raw(this.state.marks);
      const own = marks.find(({ number }) => number === chosen.number);
      if (own || !section?.mark) return own ?? null;
      return marks.find(({ value }) => value === section.mark) ?? null;
    },
    get markStands() {
      const mark = this.markHere;
      if (!mark || mark.number === this.chosen.number) return "";
      if (mark.empty) return "It stands on an empty marker beside the heading.";
      return `It stands on a ${this.state.kinds[mark.tag] ?? "block"} around or in the heading.`;
    },
    get sameIds() {
      const { value, attribute } = this.markHere ?? {};
      if (!value || attribute !== "id") return [];
      const same = Alpine.raw(this.state.marks).filter((one) => one.value === value && one.attribute === "id");
      return same.length > 1 ? same.map((one, at) => this.aboutSame(one, at)) : [];
    },
    aboutSame(mark, at) {
      const sections = Alpine.raw(this.state.sections);
      const own = mark.number === this.chosen.number ? this.placeTitle : "";
      const title = sections.find(({ number }) => number === mark.number)?.title ?? (own || mark.words || this.state.kinds[mark.tag] || "a part");
      const part = Alpine.raw(this.state.shared).find(({ number, last }) => mark.number >= number && mark.number <= last);
      const where = part ? `the shared ${part.kind}` : "this page";
      return { ...mark, title, where, says: at === 0 ? "readers arrive here" : "nobody arrives here" };
    },
    get isSecond() {
      const same = this.sameIds;
      return same.length > 1 && same[0].number !== this.markHere.number;
    },
    // Every ID that stands on the page more than once, for the outline.
    get twice() {
      const seen = new Map();
      for (const mark of Alpine.raw(this.state.marks)) {
        if (mark.attribute === "id") seen.set(mark.value, [...(seen.get(mark.value) ?? []), mark]);
      }
      return [...seen.values()].filter((same) => same.length > 1)
        .map((same) => ({ value: same[0].value, number: same[1].number, count: same.length }));
    },
    goToMark(number) {
      this.choose(Alpine.raw(this.state.sections).some((one) => one.number === number) ? "section" : "place", number, { scroll: true });
    },

    // Rename.

    startRename() {
      const mark = this.markHere;
      if (!mark) return;
      this.machine = begin(this.machine, "rename");
      this.dropPlan();
      this.id = { ...NO_ID, number: mark.number, typed: mark.value, renames: true };
      this.followers = this.isSecond ? this.arrivingAtFirst() : [];
      this.soon(() => this.$refs.rename.select());
      if (this.isSecond) this.readNewName(null);
    },
    arrivingAtFirst() {
      const first = this.sameIds[0].number;
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
        const found = await post(this.urls.checkId, { number: this.id.number, typed });
        if (round !== this.idRound || this.id.typed !== before) return; // typed on since
        if (typed === null) this.id.typed = found.id;
        Object.assign(this.id, { message: found.message, fix: found.fix, valid: found.valid });
        const follow = this.isSecond ? this.followers.filter(({ on }) => on).map(({ link }) => link) : null;
        const sent = { number: this.id.number, id: this.id.typed.trim().replace(/^#+/, ""), keep: this.keepOld, lead: this.leadOn && !this.keepOld, follow };
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
      this.machine = begin(this.machine, "away");
      this.lookAtAway();
    },
    lookAtAway() {
      const sent = { number: this.markHere.number, then: this.then };
      if (this.then !== "retarget") return this.lookAhead(this.urls.takeAway, sent);
      this.dropPlan();
      if (!this.awayEnd) return;
      const { page, id } = this.awayEnd;
      return this.lookAhead(this.urls.takeAway, { ...sent, end: { page, id }, lead: this.leadOn, line: this.moveLine });
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

    // Old addresses of this page that readers are led on from.

    async stopLeading({ old }) {
      try {
        this.takeDone(await post(this.urls.stopLeading, { old, revision: this.state.revision }));
      } catch (problem) {
        this.refuse(problem);
      }
    },

    // Move: the next part that is pointed at is where it goes.

    startMove() {
      this.machine = begin(this.machine, "move", { moving: { to: null, side: this.markHere.empty ? "before" : "on" } });
      this.dropPlan();
    },
    get isMoving() {
      return this.mode === "move";
    },
    moveTo(number, side = null) {
      if (number === this.markHere.number) return;
      this.moving = { ...this.moving, to: number, side: side ?? this.moving.side };
      parts.link.tell("light", { numbers: [number] });
      this.lookAtMove();
    },
    // A section from the list, or none of them.
    chooseMove({ target }) {
      if (target.value) return this.moveTo(Number(target.value));
      this.moving = { ...this.moving, to: null };
      return this.dropPlan();
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
      return this.lookAhead(this.urls.move, { number: this.markHere.number, to, side });
    },
    // A tag was dragged in the sheet, or along the ruler.
    dropped({ number, to, side }) {
      this.goToMark(number);
      this.soon(() => {
        if (this.markHere?.number !== number) return;
        this.startMove();
        this.moveTo(to, side);
      });
    },
    // What is under way, saved as it was looked at.

    get modeVerb() {
      return {
        rename: "Rename", away: "Remove it", move: "Move it", heading: "Make it a heading", level: "Change the level",
      }[this.mode] ?? "";
    },
    saveMode() {
      if (!this.planReady) return;
      const { value } = this.markHere ?? { value: "" };
      const kept = this.mode === "away" && this.then !== "keep" ? "" : value;
      return this.savePlan(this.mode === "rename" || this.mode === "heading" ? this.plan.sent.id : kept);
    },
    stopMode() {
      this.machine = stop(this.machine);
      this.dropPlan();
      parts.link.tell("light", { numbers: [] });
      this.openIdField(false);
    },

    // An ID that was typed into the class field: a broken hop looks for it.

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
      await this.lookAhead(this.urls.fromClass, { number: one.number, word: one.word });
      if (this.plan.asked) await this.savePlan(one.word);
    },
  };
}
