// One hop followed on the page, and looked at when all is still.
import { documentOf } from "../script/page.js";
import { follow, look } from "./following.js";

const STILL = 6; // looks in a row at which nothing has moved
const LOADED = 3; // of a page that has just been loaded, whose scripts may add to it
const PAUSE = 40; // ms between two looks
const MOST = 120; // looks

const pause = () => new Promise((resolve) => setTimeout(resolve, PAUSE));

async function untilStill(view, looks) {
  let before = "";
  let still = 0;
  for (let at = 0; at < MOST && still < looks; at += 1) {
    await pause();
    let now;
    try {
      const { documentElement: root, readyState } = documentOf(view.document);
      now = `${view.location.href} ${Math.round(view.scrollY)} ${root.scrollHeight} ${readyState}`;
      still = now === before && readyState === "complete" ? still + 1 : 0;
    } catch {
      return "away"; // another origin
    }
    before = now;
  }
  return "";
}

// A reader clicks when the page stands there whole.
export const untilLoaded = (view) => untilStill(view, LOADED);

export async function walk(view, hop) {
  const told = follow(view, hop);
  if (!told) return { trouble: "The link is not on the page that visitors get." };
  if (await untilStill(view, STILL)) return { away: true, opened: told.opened };
  return { ...told, ...look(view, hop.id) };
}
