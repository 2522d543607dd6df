// Who else is on this page, and what they saved meanwhile: told every while, and taken in when
// one says so, so that nothing moves under anybody's hands.
import { post } from "../../frame/script/ask.js";

const EVERY = 15_000; // ms
const SOON = 2_000; // after the page is there, which comes first

export function presence() {
  return {
    others: [], // { name, where }
    newsOfOthers: "",

    hearOthers() {
      setTimeout(() => this.sayHere(), SOON);
      setInterval(() => this.sayHere(), EVERY);
      document.addEventListener("visibilitychange", () => this.sayHere());
    },
    async sayHere() {
      if (document.hidden || this.catching) return;
      try {
        const { revision } = this.state;
        const sent = { revision, number: this.section?.number ?? null };
        const { others, news } = await post(this.urls.here, sent, { quiet: true });
        this.others = others;
        // Meanwhile something may have been saved from here.
        this.newsOfOthers = revision === this.state.revision ? news : "";
      } catch {
        // who can't be asked now is asked again
      }
    },
    async takeNews() {
      this.newsOfOthers = "";
      await this.catchUp();
    },
    get othersWords() {
      return this.others.map(({ name, where }) => (where ? `${name} is here, on “${where}”.` : `${name} is here.`)).join(" ");
    },
  };
}
