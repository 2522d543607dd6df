// One hop followed in the frame, and looked at when all is still.
import { follow, look } from "./following.js";

const STILL = 6; // looks in a row at which nothing has moved
const PAUSE = 40; // ms between two looks
const MOST = 120; // looks

const pause = () => new Promise((resolve) => setTimeout(resolve, PAUSE));

async function untilStill(frame) {
  let before = "";
  let still = 0;
  for (let at = 0; at < MOST && still < STILL; at += 1) {
    await pause();
    const { contentWindow: view } = frame;
    let now;
    try {
      now = `${view.location.href} ${Math.round(view.scrollY)} ${view.document.readyState}`;
    } catch {
      return "away"; // another origin
    }
    still = now === before && view.document.readyState === "complete" ? still + 1 : 0;
    before = now;
  }
  return "";
}

export async function walk(view, frame, hop) {
  const told = follow(view, hop);
  if (!told) return { trouble: "The link is not on the page that visitors get." };
  if (await untilStill(frame)) return { away: true, opened: told.opened };
  return { ...told, ...look(frame.contentWindow, hop.id) };
}
