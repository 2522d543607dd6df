// Acts that are looked at before they are done: what would change in the markup,
// what else to know, then save. Long ones show how far they have come.
import { post, Told } from "../../frame/script/ask.js";
import { NO_ID } from "./id_field.js";
import { stop } from "./machine.js";

const NO_LOOK = { message: "", href: "", forms: [], notes: [], lacksRoom: false, spots: [], pages: 0, stamp: "" };
const NO_PLAN = { url: "", sent: {}, looked: NO_LOOK, trouble: "", busy: false, done: 0, total: 0, asked: false };

export function planning() {
  return {
    plan: NO_PLAN,
    planRound: 0,
    stopper: null,

    dropPlan() {
      this.planRound += 1;
      this.plan = NO_PLAN;
    },
    // What is asked for is another by now: what was looked at is seen on, and can't be saved.
    holdPlan() {
      this.planRound += 1;
      this.plan = { ...this.plan, asked: false };
    },
    get planReady() {
      return this.plan.asked && !this.plan.trouble && !this.plan.busy;
    },
    get planPages() {
      const { pages } = this.plan.looked;
      return pages > 1 ? `on ${pages} pages` : "";
    },
    get planProgress() {
      return `${this.plan.done} of ${this.plan.total} pages`;
    },
    // Ask what it would change. What was seen before stays until the answer is here.
    async lookAhead(url, sent) {
      this.planRound += 1;
      const round = this.planRound;
      const { looked } = this.plan.url === url ? this.plan : NO_PLAN;
      this.plan = { ...NO_PLAN, url, sent, looked };
      try {
        const found = await post(url, { ...sent, revision: this.state.revision, look: true });
        if (round !== this.planRound) return;
        this.plan = { ...this.plan, looked: found, asked: true };
        if (this.chosen.kind === "list") this.showPreview(found.preview);
      } catch (problem) {
        if (round !== this.planRound) return;
        if (!(problem instanceof Told) || [401, 409].includes(problem.status)) this.refuse(problem);
        else this.plan = { ...this.plan, looked: NO_LOOK, trouble: problem.message };
      }
    },
    // then: the ID to choose afterwards, on the page as it is then.
    async savePlan(then) {
      const { url, sent, looked } = this.plan;
      if (!url) return;
      await this.savedThen(url, { ...sent, stamp: looked.stamp || undefined }, then);
    },
    async savedThen(url, sent, then) {
      this.stopper = new AbortController();
      this.plan = { ...this.plan, busy: true };
      try {
        const done = await post(url, { ...sent, revision: this.state.revision }, {
          progress: ({ done: count, total }) => (this.plan = { ...this.plan, done: count, total }),
          signal: this.stopper.signal,
        });
        this.dropPlan();
        this.machine = stop(this.machine);
        this.id = NO_ID;
        this.takeDone(done, true, true);
        this.chooseMark(then);
        this.goOn();
      } catch (problem) {
        this.plan = { ...this.plan, busy: false, total: 0 };
        this.refuse(problem);
      }
    },
    stopPlan() {
      this.stopper?.abort();
    },
  };
}
