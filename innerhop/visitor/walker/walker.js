// The window that walks hops. It has the origin of the screens, and frames the site's pages as
// visitors get them, byte for byte and with their own scripts. Those are of another origin:
// nothing of this window is in their reach, nor, sandboxed, is where it goes. A second frame,
// of the pages' origin, looks at each page from outside. Both are made anew for each order, so
// that what a page says is said of nothing but itself.
const { pages, enter } = document.documentElement.dataset;
const screen = window.opener; // that opened this window
window.opener = null; // which pages would find here
const PATIENCE = 12_000; // ms that a page may take
// It may do all that it does for visitors but leave its frame, or open another window.
const SANDBOX = "allow-scripts allow-same-origin allow-forms allow-modals";

function late() {
  return new Promise((resolve, reject) => {
    setTimeout(() => reject(new Error("The page did not load.")), PATIENCE);
  });
}

function framed(title, address, style) {
  const frame = Object.assign(document.createElement("iframe"), { title, src: address });
  frame.sandbox = SANDBOX;
  Object.assign(frame.style, style);
  const loaded = new Promise((resolve) => frame.addEventListener("load", () => resolve(frame), { once: true }));
  document.body.append(frame);
  return Promise.race([loaded, late()]);
}

function answerOf(frame) {
  const heard = new Promise((resolve) => {
    const hear = ({ source, data }) => {
      if (source !== frame.contentWindow) return;
      window.removeEventListener("message", hear);
      resolve(data);
    };
    window.addEventListener("message", hear);
  });
  return Promise.race([heard, late()]);
}

async function carryOut({ path, width, height, ...order }) {
  document.body.replaceChildren();
  await framed("A page as visitors get it", pages + path, { width: `${width}px`, height: `${height}px` });
  const looker = await framed("What looks at it", `${pages}/-/look`, { position: "fixed", top: 0, left: 0, width: "1px", height: "1px" });
  const answer = answerOf(looker);
  looker.contentWindow.postMessage(order, pages);
  const { found, trouble } = (await answer) ?? {};
  return found ? { found } : { trouble: String(trouble ?? "The page did not answer.") };
}

window.addEventListener("message", async ({ source, origin, data }) => {
  if (source !== screen || origin !== window.location.origin || !data?.innerHop) return;
  const told = await carryOut(data).catch((problem) => ({ trouble: problem.message }));
  screen.postMessage({ innerHop: "told", round: data.round, ...told }, origin);
});
framed("The way in", enter, {}).then(() => screen?.postMessage({ innerHop: "ready" }, window.location.origin));
