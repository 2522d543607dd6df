// What was typed for one part is kept while another is looked at, and nobody leaves the
// page by mistake while something typed would go.
import { resume } from "./machine.js";

const MADE = ["rename", "move", "away", "heading", "level", "hop", "reword"]; // what can be half done

export function drafts(parts) {
  return {
    hearLeaving() {
      window.addEventListener("beforeunload", (event) => {
        if (this.isHalfDone || parts.drafts.size) event.preventDefault();
      });
    },
    // Whether something typed, or chosen for a hop, is not saved yet.
    get isHalfDone() {
      const { id, machine } = this;
      if (machine.doing === "rename") return id.typed !== (this.markHere?.value ?? "");
      if (machine.doing === "hop") return this.end !== null || this.newLink.words !== "";
      if (machine.doing === "reword") return this.linkWords !== (this.hop?.text ?? "");
      if (this.chosen.kind === "list") return this.isListTouched;
      if (this.chosen.kind === "many") return this.manyRows.some(({ own }) => own);
      return Boolean(id.isOwn && id.typed);
    },
    draftKey({ kind, number, key }) {
      return number === null ? "" : `${kind} ${key ?? number}`;
    },
    keepDraft() {
      const key = this.draftKey(this.chosen);
      if (!key || this.chosen.kind === "list") return;
      const { machine, id } = this;
      if (this.isHalfDone) parts.drafts.set(key, { machine: MADE.includes(machine.doing) ? machine : null, id: { ...id } });
      else parts.drafts.delete(key);
    },
    // Back at a part for which something was typed.
    takeDraft() {
      const key = this.draftKey(this.chosen);
      const draft = parts.drafts.get(key);
      if (!draft) return false;
      parts.drafts.delete(key);
      this.id = draft.id;
      if (draft.machine) this.machine = resume(this.machine, draft.machine);
      this.lookAgainAt(this.machine.doing);
      return true;
    },
    lookAgainAt(doing) {
      if (doing === "rename") this.newNameTyped();
      else if (doing === "away") this.lookAtAway();
      else if (doing === "move" && this.moving.to !== null) this.moveTo(this.moving.to);
      else if (doing === "heading") this.lookAtHeading();
      else if (doing === "level") this.lookAtLevel();
      else if (doing === "hop") this.lookAtHop();
      else if (doing === "reword") this.lookAtWords();
    },
    // Elements have other numbers now.
    dropDrafts() {
      parts.drafts.clear();
    },
    // What is chosen stands in the address, so that a reload and a bookmark find it again.
    keepInAddress() {
      const { kind, number } = this.chosen;
      let hash = "";
      if (kind === "hop") hash = this.hopStartsHere ? `#hop-${number}` : "";
      else if (kind === "list") hash = number === null ? "#list" : `#list-${number}`;
      else if (number !== null) hash = `#${this.markHere ? encodeURIComponent(this.markHere.value) : `n${number}`}`;
      const { pathname, search } = window.location;
      window.history.replaceState(window.history.state, "", pathname + search + hash);
    },
  };
}
