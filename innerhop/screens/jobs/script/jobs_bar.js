// The small bar in the frame: how far what is at work is. When it ends, that is said in its place.
import { get } from "../../frame/script/ask.js";

const PAUSE = 2000; // ms between two looks

export function jobsBar() {
  return {
    words: "",
    done: 0,
    total: null,

    init() {
      const { url, atWork, done, total } = this.$el.dataset;
      Object.assign(this, { done: Number(done), total: Number(total) || null });
      this.words = this.$el.querySelector("a")?.textContent ?? "";
      if (atWork) this.follow(url);
    },
    get value() {
      return this.total ? this.done : null;
    },
    async follow(url) {
      for (;;) {
        await new Promise((done) => setTimeout(done, PAUSE));
        const found = await get(url).catch(() => null); // looked at once more
        if (!found) continue;
        const [first] = found.jobs;
        if (!first) return this.take("", 0, 0);
        this.take(first.at_work ? first.called : `${first.state}: ${first.called.toLowerCase()}`, first.done, first.total);
        if (!first.at_work) return;
      }
    },
    take(called, done, total) {
      Object.assign(this, { done, total: total || null });
      this.words = called && total ? `${called}: ${done} of ${total}` : called;
    },
  };
}
