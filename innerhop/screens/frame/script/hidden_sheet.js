// A page asked about while nobody looks at it: loaded out of sight, at a width, in the same
// sandbox as the sheet, asked, and gone again.

const PATIENCE = 15_000; // ms
const LEFT = Symbol("another tab came to the front meanwhile");

// One thing, at one width.
export async function hiddenSheet(url, width, order, view = 844) {
  for await (const told of hiddenSheets(url, [{ width, view }], order)) {
    if (told) return told;
  }
  throw new Error("silent");
}

// The same at several widths, one after another: what the page answers at each, null where it is
// silent. A page that lies at any width as if it had been loaded there says so (`steady`), and
// is loaded once.
//
// While another tab is in front, browsers don't lay pages out as they do for readers: what a
// page says of itself then counts for nothing, and it is asked again once this one is back.
export async function* hiddenSheets(url, screens, order) {
  let frame = null;
  try {
    for (const { width, view } of screens) {
      let told = LEFT;
      while (told === LEFT) {
        await inFront();
        frame ??= framed(url);
        Object.assign(frame.style, { width: `${width}px`, height: `${view}px` });
        told = await asked(frame, { ...order, width }).catch(() => null);
        if (told?.layout?.steady) continue;
        frame.remove();
        frame = null;
      }
      yield told;
    }
  } finally {
    frame?.remove();
  }
}

// Once this tab is in front.
function inFront() {
  return new Promise((resolve) => {
    const look = () => {
      if (document.hidden) return;
      document.removeEventListener("visibilitychange", look);
      resolve();
    };
    document.addEventListener("visibilitychange", look);
    look();
  });
}

function framed(url) {
  const frame = document.createElement("iframe");
  frame.setAttribute("sandbox", "allow-scripts");
  frame.setAttribute("aria-hidden", "true");
  frame.tabIndex = -1;
  frame.title = "A page that is being measured";
  Object.assign(frame.style, { position: "fixed", left: "-10000px", top: "0", visibility: "hidden", border: "0" });
  frame.src = url;
  return frame;
}

// What the page answers; LEFT where somebody left meanwhile. It says itself when it is ready.
function asked(frame, order) {
  const plain = JSON.parse(JSON.stringify(order)); // what Alpine watches can't be sent as it is
  const send = () => frame.contentWindow.postMessage(plain, "*");
  return new Promise((resolve, reject) => {
    const end = (then, what) => {
      clearTimeout(waiting);
      window.removeEventListener("message", hear);
      document.removeEventListener("visibilitychange", leave);
      then(what);
    };
    const leave = () => end(resolve, LEFT);
    const hear = ({ source, data }) => {
      // A sandboxed document has no origin, so its window is what tells it.
      if (source !== frame.contentWindow || !data?.innerHop) return;
      if (data.innerHop === "ready") send();
      else if (data.innerHop === `told ${order.innerHop}`) end(resolve, data);
    };
    const waiting = setTimeout(() => end(reject, new Error("silent")), PATIENCE);
    document.addEventListener("visibilitychange", leave);
    window.addEventListener("message", hear);
    if (frame.isConnected) send();
    else document.body.append(frame);
  });
}
