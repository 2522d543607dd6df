// One job: how far it is, and the pages that come, each as a strip.
import { get } from "../../frame/script/ask.js";

const PAUSE = 1000; // ms between two looks

export function job() {
  return {
    state: "",
    at: "",
    done: 0,
    total: null,
    canStop: true,

    init() {
      const { url, atWork, last } = this.$el.dataset;
      this.state = this.$el.querySelector("[role=status] b").textContent;
      this.at = this.$el.querySelector("[role=status] span").textContent;
      const bar = this.$el.querySelector("progress");
      if (bar?.max > 1) Object.assign(this, { done: bar.value, total: bar.max });
      if (atWork) this.follow(url, Number(last) || 0);
    },
    get value() {
      return this.total ? this.done : null;
    },
    get count() {
      return this.total ? `${this.done} of ${this.total}` : "";
    },
    async follow(url, last) {
      const list = this.$el.querySelector("[data-strips]");
      for (;;) {
        // A look that fails is done once more: the job goes on meanwhile.
        const found = await get(url, { after: last }).catch(() => null);
        if (found) {
          const { job: now, strips } = found;
          Object.assign(this, { state: now.state, at: now.at, done: now.done, total: now.total || null, canStop: now.can_stop });
          list.insertAdjacentHTML("beforeend", strips.join(""));
          last = found.last;
          // What can be done now is another thing: the screen is read anew.
          if (!now.at_work) return now.end ? window.location.assign(now.end) : window.location.reload();
        }
        await new Promise((done) => setTimeout(done, PAUSE));
      }
    },
  };
}
