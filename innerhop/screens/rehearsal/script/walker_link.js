// The line to the walker: a window that frames the site's pages as visitors get them. One
// order at a time; what it answers comes from pages, is hearsay, and read as such.

const PATIENCE = 25_000; // ms for one order

export class WalkerLink {
  constructor(url) {
    this.window = window.open(url, "innerhop-walk", "popup,width=1320,height=860");
    if (!this.window) throw new Error("kept back");
    this.round = 0;
    this.waiting = null;
    this.ready = new Promise((resolve, reject) => {
      this.isReady = resolve;
      setTimeout(() => reject(new Error("silent")), PATIENCE);
    });
    this.hear = (event) => this.heard(event);
    window.addEventListener("message", this.hear);
  }

  heard({ source, origin, data }) {
    if (source !== this.window || origin !== window.location.origin || !data?.innerHop) return;
    if (data.innerHop === "ready") this.isReady();
    else if (data.innerHop === "told" && data.round === this.round) this.waiting?.(data);
  }

  // What the walker found, or { trouble }.
  async order(what, more) {
    await this.ready;
    if (this.window.closed) throw new Error("closed");
    this.round += 1;
    const answer = new Promise((resolve) => {
      this.waiting = resolve;
      setTimeout(() => resolve({ trouble: "The page did not answer in time." }), PATIENCE);
    });
    // What Alpine watches can't be sent as it is, so a plain copy goes.
    this.window.postMessage(JSON.parse(JSON.stringify({ innerHop: what, round: this.round, ...more })), window.location.origin);
    const told = await answer;
    return told.found ?? { trouble: told.trouble ?? "The page did not answer." };
  }

  end() {
    window.removeEventListener("message", this.hear);
    this.window.close();
  }
}
