// Making a hop: of selected words, of a part of the page, as a new link beside one,
// or leading a link that is there elsewhere. Where it starts, where it ends, how it
// is written and opens; what that changes; save.
import Alpine from "@alpinejs/csp";
import { post, Told } from "../../frame/script/ask.js";
import { intoField } from "../../frame/script/suggested.js";
import { begin, choose, chooseWords, NO_LINK, NOTHING_SAID, stop } from "./machine.js";

// The ID that a hop's address names, as the browser decodes it.
export function idOf({ href }) {
  const fragment = href.slice(href.indexOf("#") + 1).trim();
  try {
    return decodeURIComponent(fragment);
  } catch {
    return fragment; // a stray percent sign
  }
}

export function hopActs(parts) {
  return {
    asking: "",
    isTypist: false, // the words were typed, so the keyboard goes on from there

    // Words.

    async takeWords({ start, end, text, y }) {
      const same = this.words && JSON.stringify([start, end]) === JSON.stringify([this.words.start, this.words.end]);
      if (same) return;
      this.machine = chooseWords(this.machine, { start, end, text, y });
      this.dropPlan();
      this.freshEnds();
      this.showChosen(false);
      this.drawRuler();
      await this.checkWords();
    },
    dropWords() {
      if (!this.words) return;
      this.machine = choose(this.machine, "none");
      this.dropPlan();
    },
    async checkWords() {
      this.wordsTrouble = "";
      this.nearest = null;
      this.wordsFit = false;
      const { words } = this;
      try {
        const { start, end: last } = words;
        const { text, others } = await post(this.urls.checkWords, { start, stop: last, revision: this.state.revision });
        if (words !== this.words) return;
        this.words = { ...words, text, others };
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
      await this.startMaking("part", { number: this.chosen.number });
    },
    async startBeside() {
      await this.startMaking("beside", { number: this.chosen.number, beside: true });
      if (this.making === "beside") this.soon(() => this.$refs.newWords.focus());
    },
    async startMaking(kind, asked) {
      try {
        const { looks } = await post(this.urls.checkPart, { ...asked, revision: this.state.revision });
        const own = looks.find((one) => one.own || one.number === asked.number);
        const newLink = { ...NO_LINK, number: asked.number, looks, like: own ? String(own.number) : "" };
        this.startHop({ making: kind, newLink });
        this.askLook();
        if (kind === "part") this.soon(() => document.getElementById("end-asked").focus());
      } catch (problem) {
        this.refuse(problem);
      }
    },

    // The part, or what the new link is to look like, may be a button: how that looks is
    // for the sheet to say, since styles for buttons don't hold for links.
    get lookNumber() {
      if (this.making === "part") return this.newLink.number;
      return this.making === "beside" && this.newLink.like !== "" && !this.isOwnLook ? Number(this.newLink.like) : null;
    },
    // A button of our own look, in the colour of the page's links.
    get isOwnLook() {
      return this.newLink.like === "own";
    },
    takeColour(colour) {
      if (!this.isOwnLook) return;
      this.newLink = { ...this.newLink, colour };
      this.lookAtHop();
    },
    askLook() {
      this.newLink = { ...this.newLink, look: null, colour: "" };
      if (this.isOwnLook) parts.link.tell("linkColour");
      if (this.lookNumber !== null) parts.link.tell("buttonLook", { number: this.lookNumber });
    },
    takeLook(number, look) {
      if (number !== this.lookNumber) return;
      this.newLink = { ...this.newLink, look };
      this.lookAtHop();
    },
    newLikeChosen() {
      this.askLook();
      return this.lookAtHop();
    },
    get isCopyOfTile() {
      return this.newLooks.some(({ own, on }) => own && on);
    },
    get newLooks() {
      return this.newLink.looks.map((one) => ({ ...one, on: String(one.number) === this.newLink.like }));
    },

    // A link that is there, led elsewhere or written in another way.

    startElsewhere() {
      this.startLink();
      this.soon(() => document.getElementById("end-asked").focus());
    },
    startLink() {
      this.startHop({ making: "link", newTab: this.raw.newTabs.includes(this.chosen.number) });
    },
    startOtherForm() {
      const { hop } = this;
      this.startLink();
      const title = this.endOf(hop);
      return this.chooseEnd({ kind: "mark", page: hop.to.id, pageTitle: hop.to.title, here: hop.to.id === this.state.page.id, id: hop.end === null ? "" : idOf(hop), number: null, title });
    },
    get canRewrite() {
      return Boolean(this.hop?.to) && this.hop.kind !== "broken" && !this.hop.href.includes(":~:");
    },
    startHop(fields) {
      this.machine = begin(this.machine, "hop", fields);
      this.dropPlan();
      this.freshEnds();
    },
    stopMaking() {
      this.machine = stop(this.machine);
      this.dropPlan();
    },
    // The list of ends as it is now, with nothing typed: marks may be new since the last.
    freshEnds() {
      const words = this.words?.text ?? "";
      window.dispatchEvent(new CustomEvent("fresh-ends", { detail: { words } }));
    },
    // Back to what the part, or the link, was before.
    leaveMaking() {
      this.stopMaking();
      if (this.words) this.chooseNothing();
    },
    get isMaking() {
      return this.making !== "" && (this.making !== "words" || this.wordsFit);
    },
    get makingTitle() {
      return { part: "Make a hop of it", beside: "Put a link beside it", link: "Change where it leads" }[this.making] ?? "";
    },

    // Where it ends.

    // With words chosen in the sheet, what is typed there next is for the search.
    typedInSheet(key) {
      const field = document.getElementById("end-asked");
      if (!this.wordsFit || !field?.checkVisibility()) return this.act({ key });
      // What was typed in the sheet may come after what is typed in the field already.
      if (document.activeElement !== field) parts.forwarded = field.value.length;
      window.focus();
      field.focus();
      const { value } = field;
      field.value = value.slice(0, parts.forwarded) + key + value.slice(parts.forwarded);
      parts.forwarded += key.length;
      field.dispatchEvent(new Event("input", { bubbles: true }));
    },
    async chooseEnd(one) {
      this.over(null); // the list that was pointed at goes
      this.holdPlan();
      this.end = { ...one };
      this.endId = one.id;
      this.endIdSays = NOTHING_SAID;
      this.endHidden = false;
      if (one.here && one.number !== null && one.number !== undefined) parts.link.tell("isShown", { number: one.number });
      await (one.kind === "section" && !one.id ? this.suggestEnd() : this.lookAtHop());
      this.soon(() => this.isTyping() || this.$refs.saveHop.focus());
    },
    chooseTop() {
      const { page } = this.state;
      return this.chooseEnd({ kind: "top", page: page.id, pageTitle: page.title, here: true, id: "", number: null, title: "The top of this page" });
    },
    // The section on the ruler that a start was dropped on.
    chooseSectionAsEnd(number) {
      const section = this.raw.sections.find((one) => one.number === number);
      const { page } = this.state;
      return this.chooseEnd({ kind: "section", page: page.id, pageTitle: page.title, here: true, id: section.mark, number, title: section.title, generated: this.isGenerated(section.mark) });
    },
    // While a hop is being made, what is pointed at in the sheet is where it ends; not where
    // it starts itself. What is half made is dropped by Cancel and Escape alone.
    async endPointedAt(number) {
      if (number === (this.words?.start.number ?? this.chosen.number)) return;
      if (this.raw.sections.some((one) => one.number === number)) return this.chooseSectionAsEnd(number);
      const { making } = this;
      const id = this.raw.marks.find((one) => one.number === number)?.value ?? "";
      try {
        const { line } = await post(this.urls.lookAt, { number, looks: {}, revision: this.state.revision });
        if (this.making !== making) return;
        const { page } = this.state;
        const title = line[0].words || line[0].kind;
        await this.chooseEnd({ kind: id ? "mark" : "section", page: page.id, pageTitle: page.title, here: true, id, number, title, generated: this.isGenerated(id) });
      } catch (problem) {
        this.refuse(problem);
      }
    },
    otherEnd() {
      this.end = null;
      this.form = "";
      this.dropPlan();
      this.soon(() => document.getElementById("end-asked").focus());
    },
    // A section without a mark gets one in the same change.
    get endIsUnmarked() {
      return this.end !== null && this.end.kind === "section" && !this.end.id;
    },
    // One that a system made, and may make anew: a marker before it has a name that stays.
    get endIsMade() {
      return this.end !== null && this.end.generated === true;
    },
    isGenerated(id) {
      return this.raw.marks.some(({ value, generated }) => value === id && generated);
    },
    nameEnd() {
      const { number } = this.end;
      return this.chooseEnd({ ...this.end, kind: "section", id: "", number, generated: false, made: this.end.id });
    },
    get endIdWords() {
      return this.end?.made ? "A marker before that part gets this ID in the same change" : "It has no mark yet and gets this ID in the same change";
    },
    get endWhere() {
      if (!this.end) return "";
      return this.end.here ? "this page" : this.end.pageTitle;
    },
    // Read as it is typed, as on the desk of a mark.
    async readEndId() {
      const url = this.urls.checkId.replace(`/${this.state.page.id}/`, `/${this.end.page}/`);
      const typed = this.endId;
      try {
        const { id, message, fix } = await post(url, { number: this.end.number, typed, other: Boolean(this.end.made) });
        if (typed !== this.endId) return;
        if (typed.trim().startsWith("#")) this.endId = id; // the hash stands in front of the field
        this.endIdSays = { message: message || (id ? `Free on ${this.end.here ? "this" : "that"} page` : ""), fix };
        await this.lookAtHop();
      } catch (problem) {
        this.refuse(problem);
      }
    },
    useEndFix() {
      this.endId = this.endIdSays.fix;
      return this.readEndId();
    },
    async suggestEnd() {
      const url = this.urls.checkId.replace(`/${this.state.page.id}/`, `/${this.end.page}/`);
      try {
        const found = await post(url, { number: this.end.number, typed: null });
        if (!this.endId) { // unless one was typed meanwhile
          intoField(["end-id"], found.id);
          this.endId = found.id;
        }
        await this.lookAtHop();
      } catch (problem) {
        this.refuse(problem);
      }
    },
    // Where no ID can be: the browser is asked to look for the section's words.
    async endToWords() {
      const url = this.urls.toWords.replace(`/${this.state.page.id}/`, `/${this.end.page}/`);
      try {
        const { directive } = await post(url, { number: this.end.number });
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
        number: end.number,
        mark: this.endIsUnmarked,
        directive: end.directive ?? "",
      };
    },

    // How it is written and opens, and what it changes.

    get hopUrl() {
      return { words: this.urls.hop, part: this.urls.linkPart, beside: this.urls.putLink, link: this.urls.retarget }[this.making];
    },
    get hopSent() {
      const sent = { end: this.endSent, form: this.form, new_tab: this.newTab, room: this.withRoom };
      if (this.making === "words") return { ...sent, start: this.words.start, stop: this.words.end, where: this.where, one_a_section: this.oneASection };
      if (this.making === "part") return { ...sent, number: this.newLink.number, button_look: this.newLink.look };
      // A link that is there opens as it does, unless that is touched.
      if (this.making === "link") return { ...sent, number: this.chosen.number, new_tab: this.tabTouched ? this.newTab : null };
      const { number, side, words, look, colour } = this.newLink;
      return { ...sent, number, side, words, like: this.lookNumber, button_look: look, link_colour: colour };
    },
    lookAtHop() {
      const waits = this.making === "beside" && (!this.newLink.words.trim() || (this.isOwnLook && !this.newLink.colour));
      if (!this.end || waits) return this.dropPlan();
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
    // The same words elsewhere, which can become hops in the same change.
    get othersHere() {
      return this.words?.others ?? 0;
    },
    get othersMessage() {
      return this.othersHere === 1 ? "become this hop, too, in one place on this page" : `become this hop, too, in ${this.othersHere} places on this page`;
    },
    setWhere(where) {
      this.where = where;
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
      this.goOn();
    },

    // What a broken hop likely means, accepted with one click.
    acceptMeant(hop, { page, id, mends, marks }) {
      if (mends) return this.mendId(hop, mends);
      if (marks) return this.markMeant(id, marks);
      return this.savedThen(this.urls.mend, { number: hop.number, end: { page, id }, all: false }, "");
    },
    // The hop was right and the ID is what is misspelt: it gets the name that the
    // hop has. It may stand on another page.
    mendId(hop, { number, revision, url }) {
      const sent = { number, id: idOf(hop), revision };
      if (hop.to.id === this.state.page.id) return this.savedThen(this.urls.rename, sent, "");
      return this.doneThere(`${url}act/rename/`, sent);
    },
    // The hop is right, and the section that it means has no ID yet.
    markMeant(id, { number, revision, url }) {
      return this.doneThere(`${url}act/mark/`, { marks: [{ number, id }], revision });
    },
    // An act on whatever page it is, and then this one as it is now.
    async doneThere(url, sent) {
      try {
        const { message } = await post(url, sent);
        await this.catchUp();
        this.tell(message, true);
        this.goOn();
      } catch (problem) {
        this.refuse(problem);
      }
    },
    // On how many pages the hop stands, since all of them are mended.
    pagesOfHop({ number, from }) {
      if (from.id !== this.state.page.id) return 1;
      const part = this.raw.shared.find((one) => number >= one.number && number <= one.last);
      return part?.pages ?? 1;
    },
    verbOfMeant(hop, { marks, mends }) {
      if (marks) return "Mark it";
      if (mends) return "Mend it";
      const pages = this.pagesOfHop(hop);
      return pages > 1 ? `Use it on ${pages} pages` : "Use it";
    },
    messageMeant({ page, path, id, mends, marks }) {
      if (mends) return `Mend the ID “${id}”`;
      if (marks) return `#${id} for that section`;
      if (page === this.state.page.id) return `#${id}`;
      return id ? `${path}#${id}` : path;
    },
    // A link's words, and a link taken off so that they stay.
    startReword() {
      this.machine = begin(this.machine, "reword", { linkWords: this.hop.text });
      this.dropPlan();
      this.soon(() => document.getElementById("link-words").focus());
    },
    get isRewording() {
      return this.machine.doing === "reword";
    },
    lookAtWords() {
      const words = this.linkWords.trim();
      if (words && words !== this.hop.text) return this.lookAhead(this.urls.reword, { number: this.hop.number, words });
      return this.dropPlan();
    },
    async saveWords() {
      await this.lookAtWords();
      if (!this.planReady) return;
      const { number } = this.hop;
      await this.savePlan("");
      if (this.trouble) return;
      this.chooseQuietly("hop", number, `${this.state.page.id}-${number}`);
      this.goOn();
    },
    unlink(number) {
      return this.savedThen(this.urls.unlink, { number }, "");
    },
    reopen(newTab) {
      return this.savedThen(this.urls.reopen, { number: this.hop.number, new_tab: newTab }, "");
    },

    // A start that was dragged along the ruler to a section.
    connect(start, section) {
      if (start === "words") return this.chooseSectionAsEnd(section);
      this.choose("hop", start, { key: `${this.state.page.id}-${start}` });
      this.startElsewhere();
      return this.chooseSectionAsEnd(section);
    },
  };
}
