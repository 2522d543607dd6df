// Making a hop: of selected words, of a part of the page, as a new link beside one,
// or leading a link that is there elsewhere. Where it starts, where it ends, how it
// is written and opens; what that changes; save.
import Alpine from "@alpinejs/csp";
import { post, Told } from "../../frame/script/ask.js";

// The ID that a hop's address names, as the browser decodes it.
function idOf({ href }) {
  const fragment = href.slice(href.indexOf("#") + 1).trim();
  try {
    return decodeURIComponent(fragment);
  } catch {
    return fragment; // a stray percent sign
  }
}

const NO_LINK = { n: null, side: "after", words: "", like: "", looks: [] };

export function hopActs(parts) {
  return {
    words: null,
    wordsFit: false,
    wordsTrouble: "",
    nearest: null,
    asking: "",
    isTypist: false, // the words were typed, so the keyboard goes on from there
    making: "", // what a hop is being made of: "", words, part, beside or link
    newLink: NO_LINK,
    end: null,
    endId: "",
    form: "",
    newTab: false,
    tabTouched: false,
    endHidden: false,

    // Words.

    async takeWords({ start, end, text, y }) {
      const same = this.words && JSON.stringify([start, end]) === JSON.stringify([this.words.start, this.words.end]);
      if (same) return;
      const { end: goal } = this;
      this.stopMaking();
      this.freshEnds();
      this.words = { start, end, text, y };
      this.chosen = { kind: "words", n: null, key: null };
      Object.assign(this, { mode: "", making: "words", end: goal });
      this.showChosen(false);
      this.drawRuler();
      await this.checkWords();
    },
    dropWords() {
      if (!this.words) return;
      this.words = null;
      if (this.making === "words") this.stopMaking();
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
        if (this.end) await this.lookAtHop();
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

    // A part of the page, or a new link beside one.

    async startPart() {
      await this.startMaking("part", { number: this.chosen.n });
    },
    async startBeside() {
      await this.startMaking("beside", { number: this.chosen.n, beside: true });
      if (this.making === "beside") this.soon(() => this.$refs.newWords.focus());
    },
    async startMaking(kind, asked) {
      try {
        const { looks } = await post(this.urls.checkPart, { ...asked, revision: this.state.revision });
        this.stopMaking();
        this.freshEnds();
        Object.assign(this, { making: kind, mode: this.isPlace ? "hop" : "", newLink: { ...NO_LINK, n: asked.number, looks: [] } });
        this.newLink.looks = looks;
        const own = looks.find(({ n }) => n === asked.number);
        if (own) this.newLink.like = String(own.n);
        if (kind === "part") this.soon(() => document.getElementById("end-asked").focus());
      } catch (problem) {
        this.refuse(problem);
      }
    },

    get newLooks() {
      return this.newLink.looks.map((one) => ({ ...one, on: String(one.n) === this.newLink.like }));
    },

    // A link that is there, led elsewhere or written in another way.

    startElsewhere() {
      this.startLink();
      this.soon(() => document.getElementById("end-asked").focus());
    },
    startLink() {
      this.stopMaking();
      this.freshEnds();
      Object.assign(this, { making: "link", mode: this.isPlace ? "hop" : "", newTab: this.raw.newTabs.includes(this.chosen.n) });
    },
    startOtherForm() {
      const { hop } = this;
      this.startLink();
      const title = this.endOf(hop);
      return this.chooseEnd({ kind: "mark", page: hop.to.id, pageTitle: hop.to.title, here: hop.to.id === this.state.page.id, id: hop.end === null ? "" : idOf(hop), n: null, title });
    },
    get canRewrite() {
      return Boolean(this.hop?.to) && this.hop.kind !== "broken" && !this.hop.href.includes(":~:");
    },
    stopMaking() {
      Object.assign(this, {
        making: "", newLink: NO_LINK, end: null, endId: "", form: "", newTab: false, tabTouched: false, endHidden: false,
      });
      this.dropPlan();
    },
    // The list of ends as it is now, with nothing typed: marks may be new since the last.
    freshEnds() {
      window.dispatchEvent(new CustomEvent("fresh-ends"));
    },
    // Back to what the part, or the link, was before.
    leaveMaking() {
      this.stopMaking();
      this.mode = "";
      if (this.words) this.chooseNothing();
    },
    get isMaking() {
      return this.making !== "" && (this.making !== "words" || this.wordsFit);
    },
    get makingTitle() {
      return { part: "Make a hop of it", beside: "Put a link beside it", link: "Lead it elsewhere" }[this.making] ?? "";
    },

    // Where it ends.

    async chooseEnd(one) {
      this.end = { ...one };
      this.endId = one.id;
      this.endHidden = false;
      if (one.here && one.n !== null && one.n !== undefined) parts.link.tell("isShown", { n: one.n });
      await (one.kind === "section" && !one.id ? this.suggestEnd() : this.lookAtHop());
      this.soon(() => this.isTyping() || this.$refs.saveHop.focus());
    },
    chooseTop() {
      const { page } = this.state;
      return this.chooseEnd({ kind: "top", page: page.id, pageTitle: page.title, here: true, id: "", n: null, title: "The top of this page" });
    },
    // The section on the ruler that a start was dropped on.
    chooseSectionAsEnd(n) {
      const section = this.raw.sections.find((one) => one.n === n);
      const { page } = this.state;
      return this.chooseEnd({ kind: "section", page: page.id, pageTitle: page.title, here: true, id: section.mark, n, title: section.title });
    },
    otherEnd() {
      Object.assign(this, { end: null, form: "" });
      this.dropPlan();
      this.soon(() => document.getElementById("end-asked").focus());
    },
    // A section without a mark gets one in the same change.
    get endIsUnmarked() {
      return this.end !== null && this.end.kind === "section" && !this.end.id;
    },
    get endWhere() {
      if (!this.end) return "";
      return this.end.here ? "this page" : this.end.pageTitle;
    },
    async suggestEnd() {
      const url = this.urls.checkId.replace(`/${this.state.page.id}/`, `/${this.end.page}/`);
      try {
        const found = await post(url, { number: this.end.n, typed: null });
        if (!this.endId) this.endId = found.id; // unless one was typed meanwhile
        await this.lookAtHop();
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
        await this.lookAtHop();
      } catch (problem) {
        this.refuse(problem);
      }
    },
    get endSent() {
      const { end } = this;
      if (end.outside) return { outside: end.outside };
      return {
        page: end.page,
        id: end.directive ? "" : this.endId.trim().replace(/^#+/, ""),
        n: end.n,
        mark: this.endIsUnmarked,
        directive: end.directive ?? "",
      };
    },

    // How it is written and opens, and what it changes.

    get hopUrl() {
      return { words: this.urls.hop, part: this.urls.linkPart, beside: this.urls.putLink, link: this.urls.retarget }[this.making];
    },
    get hopSent() {
      const sent = { end_at: this.endSent, form: this.form, new_tab: this.newTab };
      if (this.making === "words") return { ...sent, start: this.words.start, end: this.words.end };
      if (this.making === "part") return { ...sent, number: this.newLink.n };
      // A link that is there opens as it does, unless that is touched.
      if (this.making === "link") return { ...sent, number: this.chosen.n, new_tab: this.tabTouched ? this.newTab : null };
      const { n, side, words, like } = this.newLink;
      return { ...sent, number: n, side, words, like: like === "" ? null : Number(like) };
    },
    lookAtHop() {
      if (!this.end || (this.making === "beside" && !this.newLink.words.trim())) return this.dropPlan();
      return this.lookAhead(this.hopUrl, this.hopSent);
    },
    get hopForms() {
      const forms = this.plan.looked.forms ?? [];
      const { href } = this.plan.looked;
      const chosen = forms.find((one) => (this.form ? one.form === this.form : one.href === href));
      return forms.map((one) => ({
        ...one,
        on: one === chosen,
        look: one.href ? (one === chosen ? "on" : "") : "off",
        shown: one.href || (one.form === "hash" ? "# alone does not work here" : "does not work here"),
      }));
    },
    get formReason() {
      return this.hopForms.find(({ on }) => on)?.reason ?? "";
    },
    setForm(form) {
      this.form = form;
      return this.lookAtHop();
    },
    setNewTab() {
      this.tabTouched = true;
      return this.lookAtHop();
    },
    async saveHop() {
      if (!this.planReady) return;
      await this.savePlan("");
      if (this.plan.busy || this.trouble) return;
      parts.link.tell("clear");
      this.dropWords();
      this.stopMaking();
      this.soon(() => this.$refs.said.querySelector("button")?.focus());
    },

    // What a broken hop likely means, accepted with one click.
    acceptMeant(hop, { page, id }) {
      return this.savedThen(this.urls.retarget, { number: hop.n, end_at: { page, id }, form: "", new_tab: null }, "");
    },
    saidMeant({ page, path, id }) {
      if (page === this.state.page.id) return `#${id}`;
      return id ? `${path}#${id}` : path;
    },
    reopen(newTab) {
      return this.savedThen(this.urls.reopen, { number: this.hop.n, new_tab: newTab }, "");
    },

    // A start that was dragged along the ruler to a section.
    connect(start, section) {
      if (start === "words") return this.chooseSectionAsEnd(section);
      this.choose("hop", start, { key: `${this.state.page.id}-${start}` });
      this.startElsewhere();
      return this.chooseSectionAsEnd(section);
    },

    lookOf([kind]) {
      return { same: "text-soft", old: "removed", new: "added" }[kind];
    },
    // The desk is narrow: of what stays the same, a few words on either side do.
    shortened([kind, text], which, { parts: all }) {
      if (kind !== "same" || text.length <= 24) return text;
      if (which === 0) return `…${text.slice(-23)}`;
      return which === all.length - 1 ? `${text.slice(0, 23)}…` : text;
    },
  };
}
