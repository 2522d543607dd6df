// Selected words, as places that the page's text can be asked about: the
// number of an element, which of its child nodes, and how many characters in.
import { page } from "./page.js";

const SILENT = new Set(["SCRIPT", "STYLE", "NOSCRIPT", "TEMPLATE", "TITLE", "INNER-HOP-MARKS"]);

function texts(root) {
  const walker = page.createTreeWalker(root, NodeFilter.SHOW_TEXT, (node) =>
    SILENT.has(node.parentNode.nodeName) ? NodeFilter.FILTER_REJECT : NodeFilter.FILTER_ACCEPT,
  );
  const found = [];
  while (walker.nextNode()) found.push(walker.currentNode);
  return found;
}

// The first and last characters of the selection that are not white space.
export function pointsOf(selection) {
  if (selection.rangeCount === 0 || selection.isCollapsed) return null;
  const range = selection.getRangeAt(0);
  const common = range.commonAncestorContainer;
  const within = common.nodeType === Node.TEXT_NODE ? [common] : texts(common);
  const parts = within
    .filter((node) => range.intersectsNode(node))
    .map((node) => ({
      node,
      from: node === range.startContainer ? range.startOffset : 0,
      to: node === range.endContainer ? range.endOffset : node.data.length,
    }))
    .filter(({ node, from, to }) => /\S/.test(node.data.slice(from, to)));
  if (parts.length === 0) return null;
  const first = parts[0];
  const last = parts[parts.length - 1];
  const from = first.from + first.node.data.slice(first.from, first.to).search(/\S/);
  const to = last.from + last.node.data.slice(last.from, last.to).trimEnd().length;
  const start = point(first.node, from);
  const end = point(last.node, to);
  return start && end ? { start, end, text: selection.toString().replace(/\s+/g, " ").trim() } : null;
}

function point(node, offset) {
  const number = node.parentNode.dataset?.hopN;
  if (number === undefined) return null;
  return {
    number: Number(number),
    child: Array.prototype.indexOf.call(node.parentNode.childNodes, node),
    offset: [...node.data.slice(0, offset)].length, // characters, not UTF-16 units
  };
}

export function rangeOf({ start, end }, elements) {
  const range = page.createRange();
  for (const [at, set] of [[start, "setStart"], [end, "setEnd"]]) {
    const node = elements.get(at.number)?.childNodes[at.child];
    if (!node || node.nodeType !== Node.TEXT_NODE) return null;
    range[set](node, [...node.data].slice(0, at.offset).join("").length);
  }
  return range;
}

let lastPlace = -1;

// The next place where these words stand, white space and capitals aside.
export function findWords(words, again) {
  const asked = words.replace(/\s+/g, " ").trim().toLowerCase();
  if (!asked) return null;
  const letters = []; // one string that grew by each would be copied by each
  const places = [];
  for (const node of texts(page.body)) {
    if (!node.parentElement.checkVisibility()) continue;
    for (let at = 0; at < node.data.length; at += 1) {
      const letter = /\s/.test(node.data[at]) ? " " : node.data[at].toLowerCase();
      if (letter === " " && letters.at(-1) === " ") continue;
      if (letter.length !== 1) continue;
      letters.push(letter);
      places.push([node, at]);
    }
  }
  const all = letters.join("");
  let found = all.indexOf(asked, again ? lastPlace + 1 : 0);
  if (found < 0 && again) found = all.indexOf(asked);
  lastPlace = found;
  if (found < 0) return null;
  const range = page.createRange();
  range.setStart(...places[found]);
  const [node, at] = places[found + asked.length - 1];
  range.setEnd(node, at + 1);
  return range;
}
