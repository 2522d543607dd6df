// Beside a page that is walked, in a frame of the page's own origin: it follows a hop or looks
// at how the page lies, from outside, so that nothing is put into the page. What the page does
// it can do to this frame too, which is made anew for each order and tells of one page only.
import { measure } from "../script/layout.js";
import { untilLoaded, walk } from "./walk.js";

const orders = {
  walk: ({ hop }, view) => walk(view, hop),
  // How the page lies once its own scripts have run, and what they do to its header as it
  // scrolls.
  layout: ({ marks }, view) => measure(view, marks),
};

// Workers that a page once had taken in, which would answer in the site's place.
async function takeWorkersAway() {
  const there = (await navigator.serviceWorker?.getRegistrations().catch(() => [])) ?? [];
  await Promise.all(there.map((one) => one.unregister()));
}

async function carryOut(order) {
  await takeWorkersAway();
  const view = window.parent[0];
  if (await untilLoaded(view)) return { trouble: "The page led its reader to another site at once." };
  return { found: await orders[order.innerHop](order, view) };
}

window.addEventListener("message", async ({ source, data }) => {
  if (source !== window.parent || !Object.hasOwn(orders, data?.innerHop)) return;
  const told = await carryOut(data).catch((problem) => ({ trouble: String(problem.message ?? problem) }));
  window.parent.postMessage(told, "*");
});
