// Pages measured in the background of an open screen, so that what is said of landings is
// never a guess: those that came in or changed since. What the screen says of them is put
// in anew afterwards, and what is open or typed there stays.
import { measureLacking } from "./measuring.js";

export function measurer() {
  return {
    done: 0,
    total: 0,
    isRunning: false,
    isOver: false,
    isShown: false,

    async init() {
      await loaded();
      const done = await measureLacking(this.$el.dataset.url, {}, {
        step: (done, total) => Object.assign(this, { done, total, isRunning: this.isRunning || done === 0 }),
        goesOn: () => this.isRunning || this.total === 0,
      });
      if (!done) return Object.assign(this, { isRunning: false });
      const isShown = await refreshed();
      Object.assign(this, { isRunning: false, isOver: true, isShown });
    },
    get words() {
      if (!this.isOver) return `Measuring landings: ${this.done} of ${this.total}`;
      return this.isShown ? "Landings are measured, and what is found is below." : "Landings are measured.";
    },
    get isOld() {
      return this.isOver && !this.isShown;
    },
    again() {
      location.reload();
    },
    stop() {
      this.isRunning = false;
    },
  };
}

// Frames that come while a page loads hold back that it has loaded, one after another.
function loaded() {
  if (document.readyState === "complete") return null;
  return new Promise((done) => window.addEventListener("load", done, { once: true }));
}

// The parts of the screen that measures tell on, as the server has them now. Returns whether all
// of it could be put in: nothing goes under somebody's hands.
async function refreshed() {
  const response = await fetch(location.href, { headers: { Accept: "text/html" } }).catch(() => null);
  if (!response?.ok || response.redirected) return false;
  const fresh = new DOMParser().parseFromString(await response.text(), "text/html");
  const there = [...document.querySelectorAll("[data-measured]")];
  const pairs = there.map((one) => [one, fresh.querySelector(`[data-measured="${one.dataset.measured}"]`)]);
  if (pairs.some(([one, now]) => !now || inUse(one))) return false;
  for (const [one, now] of pairs) one.replaceWith(document.adoptNode(now));
  return true;
}

// Where somebody is, or has something chosen or typed.
function inUse(part) {
  const has = part.contains(document.activeElement) || part.contains(getSelection().anchorNode);
  const fields = [...part.querySelectorAll("input, textarea")];
  return has || fields.some((one) => one.checked || (one.value && one.type !== "checkbox"));
}
