// Acts on pages from afar, on a screen that is read anew after each: the line that says what
// was done, with Undo in it, is kept across the reading.
import { measureLacking } from "../../rehearsal/script/measuring.js";
import { post, Told } from "./ask.js";

const KEPT = "innerhop done";

export function doing() {
  const parts = { unmeasured: "" };
  return {
    message: "",
    trouble: "",
    signedOut: false,
    isBehind: false, // whether what is listed isn't how it is now
    undoUrl: "", // of the change just made; "" where it was an undo
    change: null,
    busy: false,
    done: 0,
    total: 0,
    stopper: null,
    seesAgain: false, // whether what that change touched is to be looked at again when undone
    isLooking: false, // at what was changed, before the screen is read anew

    init() {
      parts.unmeasured = this.$el.dataset.unmeasured;
      const kept = JSON.parse(sessionStorage.getItem(KEPT) ?? "null");
      sessionStorage.removeItem(KEPT);
      if (!kept) return;
      Object.assign(this, kept);
      // Who has gone on already is left there.
      this.$nextTick(() => document.activeElement === document.body && this.$refs.done.focus());
    },
    get progress() {
      if (this.isLooking) return `It is done; looking where readers land now: ${this.done} of ${this.total}`;
      return `${this.done} of ${this.total} pages`;
    },
    undoLast() {
      return this.act(this.undoUrl, { change: this.change }, "", this.seesAgain);
    },
    // seesAgain: whether what is shown follows from how the changed pages lie in a browser.
    async act(url, sent, undoUrl, seesAgain = false, then = () => {}) {
      if (this.busy) return;
      Object.assign(this, { busy: true, trouble: "", isBehind: false, message: "", done: 0, total: 0 });
      this.stopper = new AbortController();
      try {
        const { message, change } = await post(url, sent, {
          progress: ({ done, total }) => Object.assign(this, { done, total }),
          signal: this.stopper.signal,
          bare: true,
        });
        then();
        sessionStorage.setItem(KEPT, JSON.stringify({ message, change, seesAgain, undoUrl: change ? undoUrl : "" }));
        if (seesAgain && change) await this.lookAgain(change);
        window.location.reload();
      } catch (problem) {
        if (!(problem instanceof Told)) throw problem;
        Object.assign(this, { busy: false, total: 0, trouble: problem.message });
        Object.assign(this, { signedOut: problem.status === 401, isBehind: problem.status === 409 });
      }
    },
    // What was done is done: stopping ends the looking.
    async lookAgain(change) {
      Object.assign(this, { isLooking: true, total: 0 });
      await measureLacking(parts.unmeasured, { change }, {
        step: (done, total) => Object.assign(this, { done, total }),
        goesOn: () => this.isLooking,
      });
    },
    // What is open and chosen on the list is kept by the parts of it.
    readAnew() {
      window.location.reload();
    },
    stop() {
      if (this.isLooking) this.isLooking = false;
      else this.stopper?.abort();
    },
  };
}
