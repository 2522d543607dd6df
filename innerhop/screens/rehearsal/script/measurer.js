// Pages measured in the background of an open screen, so that what is said of landings is
// never a guess: those that came in or changed since.
import { get, Told } from "../../frame/script/ask.js";
import { measureOne } from "./measuring.js";

export function measurer() {
  return {
    done: 0,
    total: 0,
    isRunning: false,
    isOver: false,

    async init() {
      const found = await get(this.$el.dataset.url).catch(() => null);
      if (!found?.pages.length) return;
      const jobs = found.pages.flatMap((page) => page.widths.map((width) => [page, found.widths.find((one) => one.width === width)]));
      Object.assign(this, { total: jobs.length, isRunning: true });
      for (const [page, width] of jobs) {
        if (!this.isRunning) return;
        await measureOne(page, width).catch((problem) => {
          if (!(problem instanceof Told)) throw problem; // a page that moved on is measured later
        });
        this.done += 1;
      }
      Object.assign(this, { isRunning: false, isOver: true });
    },
    get words() {
      if (this.isOver) return "Landings are measured. Load the list again to see them.";
      return `Measuring landings: ${this.done} of ${this.total}`;
    },
    stop() {
      this.isRunning = false;
    },
  };
}
