// Where a tag can stand: in the margin, beside its words or above them, and never over
// words, links or pictures of the page, nor so far off that nobody sees what it is of. Where
// its words find no room it is a dot, and where a dot finds none a sliver at the page's edge. What is in the way is asked of the browser at a
// few points (CSSOM View, elementsFromPoint), so only what is in view can be placed.
import { page } from "./page.js";

const SOLID = "img,svg,video,canvas,iframe,input,select,textarea,button,a,audio,object,embed";
const ACROSS = 6; // points at which a tag's width is looked at
const FAR = 140; // from its words, in pixels: there a tag seems to be of something else
const DOT = 0.62; // of a tag's height
const SLIVER = 0.2;

export class TagPlaces {
  constructor(host) {
    this.host = host;
    this.known = new Map(); // by element number: where its tag was found room
    this.taken = []; // tags placed in this drawing, in coordinates of the page
  }

  // The page has another shape now.
  forget() {
    this.known.clear();
  }

  begin() {
    this.taken = [];
  }

  // Where the tag of an element goes: { left, top } in coordinates of the page, and what it
  // is there: "" for words, "folded" for a dot, "slim" for a sliver. size: { width, height }
  // of the tag with its words; air: between it and what it stands beside. element, rect:
  // what it is of. isDot: whether it is one wherever it stands.
  find(number, element, rect, size, air, isDot) {
    const known = this.known.get(number);
    if (known && known.width === size.width && known.isDot === isDot) return this.take(known);
    // Nothing can be asked of what is out of view.
    const isSeen = rect.top >= 0 && rect.top <= window.innerHeight;
    const found = (isSeen && ((!isDot && this.wordsAt(element, rect, size, air)) || this.dotAt(element, rect, size, air)))
      || slimAt(rect, size);
    if (!isSeen) return found;
    this.known.set(number, { ...found, width: size.width, isDot });
    return this.take(found);
  }

  wordsAt(element, rect, size, air) {
    const free = this.freeNear(element, rect, size, air);
    return free && { ...onPage(free), box: size, shape: "" };
  }

  dotAt(element, rect, { height }, air) {
    const size = { width: height * DOT, height: height * DOT };
    const free = this.freeNear(element, rect, size, air);
    return free && { ...onPage(free), box: size, shape: "folded" };
  }

  freeNear(element, rect, size, air) {
    const words = lineOf(element) ?? rect;
    const isNear = ({ left }) => left > 0 && left <= words.right + FAR && left + size.width >= words.left - FAR;
    return places(words, rect, size, air).find((one) => isNear(one) && this.isFree(one, size));
  }

  take(kept) {
    const { left, top, box } = kept;
    this.taken.push({ left, top, right: left + box.width, bottom: top + box.height });
    return kept;
  }

  isFree({ left, top }, { width, height }) {
    const [right, bottom] = [left + width, top + height];
    if (left < 0 || top + window.scrollY < 0 || right > page.documentElement.clientWidth) return false;
    const [x, y] = [left + window.scrollX, top + window.scrollY];
    const meets = (one) => x < one.right && x + width > one.left && y < one.bottom && y + height > one.top;
    if (this.taken.some(meets)) return false;
    for (let across = 0; across <= ACROSS; across += 1) {
      for (const down of [0.15, 0.5, 0.85]) {
        if (this.isCovered(left + (width * across) / ACROSS, top + height * down, bottom)) return false;
      }
    }
    return true;
  }

  isCovered(x, y) {
    if (y < 0 || y >= window.innerHeight) return false; // out of view: nothing can be asked
    const under = page.elementsFromPoint(x, y).find((one) => one !== this.host);
    if (!under) return false;
    if (under.closest(SOLID)) return true;
    const caret = page.caretRangeFromPoint?.(x, y);
    const text = caret?.startContainer;
    if (text?.nodeType !== Node.TEXT_NODE) return false;
    const range = page.createRange();
    range.setStart(text, Math.max(0, caret.startOffset - 1));
    range.setEnd(text, Math.min(text.length, caret.startOffset + 1));
    return [...range.getClientRects()].some((one) => x >= one.left - 2 && x <= one.right + 2 && y >= one.top && y <= one.bottom);
  }
}

const onPage = ({ left, top }) => ({ left: left + window.scrollX, top: top + window.scrollY });

function slimAt(rect, { height }) {
  return { left: 0, top: Math.max(0, rect.top + window.scrollY), box: { width: height * SLIVER, height: height * DOT }, shape: "slim" };
}

// In the window's coordinates, the best first.
function places(words, rect, { width, height }, air) {
  const middle = words.top + (Math.min(words.bottom, words.top + 60) - words.top - height) / 2;
  return [
    { left: rect.left - width - air, top: middle },
    { left: rect.left, top: rect.top - height - 1 },
    { left: words.right + 2 * air, top: middle },
    { left: rect.right - width, top: rect.top - height - 1 },
    { left: rect.right + air, top: middle },
    { left: 1, top: middle },
    { left: page.documentElement.clientWidth - width - 1, top: middle },
  ];
}

// The first line of an element's words.
function lineOf(element) {
  const range = page.createRange();
  range.selectNodeContents(element);
  const [first, ...others] = range.getClientRects();
  if (!first) return null;
  const same = others.filter(({ top, bottom }) => top < first.bottom - 2 && bottom > first.top + 2);
  return { top: first.top, bottom: first.bottom, left: first.left, right: Math.max(first.right, ...same.slice(0, 40).map(({ right }) => right)) };
}
