// Acts on pages from afar, on a screen that is read anew after each: the line that says what
// was done, with Undo in it, is kept across the reading.
import { post, Told } from "./ask.js";

const KEPT = "innerhop done";

export function doing() {
  return {
    message: "",
    trouble: "",
    undoUrl: "", // of the change just made; "" where it was an undo
    change: null,
    busy: false,
    done: 0,
    total: 0,
    stopper: null,

    init() {
      const kept = JSON.parse(sessionStorage.getItem(KEPT) ?? "null");
      sessionStorage.removeItem(KEPT);
      if (!kept) return;
      const { message, undoUrl, change } = kept;
      Object.assign(this, { message, undoUrl, change });
      // Who has gone on already is left there.
      this.$nextTick(() => document.activeElement === document.body && this.$refs.done.focus());
    },
    get progress() {
      return `${this.done} of ${this.total} pages`;
    },
    undoLast() {
      return this.act(this.undoUrl, { change: this.change }, "");
    },
    async act(url, sent, undoUrl) {
      if (this.busy) return;
      Object.assign(this, { busy: true, trouble: "", message: "", done: 0, total: 0 });
      this.stopper = new AbortController();
      try {
        const { message, change } = await post(url, sent, {
          progress: ({ done, total }) => Object.assign(this, { done, total }),
          signal: this.stopper.signal,
          bare: true,
        });
        sessionStorage.setItem(KEPT, JSON.stringify({ message, change, undoUrl: change ? undoUrl : "" }));
        window.location.reload();
      } catch (problem) {
        if (!(problem instanceof Told)) throw problem;
        Object.assign(this, { busy: false, total: 0, trouble: problem.message });
      }
    },
    stop() {
      this.stopper?.abort();
    },
  };
}
