// The copy sheet: tick steps off, copy what is to be entered, print.
import { post, Told } from "../../frame/script/ask.js";

export function copySheet() {
  return {
    trouble: "",
    answer: "",

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
        this.answer = box.checked ? "Ticked off." : "To be done again.";
        this.trouble = "";
      } catch (problem) {
        box.checked = !box.checked;
        if (!(problem instanceof Told)) throw problem;
        this.trouble = problem.message;
      }
    },
    async copy(text) {
      try {
        await navigator.clipboard.writeText(text);
        this.trouble = "";
      } catch {
        this.trouble = "The browser does not let this page copy. Select the entry and copy it by hand.";
      }
    },
    print() {
      window.print();
    },
  };
}
