// One hop followed in the frame, and looked at when all is still.
import { follow, look } from "./following.js";

const STILL = 6; // looks in a row at which nothing has moved
const LOADED = 3; // of a page that has just been loaded, whose scripts may add to it
const PAUSE = 40; // ms between two looks
const MOST = 120; // looks

const pause = () => new Promise((resolve) => setTimeout(resolve, PAUSE));

async function untilStill(frame, looks) {
  let before = "";
  let still = 0;
  for (let at = 0; at < MOST && still < looks; at += 1) {
    await pause();
    const { contentWindow: view } = frame;
    let now;
    try {
      const { documentElement: root, readyState } = view.document;
      now = `${view.location.href} ${Math.round(view.scrollY)} ${root.scrollHeight} ${readyState}`;
    } catch {
      return "away"; // another origin
    }
    still = now === before && view.document.readyState === "complete" ? still + 1 : 0;
    before = now;
  }
  return "";
}

// A reader clicks when the page stands there whole.
export const untilLoaded = (frame) => untilStill(frame, LOADED);

export async function walk(view, frame, hop) {
  const told = follow(view, hop);
  if (!told) return { trouble: "The link is not on the page that visitors get." };
  if (await untilStill(frame, STILL)) return { away: true, opened: told.opened };
  return { ...told, ...look(frame.contentWindow, hop.id) };
}
