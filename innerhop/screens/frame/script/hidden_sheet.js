// A page asked about while nobody looks at it: loaded out of sight, at a width, in the same
// sandbox as the sheet, asked one thing, and gone again.

const PATIENCE = 15_000; // ms

// While another tab is in front, browsers don't lay pages out as they do for readers: what a
// page says of itself then counts for nothing, and it is asked again once this one is back.
export async function hiddenSheet(url, width, order, height = 844) {
  for (;;) {
    await inFront();
    const left = new AbortController();
    const leave = () => left.abort();
    document.addEventListener("visibilitychange", leave);
    try {
      const told = await ask(url, { width, height }, order, left.signal);
      if (told) return told;
    } finally {
      document.removeEventListener("visibilitychange", leave);
    }
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

// What the page answers; null where somebody left meanwhile.
function ask(url, { width, height }, order, left) {
  const plain = JSON.parse(JSON.stringify(order)); // what Alpine watches can't be sent as it is
  return new Promise((resolve, reject) => {
    const frame = document.createElement("iframe");
    frame.setAttribute("sandbox", "allow-scripts");
    frame.setAttribute("aria-hidden", "true");
    frame.tabIndex = -1;
    frame.title = "A page that is being measured";
    Object.assign(frame.style, { position: "fixed", left: "-10000px", top: "0", width: `${width}px`, height: `${height}px`, visibility: "hidden", border: "0" });
    const end = (then, what) => {
      clearTimeout(waiting);
      window.removeEventListener("message", hear);
      frame.remove();
      then(what);
    };
    const hear = ({ source, data }) => {
      // A sandboxed document has no origin, so its window is what tells it.
      if (source !== frame.contentWindow || !data?.innerHop) return;
      if (data.innerHop === "ready") frame.contentWindow.postMessage(plain, "*");
      else if (data.innerHop === `told ${order.innerHop}`) end(resolve, data);
    };
    const waiting = setTimeout(() => end(reject, new Error("silent")), PATIENCE);
    left.addEventListener("abort", () => end(resolve, null));
    window.addEventListener("message", hear);
    frame.src = url;
    document.body.append(frame);
  });
}
