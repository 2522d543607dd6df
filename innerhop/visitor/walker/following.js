// A hop's link clicked as a reader does, and then what became of the view, the address, the
// target and the focus, seen from outside.
import { documentOf } from "../script/page.js";

// The link: the `nth` of those with that address as it is written.
function linkOf(document, { href, nth }) {
  const same = [...document.querySelectorAll("a[href], area[href]")].filter((one) => one.getAttribute("href") === href);
  return same[nth] ?? same[0] ?? null;
}

// Clicks it. Returns what is known before anything has moved, null without such a link.
export function follow(view, hop) {
  const document = documentOf(view.document);
  const link = linkOf(document, hop);
  if (!link) return null;
  const told = { opened: false, before: Math.round(view.scrollY) };
  view.open = () => ((told.opened = true), null);
  const target = (link.getAttribute("target") ?? document.querySelector("base[target]")?.getAttribute("target") ?? "").toLowerCase();
  if (target && !["_self", "_parent", "_top"].includes(target)) told.opened = true;
  if (told.opened) link.setAttribute("target", "_self"); // where the reader ends is the same
  // Shut parts around a link are opened by the reader first.
  for (let up = link; up; up = up.parentElement) if (up.localName === "details") up.open = true;
  link.click();
  return told;
}

// Whether readers see the beginning of a part, and nothing lies over it; null for one that
// takes no room.
function isSeen(document, part, rect) {
  if (!rect.width || !rect.height) return null;
  const x = rect.left + Math.min(rect.width / 2, 12);
  const top = document.elementFromPoint(x, rect.top + Math.min(rect.height / 2, 10));
  return top !== null && (part.contains(top) || top.contains(part));
}

const round = (length) => Math.round(length * 100) / 100;

// What a reader has when all is still.
export function look(view, id) {
  const document = documentOf(view.document);
  const root = document.scrollingElement ?? document.documentElement;
  const found = document.querySelector(":target");
  const wanted = id ? document.getElementById(id) ?? document.getElementsByName(id)[0] ?? null : null;
  const rect = wanted?.getBoundingClientRect();
  const focus = document.activeElement === document.body ? null : document.activeElement;
  return {
    path: view.location.pathname,
    hash: view.location.hash,
    y: round(view.scrollY),
    target: found?.id || found?.getAttribute("name") || "",
    arrived: found !== null && found === wanted,
    top: rect ? round(rect.top) : null,
    seen: wanted ? isSeen(document, wanted, rect) : null,
    view: root.clientHeight,
    page: root.scrollHeight,
    // The focus may stay with nobody: where the Tab key goes on from is then the target's place.
    astray: Boolean(wanted && focus && !wanted.contains(focus) && !focus.contains(wanted)),
  };
}
