// The field for an ID: suggested, checked as it is typed, saved with Enter; on
// the chosen part itself, or on an empty marker beside it.
import { post } from "../../frame/script/ask.js";
import { intoField } from "../../frame/script/suggested.js";

const NO_ID = { typed: "", message: "", fix: "", valid: false, number: null, busy: false, side: "on", short: "", renames: false, isNew: true, isOwn: false, room: false };
const LONG = 28; // characters of an ID from which a shorter name is worth offering

export function idField() {
  return {
    id: NO_ID,
    idRound: 0,

    async openIdField(focus, side = null) {
      const { number } = this.chosen;
      if (!this.isPlace || ((this.markHere || this.isLocked) && !side)) return;
      const where = side ?? "on";
      if (this.id.number !== this.chosen.number || this.id.renames || (side && this.id.side !== side)) {
        this.id = { ...NO_ID, number: this.chosen.number, side: where };
        await this.readId(null);
      }
      const isStillHere = () => this.chosen.number === number && !this.isTyping();
      if (focus) this.soon(() => isStillHere() && this.$refs.id.select());
    },
    // Whether the editor is at another field already: a late answer takes nobody away.
    isTyping() {
      const at = document.activeElement;
      return at !== this.$refs.id && at.matches("input, select, textarea") && at.checkVisibility();
    },
    get isMarker() {
      return this.id.side !== "on";
    },
    get canHoldMarker() {
      return !this.isLocked && !["img", "hr", "input", "iframe", "video", "svg", "textarea"].includes(this.here?.tag);
    },
    get takesRoom() {
      return ["before", "after"].includes(this.id.side) && Boolean(this.here?.inGrid);
    },
    setSide(side) {
      this.id = { ...this.id, number: this.chosen.number, side };
      this.dropPlan();
      return this.readId(this.id.typed || null);
    },
    isSide(side) {
      return this.id.side === side ? "true" : "false";
    },
    checkId() {
      this.id.isOwn = true;
      if (this.plan.sent.id !== this.id.typed.trim()) this.dropPlan();
      return this.readId(this.id.typed);
    },
    nameIt() {
      return this.readId(null, this.id.short);
    },
    get isLong() {
      return this.id.short !== "" || (this.placeTitle.length > 36 && this.id.typed.length >= LONG - 8);
    },
    // typed: null asks for a suggestion, made of the part's own words or of others.
    async readId(typed, text) {
      this.idRound += 1;
      const round = this.idRound;
      const { number } = this.id;
      const sent = { number: number, typed, other: this.isMarker, ...(text ? { text } : {}) };
      try {
        const found = await post(this.urls.checkId, sent);
        if (round !== this.idRound || this.id.number !== number) return; // typed on since
        this.id.isNew = false;
        if (typed === null) {
          if (this.id.typed && text === undefined) return this.checkId(); // typed before the suggestion came
          this.suggest(found.id);
        }
        // The hash stands in front of the field: a typed one is taken off.
        else if (this.id.typed.trim().startsWith("#")) this.id.typed = found.id;
        Object.assign(this.id, { message: found.message, fix: found.fix, valid: found.valid });
        if (this.mode === "heading") this.lookAtHeading();
      } catch (problem) {
        this.refuse(problem);
      }
    },
    suggest(id) {
      intoField(["section-id", "beside-id"], id);
      this.id.typed = id;
    },
    get idMessage() {
      if (this.id.message) return this.id.message;
      if (!this.id.valid) return "";
      return this.isShared ? `Free on all ${this.spot.shared} pages that share this part` : "Free on this page";
    },
    get idInvalid() {
      return !this.id.valid && this.id.typed !== "" && this.id.message !== "" ? "true" : "false";
    },
    get idLook() {
      if (this.id.valid) return this.id.message ? "text-warn" : "text-good";
      return "text-broken";
    },
    get idVerb() {
      if (this.isMarker) return this.plan.looked.notes.length && !this.id.room ? "Put it there all the same" : "Put the marker";
      return this.section ? "Mark this section" : `Mark this ${this.here ? this.here.kind : "part"}`;
    },
    useFix() {
      this.id.typed = this.id.fix;
      return this.readId(this.id.fix);
    },
    async saveId() {
      await this.catching;
      const seen = this.isMarker && this.plan.asked;
      // Pressed before the suggestion came: it is what is meant.
      // Where it was asked anew meanwhile, as when the page has changed, it is asked once more.
      for (let left = 4, round = -1; left && round !== this.idRound; left -= 1) {
        const asked = this.readId(this.id.isNew && !this.id.typed ? null : this.id.typed);
        round = this.idRound;
        await asked;
      }
      if (!this.id.valid) return;
      const id = this.id.typed.trim();
      if (this.isMarker) return seen ? this.savePlan(id) : this.putMarker(id);
      this.id.busy = true;
      try {
        const marks = [{ number: this.id.number, id }];
        const done = await post(this.urls.mark, { marks, revision: this.state.revision });
        this.id = { ...this.id, isOwn: false };
        this.takeDone(done);
        this.keepInAddress();
        this.lookAgain();
        this.soon(() => this.$refs.copies.querySelector("button")?.focus());
      } catch (problem) {
        this.refuse(problem);
      } finally {
        this.id.busy = false;
      }
    },
    lookAtMarker() {
      const { number, side, typed, room } = this.id;
      return this.lookAhead(this.urls.marker, { number, side, id: typed.trim(), room });
    },
    // A marker is looked at first, and put at once where nothing speaks against it.
    async putMarker(id) {
      // Hops to an ID that a system made are led to the name before it.
      if (this.markHere?.generated && this.id.side === "before") await this.lookAhead(this.urls.nameBeside, { number: this.id.number, id });
      else await this.lookAtMarker();
      if (this.plan.asked && !this.plan.looked.notes.length) await this.savePlan(id);
    },
  };
}

export { NO_ID };
