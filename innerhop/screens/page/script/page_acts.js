// Acts on the page as a whole, and the keys that do them.
import { post } from "../../frame/script/ask.js";

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
        if (this.section) this.openIdField(false);
        else this.chosen = { kind: "none", n: null, key: null };
        this.look();
      } catch (problem) {
        this.refuse(problem);
      }
    },
    async makeSmooth() {
      try {
        this.takeDone(await post(this.urls.smooth, { revision: this.state.revision }), true, true);
      } catch (problem) {
        this.refuse(problem);
      }
    },
    async saveAddress() {
      try {
        const done = await post(this.urls.address, { path: this.addressTyped });
        this.takeState(done.state, true);
        this.tell(done.said);
      } catch (problem) {
        this.refuse(problem);
      }
    },

    // Keys.

    shortcut(event) {
      const { key, ctrlKey, metaKey, shiftKey, altKey } = event;
      const command = (ctrlKey || metaKey) && key.toLowerCase() === "z";
      const typing = event.target.closest?.("input, textarea, select, dialog");
      if (typing && key !== "Escape") return;
      if (!command && (ctrlKey || metaKey || altKey)) return;
      if (this.act({ key, command, shift: shiftKey })) event.preventDefault();
    },
    act({ key, command, shift }) {
      if (command) {
        if (shift) this.redo();
        else this.undo();
      } else if (key === "Escape") this.chooseNothing();
      else if (key === "/" && this.singleKeys) {
        window.focus();
        document.getElementById("find").focus();
      } else if (key === "?" && this.singleKeys) this.help();
      else return false;
      return true;
    },
    help() {
      this.$refs.help.showModal();
    },
    keepSingleKeys() {
      localStorage.setItem("innerhop single keys", this.singleKeys ? "on" : "off");
    },
  };
}
