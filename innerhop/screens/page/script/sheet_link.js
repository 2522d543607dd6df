// The line to the sheet: an iframe in a sandbox that can be spoken with by
// messages and in no other way.

const PATIENCE = 20_000; // ms that a sheet may take before something is said

export class SheetLink {
  constructor(frame, hear) {
    this.frame = frame;
    this.hear = hear;
    this.isReady = false;
    this.isFirst = true;
    window.addEventListener("message", (event) => {
      // A sandboxed document has no origin, so its window is what tells it.
      if (event.source !== this.frame.contentWindow || !event.data?.innerHop) return;
      if (event.data.innerHop === "ready") {
        if (this.isReady) return;
        this.isReady = true;
        clearTimeout(this.waiting);
      }
      if (!this.isReady) return; // a last word of the page that is being replaced
      this.hear[event.data.innerHop]?.(event.data);
    });
  }

  load(url) {
    this.isReady = false;
    clearTimeout(this.waiting);
    this.waiting = setTimeout(() => this.isReady || this.hear.silent(), PATIENCE);
    // The first one loads from the start, with the screen; it may have been ready before
    // anyone listened. Replacing leaves no step in the browser's history.
    if (this.isFirst && this.frame.src === url) this.frame.contentWindow.postMessage({ innerHop: "greet" }, "*");
    else this.frame.contentWindow.location.replace(url);
    this.isFirst = false;
  }

  tell(what, more = {}) {
    if (!this.isReady) return;
    // What Alpine watches can't be sent as it is, so a plain copy goes.
    const plain = JSON.parse(JSON.stringify({ innerHop: what, ...more }));
    this.frame.contentWindow.postMessage(plain, "*");
  }
}
