// What a page gives its visitors beside its own markup: seen first, on this page or on all.
import { post } from "../../frame/script/ask.js";
import { hiddenSheet } from "../../frame/script/hidden_sheet.js";
import { begin, stop } from "./machine.js";

const CHOICES = [
  { name: "lit", title: "Light up the section one is in, in contents lists and points" },
  { name: "focus", title: "Move the keyboard along with a hop, so that it goes on from there" },
  { name: "replaces", title: "Leave hops out of the browser’s history, so that Back leaves the page" },
  { name: "snap", title: "Let scrolling stop at the beginnings of sections" },
  { name: "points", title: "Small points at the side, one a section, for wide screens" },
  { name: "signs", title: "A # at each heading, for readers who pass its address on" },
];

export function visitorDesk() {
  return {
    get isGiving() {
      return this.machine.doing === "visitors";
    },
    async startVisitors() {
      try {
        const found = await post(this.urls.hasParts, {});
        this.dropPlan();
        this.machine = begin(this.machine, "visitors", { give: found, given: found });
      } catch (problem) {
        this.refuse(problem);
      }
    },
    get givenChoices() {
      return CHOICES.map((one) => ({ ...one, on: Boolean(this.give?.[one.name]) }));
    },
    get givesUp() {
      return Boolean(this.give?.up);
    },
    setGiven(more) {
      this.give = { ...this.give, ...more };
      this.lookAtVisitors();
    },
    toggleGiven(name) {
      this.setGiven({ [name]: !this.give[name] });
    },
    toggleUp() {
      this.setGiven({ up: this.give.up ? 0 : 2 });
      if (this.give.up) this.measureFeet();
    },
    // What stays at the view's foot, where a way back would stand, at each width.
    async measureFeet() {
      const found = [];
      for (const { name, width, view } of this.state.widths) {
        const told = await hiddenSheet(this.state.sheet, width, { innerHop: "foot" }, view).catch(() => null);
        if (told) found.push({ name, width, ...told.foot });
        this.feet = [...found];
      }
    },
    get feetLines() {
      if (!this.givesUp) return [];
      const bare = this.feet.filter(({ height }) => !height).map(({ name, width }) => `${name} ${width}`);
      const barred = this.feet.filter(({ height }) => height);
      return [
        ...barred.map(({ name, width, height, words }) => `${name} ${width}: “${words || "a bar"}” stays at the view’s foot, ${height} px high. The way back stands above it.`),
        ...(bare.length ? [`${bare.join(", ")}: nothing stays at the view’s foot, so it covers nothing of the page’s own.`] : []),
      ];
    },
    setUp(event) {
      this.setGiven({ up: Math.max(1, Number(event.target.value) || 1) });
    },
    setGiveAll(all) {
      this.giveAll = all;
      this.lookAtVisitors();
    },
    lookAtVisitors() {
      const isAsItIs = JSON.stringify(this.give) === JSON.stringify(this.given);
      if (isAsItIs && !this.giveAll) return this.dropPlan();
      return this.lookAhead(this.urls.visitorParts, { ...this.give, all: this.giveAll });
    },
    get visitorsVerb() {
      const { pages } = this.plan.looked;
      return pages > 1 ? `Save on ${pages} pages` : "Save on this page";
    },
    async saveVisitors() {
      if (this.planReady) await this.savePlan("");
    },
    stopVisitors() {
      this.machine = stop(this.machine);
      this.dropPlan();
    },
  };
}
