// Acts on the page as a whole, and the keys that do them.
import { post } from "../../frame/script/ask.js";
import { begin, stop } from "./machine.js";

export function pageActs(parts) {
  return {
    addressTyped: "",
    singleKeys: (localStorage.getItem("innerhop single keys") ?? "on") === "on",

    // Undo and redo, of the next change or of one in the list.

    async undo(change) {
      await this.turn(this.urls.undo, change);
    },
    async redo(change) {
      await this.turn(this.urls.redo, change);
    },
    async turn(url, change) {
      try {
        this.takeDone(await post(url, change ? { change } : {}), false, true);
        this.chooseQuietly(this.section ? "section" : "none", this.section ? this.section.number : null);
        this.look();
      } catch (problem) {
        this.refuse(problem);
      }
    },
    // Lines of style that the page lacks: seen first, on this page or on all.

    get isStyling() {
      return this.machine.doing === "style";
    },
    startStyle(name) {
      this.machine = begin(this.machine, "style", { style: { name, all: this.state.sitePages > 1 } });
      return this.lookAtStyle();
    },
    lookAtStyle() {
      return this.lookAhead(this.urls[this.style.name], { all: this.style.all });
    },
    setStyleAll(all) {
      this.style = { ...this.style, all };
      return this.lookAtStyle();
    },
    get styleVerb() {
      const { pages } = this.plan.looked;
      const many = pages === 1 ? "this page" : `${pages} pages`;
      return this.style.name === "room" ? `Leave room on ${many}` : `Turn it on for ${many}`;
    },
    async saveStyle() {
      if (this.planReady) await this.savePlan(this.markHere?.value ?? "");
    },
    stopStyle() {
      this.machine = stop(this.machine);
      this.dropPlan();
    },
    // The page's address, and how its hops are written.

    async saveAddress() {
      try {
        const done = await post(this.urls.correctAddress, { path: this.addressTyped, revision: this.state.revision });
        this.stopPage();
        this.takeState(done.state, true);
        this.tell(done.message, true);
      } catch (problem) {
        this.refuse(problem);
      }
    },
    lookAtMovePage() {
      if (this.pageMode !== "move") this.machine = begin(this.machine, "movePage");
      return this.lookAhead(this.urls.movePage, { path: this.addressTyped });
    },
    startConvert() {
      // What they are written with already is no change to begin with.
      const form = this.state.forms.path ? "relative" : "path";
      this.machine = begin(this.machine, "convert", { convert: { origin: "", form, all: false } });
      return this.lookAtConvert();
    },
    lookAtConvert() {
      return this.lookAhead(this.urls.convert, { ...this.convert });
    },
    async savePage() {
      if (!this.planReady) return;
      await this.savePlan("");
      if (!this.trouble) this.machine = stop(this.machine);
    },
    stopPage() {
      this.machine = stop(this.machine);
      this.addressTyped = this.state.page.path;
      this.dropPlan();
    },

    // Keys.

    shortcut(event) {
      const { key, ctrlKey, metaKey, shiftKey, altKey } = event;
      const command = (ctrlKey || metaKey) && key.toLowerCase() === "z";
      if (event.target.closest?.("dialog[open]")) return; // it closes itself
      const typing = event.target.closest?.("input, textarea, select");
      if (typing && key !== "Escape") return;
      if (typing) return this.leaveField(event.target);
      if (!command && (ctrlKey || metaKey || altKey)) return;
      if (this.act({ key, command, shift: shiftKey })) event.preventDefault();
    },
    act({ key, command, shift }) {
      if (command) {
        if (shift) this.redo();
        else this.undo();
      } else if (key === "Escape") this.closeInnermost();
      else if (key === "/" && this.singleKeys) {
        window.focus();
        document.getElementById("find").focus();
      } else if (key === "?" && this.singleKeys) this.help();
      else return this.singleKeys && this.actOnPlace(key.toLowerCase());
      return true;
    },
    // The first Escape leaves the field, and what was typed stays.
    leaveField(field) {
      field.blur();
      this.$refs.desk.focus();
    },
    // Then what is being done is given up; then nothing is chosen any more.
    closeInnermost() {
      if (this.isStyling) this.stopStyle();
      else if (this.pageMode) this.stopPage();
      else if (this.isMaking) this.leaveMaking();
      else if (this.mode) this.stopMode();
      else this.chooseNothing();
    },
    actOnPlace(key) {
      if (key === "n") this.stepSection(1);
      else if (key === "p") this.stepSection(-1);
      else if (key === "o" && this.isPlace) this.stepOut();
      else if (key === "i" && this.isPlace) this.stepIn();
      else if (key === "t") this.turnTags();
      else if (key === "m") this.markNow();
      else if (key === "r" && this.markHere && !this.isLocked) this.renameNow();
      else return false;
      return true;
    },
    renameNow() {
      window.focus();
      this.startRename();
    },
    stepSection(step) {
      const { stops } = parts;
      const at = stops.findIndex(({ number }) => number === this.chosen.number);
      const after = stops.findIndex(({ number }) => number > (this.chosen.number ?? -1));
      const beside = step > 0 ? after : (after < 0 ? stops.length : after) - 1;
      const next = stops[at >= 0 ? at + step : beside];
      if (next) this.choose(next.what ? "place" : "section", next.number, { scroll: true });
    },
    // The field for the chosen part's ID; with nothing chosen, for the first that has none.
    markNow() {
      window.focus();
      if (this.isPlace && !this.markHere) return this.openIdField(true);
      const unmarked = this.raw.sections.filter(({ mark }) => !mark);
      const next = unmarked.find(({ number }) => number > (this.chosen.number ?? -1)) ?? unmarked[0];
      if (next) this.choose("section", next.number, { scroll: true, focus: true });
    },
    help() {
      this.$refs.help.showModal();
    },
    keepSingleKeys() {
      localStorage.setItem("innerhop single keys", this.singleKeys ? "on" : "off");
    },
  };
}
