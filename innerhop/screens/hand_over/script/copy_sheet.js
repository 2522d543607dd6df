// The copy sheet: tick steps off, copy what is to be entered, print.
import { post, Told } from "../../frame/script/ask.js";
import { copying } from "../../frame/script/copying.js";
import { joined } from "../../frame/script/joined.js";

export function copySheet() {
  return joined(copying(), {
    showsMarkup: false,

    async tick(event) {
      const box = event.target;
      const step = box.closest(".step");
      try {
        await post(step.parentElement.dataset.tick, { key: box.value, on: box.checked });
        step.toggleAttribute("data-done", box.checked);
        const count = (part) => part.querySelectorAll(".step:not([data-done])").length;
        this.$refs.left.textContent = count(this.$root);
        const page = box.closest(".copy-page");
        page.querySelector("[data-left]").textContent = count(page);
        const left = this.$refs.left.textContent;
        this.answer = box.checked ? `Ticked off, ${left} left.` : `To be done again, ${left} left.`;
        this.trouble = "";
      } catch (problem) {
        box.checked = !box.checked;
        if (!(problem instanceof Told)) throw problem;
        this.trouble = problem.message;
      }
    },
    // The entry of the step that the keyboard is at.
    copyStep(event) {
      const as = this.showsMarkup && event.shiftKey ? ".copy.markup" : ".copy";
      const entry = event.target.closest(".step").querySelector(as);
      if (entry) return this.copy(entry.textContent);
      this.answer = "This step has nothing to copy.";
    },
    print() {
      window.print();
    },
  });
}
