// The list of what was done, to be taken back from afar.
import { doing } from "../../frame/script/doing.js";
import { joined } from "../../frame/script/joined.js";

export function changes() {
  return joined(doing(), {
    // What a button does stands in its data.
    turn(event) {
      const { url, change } = event.currentTarget.dataset;
      return this.act(url, { change: Number(change) }, "");
    },
  });
}
