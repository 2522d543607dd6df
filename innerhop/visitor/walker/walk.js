// One hop followed as a reader does: its link is clicked, and what became of the view, the
// address, the target and the focus is looked at when all is still.

const STILL = 6; // looks in a row at which nothing has moved
const PAUSE = 40; // ms between two looks
const MOST = 120; // looks

const pause = () => new Promise((resolve) => setTimeout(resolve, PAUSE));

// The link: the `nth` of those with that address as it is written.
function linkOf(document, { href, nth }) {
  const same = [...document.querySelectorAll("a[href], area[href]")].filter((one) => one.getAttribute("href") === href);
  return same[nth] ?? same[0] ?? null;
}

async function untilStill(frame) {
  let before = "";
  let still = 0;
  for (let look = 0; look < MOST && still < STILL; look += 1) {
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
  const { document } = view;
  const link = linkOf(document, hop);
  if (!link) return { trouble: "The link is not on the page that visitors get." };
  let opened = false;
  view.open = () => ((opened = true), null);
  const target = (link.getAttribute("target") ?? document.querySelector("base[target]")?.getAttribute("target") ?? "").toLowerCase();
  if (target && !["_self", "_parent", "_top"].includes(target)) opened = true;
  if (opened) link.setAttribute("target", "_self"); // where the reader ends is the same
  // Shut parts around a link are opened by the reader first.
  for (let up = link; up; up = up.parentElement) if (up.localName === "details") up.open = true;
  const before = Math.round(view.scrollY);
  link.click();
  const away = await untilStill(frame);
  if (away) return { away: true, opened };
  const now = frame.contentWindow;
  const found = now.document.querySelector(":target");
  const wanted = hop.id ? now.document.getElementById(hop.id) ?? now.document.getElementsByName(hop.id)[0] ?? null : null;
  const rect = wanted?.getBoundingClientRect();
  const focus = now.document.activeElement;
  return {
    path: now.location.pathname,
    hash: now.location.hash,
    y: Math.round(now.scrollY * 100) / 100,
    before,
    target: found?.id || found?.getAttribute("name") || "",
    arrived: found !== null && found === wanted,
    top: rect ? Math.round(rect.top * 100) / 100 : null,
    view: (now.document.scrollingElement ?? now.document.documentElement).clientHeight,
    page: (now.document.scrollingElement ?? now.document.documentElement).scrollHeight,
    focused: focus !== null && focus !== now.document.body && (focus === wanted || Boolean(wanted?.contains(focus))),
    opened,
  };
}
