// The list of what is left to do, and of what was done: acts on pages from afar. After
// each the list is read anew, with the line that says what was done.
import { post, Told } from "../../frame/script/ask.js";

const KEPT = "innerhop done";

export function toDo() {
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
      this.message = kept.message;
      this.undoUrl = kept.undoUrl;
      this.change = kept.change;
      this.$nextTick(() => this.$refs.done.focus());
    },
    get progress() {
      return `${this.done} of ${this.total} pages`;
    },
    // What a button does stands in its data.
    mend(event) {
      const { url, number, revision, page, id, marks } = event.currentTarget.dataset;
      const sent = marks
        ? { marks: [{ number: Number(marks), id }], revision: Number(revision) }
        : { number: Number(number), end: { page: Number(page), id }, all: true, revision: Number(revision) };
      const root = url.replace(/act\/.*$/, "");
      return this.act(url, sent, `${root}undo/`);
    },
    update(event) {
      const { url, revision } = event.currentTarget.dataset;
      return this.act(url, { all: true, revision: Number(revision) }, url.replace(/act\/.*$/, "undo/"));
    },
    turn(event) {
      const { url, change } = event.currentTarget.dataset;
      return this.act(url, { change: Number(change) }, "");
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
        });
        sessionStorage.setItem(KEPT, JSON.stringify({ message, change, undoUrl }));
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
