// The field for a section's ID: suggested, checked as it is typed, saved with Enter.
import { post } from "../../frame/script/ask.js";

export function idField() {
  return {
    id: { typed: "", said: "", fix: "", valid: false, n: null, busy: false },
    idRound: 0,

    async openIdField(focus) {
      const { section } = this;
      if (!section || section.mark) return;
      if (this.id.n !== section.n) {
        this.id = { typed: "", said: "", fix: "", valid: false, n: section.n, busy: false };
        await this.readId(null);
      }
      if (focus) this.soon(() => this.$refs.id.select());
    },
    checkId() {
      return this.readId(this.id.typed);
    },
    // typed: null asks for a suggestion.
    async readId(typed) {
      this.idRound += 1;
      const round = this.idRound;
      const { n } = this.id;
      try {
        const found = await post(this.urls.checkId, { number: n, typed });
        if (round !== this.idRound || this.id.n !== n) return; // typed on since
        if (typed === null) {
          if (this.id.typed) return this.checkId(); // typed before the suggestion came
          this.id.typed = found.id;
        }
        // The hash stands in front of the field: a typed one is taken off.
        else if (this.id.typed.trim().startsWith("#")) this.id.typed = found.id;
        Object.assign(this.id, { said: found.said, fix: found.fix, valid: found.valid });
      } catch (problem) {
        this.refuse(problem);
      }
    },
    get idSaid() {
      if (this.id.said) return this.id.said;
      return this.id.valid ? "Free on this page" : "";
    },
    get idLook() {
      if (this.id.valid) return this.id.said ? "text-menu" : "text-good";
      return "text-broken";
    },
    useFix() {
      this.id.typed = this.id.fix;
      return this.readId(this.id.fix);
    },
    async saveId() {
      await this.readId(this.id.typed);
      if (!this.id.valid) return;
      this.id.busy = true;
      try {
        const sent = { number: this.id.n, id: this.id.typed.trim(), revision: this.state.revision };
        this.takeDone(await post(this.urls.mark, sent));
        this.soon(() => this.$refs.copies.querySelector("button")?.focus());
      } catch (problem) {
        this.refuse(problem);
      } finally {
        this.id.busy = false;
      }
    },
  };
}
