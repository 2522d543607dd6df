// Making a hop of selected words: can they be linked, where should they lead,
// how will it be written, save.
import { post, Told } from "../../frame/script/ask.js";

const NO_LOOK = { href: "", spots: [] };

export function hopActs(parts) {
  return {
    words: null,
    wordsFit: false,
    wordsTrouble: "",
    nearest: null,
    end: null,
    endId: "",
    looked: NO_LOOK,
    lookedTrouble: "",
    asking: "",
    isTypist: false, // the words were typed, so the keyboard goes on from there
    hopRound: 0,

    async takeWords({ start, end, text }) {
      const same = this.words && JSON.stringify([start, end]) === JSON.stringify([this.words.start, this.words.end]);
      if (same) return;
      this.words = { start, end, text };
      this.chosen = { kind: "words", n: null, key: null };
      this.showChosen(false);
      this.drawRuler();
      await this.checkWords();
    },
    dropWords() {
      if (!this.words) return;
      this.words = null;
      this.end = null;
      this.looked = NO_LOOK;
      if (this.chosen.kind === "words") this.chosen = { kind: "none", n: null, key: null };
    },
    async checkWords() {
      this.wordsTrouble = "";
      this.nearest = null;
      this.wordsFit = false;
      const { words } = this;
      try {
        const { text } = await post(this.urls.checkWords, { ...words, revision: this.state.revision });
        if (words !== this.words) return;
        this.words.text = text;
        this.wordsFit = true;
        if (this.end) await this.preview();
        else if (this.isTypist) this.soon(() => document.getElementById("end-asked").focus());
        this.isTypist = false;
      } catch (problem) {
        if (words !== this.words) return;
        if (!(problem instanceof Told) || problem.status === 409) return this.refuse(problem);
        this.wordsTrouble = problem.message;
        this.nearest = problem.more.nearest ?? null;
      }
    },
    takeNearest() {
      parts.link.tell("select", { start: this.nearest.start, end: this.nearest.end });
    },
    findWords() {
      this.isTypist = true;
      parts.link.tell("find", { words: this.asking, again: true });
    },

    async chooseEnd(one) {
      this.end = { ...one };
      this.endId = one.id;
      await (one.id || one.kind === "top" ? this.preview() : this.suggestEnd());
      this.soon(() => this.isTyping() || this.$refs.saveHop.focus());
    },
    chooseTop() {
      const { page } = this.state;
      return this.chooseEnd({ kind: "top", page: page.id, pageTitle: page.title, here: true, id: "", n: null, title: "The top of this page" });
    },
    otherEnd() {
      this.end = null;
      this.looked = NO_LOOK;
      this.lookedTrouble = "";
    },
    // A section without a mark gets one in the same change.
    get endIsUnmarked() {
      return this.end !== null && this.end.kind === "section" && !this.end.id;
    },
    async suggestEnd() {
      const url = this.urls.checkId.replace(`/${this.state.page.id}/`, `/${this.end.page}/`);
      try {
        const found = await post(url, { number: this.end.n, typed: null });
        if (!this.endId) this.endId = found.id; // unless one was typed meanwhile
        await this.preview();
      } catch (problem) {
        this.refuse(problem);
      }
    },
    // Where no ID can be: the browser is asked to look for the section's words.
    async endToWords() {
      const url = this.urls.toWords.replace(`/${this.state.page.id}/`, `/${this.end.page}/`);
      try {
        const { directive } = await post(url, { number: this.end.n });
        this.end = { ...this.end, kind: "words", directive };
        await this.preview();
      } catch (problem) {
        this.refuse(problem);
      }
    },
    get hopSent() {
      const { end } = this;
      return {
        ...this.words,
        revision: this.state.revision,
        end_at: { page: end.page, id: end.directive ? "" : this.endId.trim().replace(/^#+/, ""), n: end.n, mark: this.endIsUnmarked, directive: end.directive ?? "" },
      };
    },
    async preview() {
      this.hopRound += 1;
      const round = this.hopRound;
      this.lookedTrouble = "";
      try {
        const looked = await post(this.urls.hop, { ...this.hopSent, look: true });
        if (round === this.hopRound) this.looked = looked;
      } catch (problem) {
        if (round !== this.hopRound) return;
        this.looked = NO_LOOK;
        if (problem instanceof Told && problem.status !== 409) this.lookedTrouble = problem.message;
        else this.refuse(problem);
      }
    },
    // A link that is there, led elsewhere.

    elsewhere: false,
    newEnd: null,
    startElsewhere() {
      Object.assign(this, { elsewhere: true, newEnd: null });
      this.dropPlan();
    },
    stopElsewhere() {
      Object.assign(this, { elsewhere: false, newEnd: null });
      this.dropPlan();
    },
    async chooseNewEnd(one) {
      let { id } = one;
      const mark = one.kind === "section" && !id;
      if (mark) {
        const url = this.urls.checkId.replace(`/${this.state.page.id}/`, `/${one.page}/`);
        try {
          ({ id } = await post(url, { number: one.n, typed: null }));
        } catch (problem) {
          return this.refuse(problem);
        }
      }
      this.newEnd = one;
      await this.lookAhead(this.urls.retarget, { number: this.hop.n, end_at: { page: one.page, id, n: one.n, mark } });
    },
    saveElsewhere() {
      if (!this.planReady) return;
      this.elsewhere = false;
      return this.savePlan("");
    },
    // What a broken hop likely means, accepted with one click.
    acceptMeant(hop, { page, id }) {
      return this.savedThen(this.urls.retarget, { number: hop.n, end_at: { page, id } }, "");
    },
    saidMeant({ page, path, id }) {
      return page === this.state.page.id ? `#${id}` : `${path}#${id}`;
    },
    lookOf([kind]) {
      return { same: "text-soft", old: "removed", new: "added" }[kind];
    },
    // The desk is narrow: of what stays the same, a few words on either side do.
    shortened([kind, text], which, { parts }) {
      if (kind !== "same" || text.length <= 24) return text;
      if (which === 0) return `…${text.slice(-23)}`;
      return which === parts.length - 1 ? `${text.slice(0, 23)}…` : text;
    },
    async saveHop() {
      try {
        const done = await post(this.urls.hop, this.hopSent);
        parts.link.tell("clear");
        this.dropWords();
        this.takeDone(done);
        this.soon(() => this.$refs.said.querySelector("button").focus());
      } catch (problem) {
        this.refuse(problem);
      }
    },
  };
}
