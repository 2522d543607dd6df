// Acts on the page as a whole.
import { post } from "../../frame/script/ask.js";
import { begin, stop } from "./machine.js";

export function pageActs(parts) {
  return {
    addressTyped: "",

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
        this.regain();
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
  };
}
