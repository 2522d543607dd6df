// Words of the page that name a section and lead nowhere: the hop is one step away.
import { post } from "../../frame/script/ask.js";

export function offers(parts) {
  return {
    offered: null, // { offers, more } once they were asked for

    get hasOffered() {
      return this.offered !== null;
    },
    get offeredWords() {
      const count = (this.offered?.offers.length ?? 0) + (this.offered?.more ?? 0);
      if (!count) return "No words of this page name a section and lead nowhere.";
      return count === 1 ? "These words name a section and lead nowhere." : `${count} places name a section and lead nowhere.`;
    },
    get offersShown() {
      return (this.offered?.offers ?? []).map((one, at) => ({ ...one, key: `${one.number}-${one.start.child}-${one.start.offset}-${at}` }));
    },
    async findOffers() {
      try {
        this.offered = await post(this.urls.offers, {});
      } catch (problem) {
        this.refuse(problem);
      }
    },
    pointAt({ number }) {
      parts.link.tell("light", { numbers: [number] });
    },
    pointAway() {
      parts.link.tell("light", { numbers: [] });
    },
    async takeOffer({ start, stop, end }) {
      try {
        this.takeDone(await post(this.urls.hop, { start, stop, end, revision: this.state.revision }), false, true);
        await this.findOffers();
      } catch (problem) {
        this.refuse(problem);
      }
    },
  };
}
