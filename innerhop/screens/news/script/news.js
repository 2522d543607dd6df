// What changed there: taking it in, with a bar that says how far it has come.
import { doing } from "../../frame/script/doing.js";
import { joined } from "../../frame/script/joined.js";

export function news() {
  return joined(doing(), {
    takeIn(event) {
      const { url, undo } = event.currentTarget.dataset;
      return this.act(url, {}, undo);
    },
    movedThere(event) {
      const { url, undo, page, to } = event.currentTarget.dataset;
      return this.act(url, { page: Number(page), to: Number(to) }, undo);
    },
    // What a button does stands in its data.
    turn(event) {
      const { url, change } = event.currentTarget.dataset;
      return this.act(url, { change: Number(change) }, "");
    },
  });
}
