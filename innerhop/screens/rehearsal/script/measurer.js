// Pages measured in the background of an open screen, so that what is said of landings is
// never a guess: those that came in or changed since.
import { measureLacking } from "./measuring.js";

export function measurer() {
  return {
    done: 0,
    total: 0,
    isRunning: false,
    isOver: false,

    async init() {
      const done = await measureLacking(this.$el.dataset.url, {}, {
        step: (done, total) => Object.assign(this, { done, total, isRunning: this.isRunning || done === 0 }),
        goesOn: () => this.isRunning || this.total === 0,
      });
      if (this.isRunning) Object.assign(this, { isRunning: false, isOver: done > 0 });
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
