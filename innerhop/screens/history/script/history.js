// What was done, to be taken back from afar.
import { doing } from "../../frame/script/doing.js";
import { joined } from "../../frame/script/joined.js";

export function history() {
  return joined(doing(), {
    // What a button does stands in its data.
    turn(event) {
      const { url, change, undone } = event.currentTarget.dataset;
      return this.act(url, { change: Number(change), undone: undone !== "no" }, "");
    },
  });
}
