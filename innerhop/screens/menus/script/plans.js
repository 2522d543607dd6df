// Plans of menus that live elsewhere: kept, dropped, and what is sent of them.
import { post } from "../../frame/script/ask.js";

// parts.root: the screen's element.
export function menuPlans(parts) {
  return {
    planName: "",

    get isPlan() {
      return this.state.plan !== null;
    },
    newPlan(isLikeThis) {
      const items = isLikeThis ? this.rows.filter(({ end }) => end).map((row) => this.planRow(row)) : [];
      const revision = Number(parts.root.dataset.revision);
      // The newest plan is the last of the tabs.
      return this.leaveFor("?menu=newest", parts.root.dataset.newPlan, { name: this.planName, items, revision });
    },
    // Done, and on to another menu: this one is not the one that is looked at afterwards.
    async leaveFor(address, url, sent) {
      try {
        await post(url, sent, { bare: true });
        window.location.assign(address);
      } catch (problem) {
        this.refuse(problem);
      }
    },
    dropPlan() {
      const { plan, revision, urls } = this.state;
      return this.leaveFor("?", urls.dropPlan, { plan, revision });
    },
    planRow({ label, depth, end }) {
      return { label, depth, end: this.sentEnd(end) };
    },
    get planSent() {
      const rows = this.rows.map((row) => this.planRow(row));
      const own = { label: this.label.trim(), end: this.end && this.sentEnd(this.end) };
      if (this.adding) return [...rows, { depth: 0, ...own }];
      if (this.chosen !== null) Object.assign(rows[this.chosen], own);
      return rows;
    },
  };
}
