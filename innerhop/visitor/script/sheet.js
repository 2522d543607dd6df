// Our one script in the sheet. It measures, draws marks over the page without
// moving anything in it, and tells the screen around it what was pointed at.
// It talks by messages only; the sandbox gives it no way to anything else.
import * as asked from "./asked.js";
import { buttonLook } from "./button_look.js";
import { Overlay } from "./overlay.js";
import { Dragging } from "./dragging.js";
import { blocksEvery, Preview } from "./preview.js";
import { innerOf, looksOf, numberOf, placeAt } from "./places.js";
import { isSteady, measure as measureLayout } from "./layout.js";
import { walk } from "./walking.js";
import { findWords, pointsOf, rangeOf } from "./words.js";
import { page } from "./page.js";

const screen = window.parent;
const own = page.currentScript; // none where a visitor's view is measured, whose scripts run
const isRun = ({ type }) => /^(module|(text|application)\/(java|ecma)script)?$/i.test(type);
// Whether anything of the page's own may run.
function hasScripts() {
  // Asked of the prototype: a form's field may be called `attributes`.
  const namesOf = (one) => Element.prototype.getAttributeNames.call(one);
  const handles = (one) => namesOf(one).some((name) => name.startsWith("on"));
  return [...page.scripts].some(isRun) || [...page.querySelectorAll("*")].some(handles);
}
const elements = new Map();
let sections = [];
let hops = new Map();
let hadWords = false;

function tell(what, more = {}) {
  screen.postMessage({ innerHop: what, ...more }, "*");
}

function collect() {
  // Misnested markup can give two elements one number; the first is the tag's own.
  for (const element of page.querySelectorAll("[data-hop-n]")) {
    const number = Number(element.dataset.hopN);
    if (!elements.has(number)) elements.set(number, element);
  }
}

function box(number) {
  let element = elements.get(number);
  // Something inside a closed part is not shown: its place is the part's own.
  let shut = false;
  while (element && !element.checkVisibility()) {
    shut = true;
    element = element.parentElement;
  }
  if (!element) return null;
  const rect = element.getBoundingClientRect();
  // What sticks to the window has its place there, wherever the page is scrolled to.
  const top = Math.round(rect.top + (isPinned(element) ? 0 : window.scrollY));
  return { element, rect, top, shut };
}

// Whether a reader who is sent to an element sees it: what stands in a closed part is
// opened by the browser (HTML Standard, "ancestor revealing algorithm").
function isShown(number) {
  const element = elements.get(number);
  if (!element || element.checkVisibility()) return Boolean(element);
  return Boolean(element.closest("details:not([open]), [hidden=until-found]"));
}

let pinned = new WeakMap();
function isPinned(element) {
  if (!element || element === page.documentElement) return false;
  if (!pinned.has(element)) {
    const { position } = getComputedStyle(element);
    pinned.set(element, position === "sticky" || position === "fixed" || isPinned(element.parentElement));
  }
  return pinned.get(element);
}

// Whether something keeps its place for most of the page: what is sticky goes with the box that
// it stands in (CSS Positioned Layout 3, the sticky view rectangle and the containing block).
function stays(element) {
  if (getComputedStyle(element).position === "fixed") return true;
  const end = element.parentElement.getBoundingClientRect().bottom + window.scrollY;
  return end - element.getBoundingClientRect().height > page.documentElement.scrollHeight / 2;
}

// How much of the view's top is covered by what stays there when the page is scrolled:
// sticky or fixed, across at least half of the width (common practice, no source).
let stuck = [];
let covering = null; // the tallest of these, and how tall it is
let stuckAt = 0; // the width at which these were found
function headerHeight() {
  if (stuckAt !== window.innerWidth) stuck = [...elements.values()].filter((one) => {
    const { position, top } = getComputedStyle(one);
    return (position === "sticky" || position === "fixed") && parseFloat(top) <= 1;
  });
  stuckAt = window.innerWidth;
  const wide = ({ width, height }) => width >= window.innerWidth / 2 && height < window.innerHeight / 2;
  const seen = stuck.filter((one) => one.checkVisibility() && wide(one.getBoundingClientRect()) && stays(one));
  const tall = seen.map((one) => Math.round(one.getBoundingClientRect().height));
  const height = Math.max(0, ...tall);
  covering = height ? { height, element: seen[tall.indexOf(height)] } : null;
  overlay.covering = covering;
  return height;
}

// The room that the page's styles leave at the view's top (CSS Scroll Snap 1).
function paddingTop() {
  const { scrollPaddingTop } = getComputedStyle(page.documentElement);
  const part = parseFloat(scrollPaddingTop) || 0;
  return scrollPaddingTop.endsWith("%") ? (part / 100) * window.innerHeight : part;
}

const CONTAINERS = "main,article,section,aside,nav,header,footer,details,td,body";

function measure() {
  if (!round) return; // nobody has asked yet
  if (preview.element) {
    overlay.draw(); // what is shown only as it would be is not how long the page is
    return;
  }
  const tops = {};
  const ends = {};
  for (const number of new Set([...overlay.marks.map((one) => one.number), ...sections.map((one) => one.number), ...hops.keys(), ...wanted])) {
    const found = box(number);
    if (found) tops[number] = found.top;
  }
  for (const { number } of sections) {
    const container = elements.get(number)?.parentElement?.closest(CONTAINERS);
    if (container) ends[number] = Math.round(container.getBoundingClientRect().bottom + window.scrollY);
  }
  const root = page.scrollingElement ?? page.documentElement;
  tellOnce("measured", {
    tops,
    hidden: wanted.filter((number) => !isShown(number)),
    ends,
    height: root.scrollHeight,
    view: window.innerHeight,
    width: window.innerWidth,
    y: Math.round(window.scrollY),
    header: headerHeight(),
    padding: Math.round(paddingTop()),
    smooth: getComputedStyle(page.documentElement).scrollBehavior === "smooth",
  });
  overlay.reshape();
  overlay.draw();
}

// Drawing a long page to scale is work for the screen: it is asked for what is new only.
let told = "";
function tellOnce(what, found) {
  const text = JSON.stringify([round, found]);
  if (text !== told) tell(what, found);
  told = text;
}

let wanted = [];
let round = 0; // how often the screen has said what to look at
let measuring = 0;
function measureSoon() {
  cancelAnimationFrame(measuring);
  measuring = requestAnimationFrame(measure);
}

const overlay = new Overlay(box, (number) => tell("chose", { kind: "place", number }), (number) => tell("copyLink", { number }));
const preview = new Preview(elements);
const dragging = new Dragging(overlay, tell);
overlay.hold = (tag, mark) => dragging.hold(tag, mark);

const orders = {
  async lines({ numbers }) {
    tell("told lines", { lines: await asked.lines(elements, numbers) });
  },
  async foot() {
    tell("told foot", { foot: await asked.foot(elements) });
  },
  async layout({ marks, width }) {
    const isAlive = own === null && hasScripts();
    const layout = await measureLayout(window, marks, { width, isAlive });
    // What the page's own scripts do to it is not seen in the sheet, where they are at rest.
    layout.view.unrun = own !== null && [...page.scripts].some((one) => one !== own && isRun(one));
    layout.steady = isSteady(window) && !isAlive;
    tell("told layout", { layout });
  },
  greet() {
    if (hasBegun) tell("ready");
  },
  look(order) {
    round += 1;
    sections = order.sections;
    overlay.marks = order.marks;
    overlay.kinds = order.kinds;
    wanted = order.measure;
    for (const number of hops.keys()) elements.get(number)?.removeAttribute("data-hop-kind");
    hops = new Map(order.hops.map((hop) => [hop.number, hop.kind]));
    for (const [number, kind] of hops) elements.get(number)?.setAttribute("data-hop-kind", kind);
    overlay.scale = order.scale;
    overlay.showsTags = order.tags;
    overlay.sections = sections;
    // Not in the next frame: while the screen is busy, the sheet gets none.
    setTimeout(measure);
  },
  choose(order) {
    overlay.chosen = order.number;
    overlay.chosenIsSection = order.section;
    if (order.scroll && order.number !== null) goTo(order.number);
    overlay.draw();
  },
  describe({ number }) {
    const element = elements.get(number);
    if (!element) return;
    tell("described", { number, looks: looksOf(element, paddingTop(), covering), inner: innerOf(element) });
  },
  // The colour that the page gives its links, of which a button of our own is made.
  linkColour() {
    const where = ["main p a[href]", "main a[href]", "p a[href]", "a[href]"]; // those of the text first
    const link = where.flatMap((one) => [...page.querySelectorAll(one)]).find((one) => one.checkVisibility());
    tell("coloured", { colour: link ? getComputedStyle(link).color : "none" });
  },
  buttonLook({ number }) {
    const element = elements.get(number);
    if (element?.localName === "button") tell("looked", { number, look: buttonLook(element) });
  },
  preview(order) {
    preview.show(order.preview);
    overlay.preview = preview.element;
    overlay.reshape();
    overlay.draw();
    if (!preview.element) measureSoon();
  },
  blocksEvery({ screens, view }) {
    tell("blocks", { numbers: blocksEvery(screens * view).map(numberOf) });
  },
  isShown({ number }) {
    tell("shown", { number, shown: isShown(number) });
  },
  probe(order) {
    dragging.probe(order);
  },
  walk({ number, step }) {
    const found = walk(elements.get(number), step);
    tell("walked", { number: found ? numberOf(found) : null, step });
  },
  light(order) {
    overlay.lit = order.numbers;
    if (order.scroll) goTo(order.numbers[0]);
    overlay.draw();
  },
  scroll(order) {
    window.scrollTo({ top: order.y, behavior: "instant" });
  },
  find(order) {
    const found = findWords(order.words, order.again);
    if (found) select(found);
    tell("found", { any: Boolean(found) });
  },
  select(order) {
    const range = rangeOf(order, elements);
    if (range) select(range);
  },
  clear() {
    window.getSelection().removeAllRanges();
  },
};

window.addEventListener("message", (event) => {
  if (event.source !== screen) return;
  orders[event.data?.innerHop]?.(event.data);
});

function goTo(number) {
  const element = elements.get(number);
  for (let up = element?.parentElement; up; up = up.parentElement) {
    if (up.localName === "details") up.open = true;
  }
  if (!element) return;
  // Not where a hop would land, which a sticky header may cover, but in full view.
  const top = element.getBoundingClientRect().top + window.scrollY;
  const air = Math.max(window.innerHeight * 0.16, (covering?.height ?? 0) + 40);
  window.scrollTo({ top: top - air, behavior: "instant" });
}

function select(range) {
  const selection = window.getSelection();
  selection.removeAllRanges();
  selection.addRange(range);
  const rect = range.getBoundingClientRect();
  if (rect.top < 80 || rect.bottom > window.innerHeight - 20) {
    window.scrollBy({ top: rect.top - window.innerHeight / 3, behavior: "instant" });
  }
}

// What the reader of the screen points at.

function pointedAt(target) {
  const link = target.closest?.("[data-hop-kind]");
  if (link) return { kind: "hop", number: numberOf(link) };
  const place = placeAt(target);
  return place ? { kind: "place", number: numberOf(place) } : { kind: "none", number: null };
}

page.addEventListener(
  "click",
  (event) => {
    if (overlay.owns(event)) return;
    if (preview.owns(event.target)) {
      if (!event.target.closest("summary")) event.preventDefault();
      event.stopPropagation();
      return;
    }
    // A closed part still opens; nothing else on the page acts here.
    if (!event.target.closest?.("summary") || event.target.closest("a")) event.preventDefault();
    event.stopPropagation();
    if (!window.getSelection().isCollapsed) return;
    tell("chose", pointedAt(event.target));
  },
  true,
);
for (const kind of ["submit", "auxclick", "dblclick", "mousedown"]) {
  page.addEventListener(
    kind,
    (event) => {
      if (kind === "submit" || (kind === "auxclick" && event.target.closest?.("a"))) {
        event.preventDefault();
      }
      if (!overlay.owns(event)) event.stopPropagation();
    },
    true,
  );
}

page.addEventListener("dragstart", (event) => event.preventDefault(), true);

let over = null;
page.addEventListener("mouseover", (event) => {
  if (overlay.holdsPointer(event)) return;
  const found = overlay.owns(event) ? null : event.target.closest?.("[data-hop-kind]") ?? placeAt(event.target);
  const now = found ? numberOf(found) : null;
  overlay.point(now, found?.localName);
  if (now !== over) tell("over", { number: now });
  over = now;
});

let settling = 0;
page.addEventListener("selectionchange", () => {
  clearTimeout(settling);
  settling = setTimeout(tellWords, 180);
});

function tellWords() {
  const words = pointsOf(window.getSelection());
  if (words) words.y = Math.round(window.getSelection().getRangeAt(0).getBoundingClientRect().top + window.scrollY);
  if (words) tell("words", words);
  else if (hadWords) tell("nowords");
  hadWords = Boolean(words);
}

const KEYS = new Set(["/", "?", "Escape", "n", "p", "m", "r", "o", "i", "t", ".", ",", "1", "2", "3"]);
page.addEventListener("keydown", (event) => {
  const { key, ctrlKey, metaKey, shiftKey } = event;
  const command = (ctrlKey || metaKey) && key.toLowerCase() === "z";
  if (hadWords && key.length === 1 && key !== " " && !ctrlKey && !metaKey && !event.altKey) {
    event.preventDefault();
    tell("typed", { key });
    return;
  }
  if (!command && (ctrlKey || metaKey || event.altKey || !KEYS.has(key.length === 1 ? key.toLowerCase() : key))) return;
  event.preventDefault();
  tell("key", { key, command, shift: shiftKey });
});

// Keep up with the page's shape.

let scrolling = 0;
window.addEventListener(
  "scroll",
  () => {
    cancelAnimationFrame(scrolling);
    scrolling = requestAnimationFrame(() => {
      tell("scrolled", { y: Math.round(window.scrollY), view: window.innerHeight });
      overlay.draw();
    });
  },
  { passive: true },
);

let hasBegun = false;
function begin() {
  hasBegun = true;
  page.documentElement.getBoundingClientRect(); // laid out while the screen is being made
  collect();
  overlay.attach();
  new ResizeObserver(measureSoon).observe(page.documentElement);
  page.addEventListener("toggle", measureSoon, true);
  window.addEventListener("resize", measureSoon);
  window.addEventListener("load", () => {
    // Style sheets may have come since: what sticks to the window is looked for again.
    stuckAt = 0;
    pinned = new WeakMap();
    measureSoon();
  });
  page.fonts?.ready.then(measureSoon);
  tell("ready");
}

if (page.readyState === "loading") page.addEventListener("DOMContentLoaded", begin);
else begin();
