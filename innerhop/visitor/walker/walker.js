// The page that frames a site's pages as visitors get them, byte for byte and with their own
// scripts, and looks at them from outside: it follows their hops, and tells the screen that
// opened it what became of the reader. Nothing is put into them. What they do in
// their frame they can do to this page too, so what it tells is taken as hearsay.
import { measure } from "../script/layout.js";
import { untilLoaded, walk } from "./walk.js";

const editors = document.documentElement.dataset.editors.split(" ");
const screen = window.opener; // that opened this window
const frame = document.querySelector("iframe");
const PATIENCE = 12_000; // ms that a page may take

function load(path, width, height) {
  frame.style.width = `${width}px`;
  frame.style.height = `${height}px`;
  return new Promise((resolve, reject) => {
    const late = setTimeout(() => reject(new Error("The page did not load.")), PATIENCE);
    frame.onload = async () => {
      if (frame.contentWindow.location.href === "about:blank") return;
      clearTimeout(late);
      frame.onload = null;
      await untilLoaded(frame);
      resolve(frame.contentWindow);
    };
    // A hash alone would load nothing anew.
    frame.contentWindow.location.replace("about:blank");
    setTimeout(() => frame.contentWindow.location.replace(path));
  });
}

const orders = {
  async walk({ path, width, height, hop }) {
    return walk(await load(path, width, height), frame, hop);
  },
  // How the page lies once its own scripts have run, and what they do to its header as it
  // scrolls.
  async layout({ path, width, height, marks }) {
    return measure(await load(path, width, height), marks);
  },
};

window.addEventListener("message", async ({ source, origin, data }) => {
  if (source !== screen || !editors.includes(origin) || !orders[data?.innerHop]) return;
  const tell = (found) => screen.postMessage({ innerHop: "told", round: data.round, ...found }, origin);
  try {
    tell({ found: await orders[data.innerHop](data) });
  } catch (problem) {
    tell({ trouble: String(problem.message ?? problem) });
  }
});
for (const editor of editors) screen?.postMessage({ innerHop: "ready" }, editor);
