// Hops on the ruler. Kinds differ by dash and by end as well as by colour.
import { X } from "./ruler_places.js";
import { add } from "./svg.js";

const LOOK = {
  here: { stroke: "var(--here)" },
  there: { stroke: "var(--there)", "stroke-dasharray": "7 4" },
  menu: { stroke: "var(--menu)", "stroke-dasharray": "2 3" },
  back: { stroke: "var(--back)", "stroke-dasharray": "1.5 3.5" },
  broken: { stroke: "var(--broken)" },
};
export const MANY = 120; // more arcs than this are one grey veil, and only those asked for stand out

export function arcPath(from, to) {
  const reach = X.arcs + Math.min(88, 18 + Math.abs(to - from) * 0.32);
  return `M${X.arcs} ${from} C ${reach} ${from}, ${reach} ${to}, ${X.arcs + 6} ${to}`;
}

export function drawHops(layer, ruler, model) {
  const { tops, into, chosen } = model;
  // Points stand at the side of the view, not at a place of the page.
  const points = new Set(model.lists.filter(({ kind }) => kind === "points").flatMap(({ links }) => links));
  const list = new Map(model.lists.flatMap(({ number, links }) => links.map((link) => [link, number])));
  const ways = new Set(model.ways);
  const isComb = (hop) => ways.has(hop.number) && ways.size > 1 && !isChosen(hop, chosen, model.section);
  drawComb(layer, ruler, model.hops.filter(isComb).map(({ number }) => tops[number]));
  drawLists(layer, ruler, model);
  const hops = model.hops.filter((hop) => !isComb(hop) && (!points.has(hop.number) || isChosen(hop, chosen, model.section)));
  const shown = [
    // All entries of a list start at one place, so that they make one fan.
    ...hops.map((hop) => ({ hop, inList: list.has(hop.number), from: tops[list.get(hop.number)] ?? tops[hop.number], to: hop.end === null ? 0 : tops[hop.end] })),
    ...firstOfEach(into).map((hop) => ({ hop, incoming: true, to: hop.end === null ? 0 : tops[hop.end] })),
  ];
  const labels = [];
  if (hops.length > MANY) {
    const arcs = shown.filter(({ hop, incoming, from, to }) =>
      !incoming && hop.kind === "here" && from !== undefined && to !== undefined && from !== to);
    const all = arcs.map(({ from, to }) => arcPath(ruler.place(from), ruler.place(to))).join(" ");
    add(layer, "path", { d: all, fill: "none", stroke: "var(--here)", "stroke-width": 0.7, opacity: 0.16 });
  }
  for (const one of shown) {
    const touches = isChosen(one.hop, chosen, model.section);
    if (hops.length > MANY && !touches && one.hop.kind !== "broken") continue;
    drawHop(layer, ruler, one, touches, touches || !["section", "hop"].includes(chosen.kind), labels);
  }
  drawLabels(labels);
}

// Ways back are one line with a tooth for each, not an arc each.
function drawComb(layer, ruler, places) {
  const ys = places.filter((one) => one !== undefined).map((one) => ruler.place(one)).sort((one, other) => one - other);
  if (!ys.length) return;
  const x = X.edge - 14;
  const group = add(layer, "g", { class: "ruler-comb" });
  add(group, "title", {}, `${ys.length} ways back up`);
  add(group, "path", { ...LOOK.back, d: `M${x} ${ruler.place(0) + 4} V${ys.at(-1)}`, fill: "none", "stroke-width": 1.4 });
  add(group, "path", { d: `M${x} ${ruler.place(0)} l-3.6 7 h7.2z`, fill: "var(--back)" });
  for (const y of ys) add(group, "circle", { cx: x, cy: y, r: 2.4, fill: "var(--back)" });
}

// Where a contents list stands, and whether it is out of step with the page.
function drawLists(layer, ruler, { lists, tops }) {
  for (const { number, says, kind } of lists) {
    if (tops[number] === undefined || kind === "points") continue;
    const y = ruler.place(tops[number]);
    const group = add(layer, "g", { class: "ruler-list" });
    add(group, "title", {}, says.length ? `Contents list, out of step: ${says.join(" ")}` : "Contents list");
    add(group, "rect", { x: X.arcs - 5, y: y - 6, width: 10, height: 12, rx: 2, fill: "var(--card)", stroke: says.length ? "var(--warn)" : "var(--here)", "stroke-width": says.length ? 2 : 1.2 });
    for (const line of [-3, 0, 3]) add(group, "path", { d: `M${X.arcs - 3} ${y + line} h6`, stroke: says.length ? "var(--warn)" : "var(--here)", "stroke-width": 1.2 });
  }
}

// A menu leads here from every page; one of them stands for all.
function firstOfEach(into) {
  const seen = new Set();
  return into.filter((hop) => {
    const key = `${hop.kind} ${hop.kind === "menu" ? "" : hop.from.id} ${hop.end} ${hop.kind === "broken" ? hop.key : ""}`;
    if (hop.kind === "broken" || seen.has(key)) return false;
    seen.add(key);
    return true;
  });
}

function isChosen(hop, chosen, section) {
  if (chosen.kind === "hop") return hop.key === chosen.key;
  return chosen.kind === "section" && section !== null && section.numbers.has(hop.end) && hop.to?.id === section.page;
}

// Whether the ruler has a place for a hop: the menu stands in the header, so of
// its hops only those that end on this page are drawn.
function hasPlace({ hop, from, to, incoming }, pageId) {
  if (incoming) return to !== undefined;
  if (from === undefined) return false;
  if (hop.kind === "broken" || hop.kind === "there") return true;
  return to !== undefined && hop.to.id === pageId;
}

function drawHop(layer, ruler, one, chosen, strong, labels) {
  const { hop, from, to, incoming } = one;
  if (!hasPlace(one, ruler.model.pageId)) return;
  const stroke = { ...LOOK[hop.kind], fill: "none", "stroke-width": chosen ? 2.6 : one.inList ? 1.1 : 1.6, opacity: strong ? (one.inList && !chosen ? 0.7 : 1) : 0.35 };
  const group = add(layer, "g", { class: "ruler-hop", "data-key": hop.key, "data-kind": hop.kind });
  const say = (y, words) => labels.push({ group, y, words, isFirst: chosen });
  if (hop.kind === "broken") {
    const y = ruler.place(from);
    add(group, "path", { ...stroke, d: `M${X.arcs} ${y} h32 m7 0 h14` });
    add(group, "path", { ...stroke, d: `M${X.arcs + 56} ${y - 4} l8 8 m0 -8 l-8 8` });
    say(y, hop.href);
  } else if (incoming) {
    const y = ruler.place(to) + 6;
    add(group, "path", { ...stroke, d: `M${X.edge} ${y} H${X.arcs + 7}` });
    arrow(group, X.arcs + 1, y, stroke);
    if (hop.kind === "menu") add(group, "rect", { x: X.edge - 5, y: y - 5, width: 10, height: 10, rx: 2, fill: "var(--menu-fill)" });
    say(y - (hop.kind === "menu" ? 4 : 0), hop.kind === "menu" ? `Menu: ${hop.text}` : hop.from.title);
  } else if (hop.kind === "there") {
    const y = ruler.place(from);
    add(group, "path", { ...stroke, d: `M${X.arcs} ${y} H${X.edge - 6}` });
    arrow(group, X.edge + 2, y, stroke, -1);
    say(y, hop.to.title);
  } else {
    const [start, end] = [ruler.place(from), ruler.place(to) + (to === 0 ? 0 : 6)];
    add(group, "path", { ...stroke, d: arcPath(start, end) });
    arrow(group, X.arcs, end, stroke);
  }
  hear(group, ruler, hop, incoming);
}

function hear(group, ruler, hop, incoming) {
  const wide = group.firstChild.cloneNode();
  wide.removeAttribute("stroke-dasharray");
  for (const [name, value] of [["stroke", "transparent"], ["stroke-width", "10"], ["opacity", "1"]]) wide.setAttribute(name, value);
  group.append(wide);
  add(group, "title", {}, `“${hop.text}” ${incoming ? `on ${hop.from.title}` : ""} → ${hop.href}`);
  group.addEventListener("click", () => ruler.tell.choose("hop", hop.number, true, hop.key));
  group.addEventListener("pointerenter", () => ruler.tell.over(incoming ? hop.end : hop.number));
  group.addEventListener("pointerleave", () => ruler.tell.over(null));
}

function arrow(group, x, y, { stroke, opacity }, way = 1) {
  add(group, "path", { d: `M${x} ${y} l${7 * way} -3.6 v7.2z`, fill: stroke, opacity });
}

// Words beside hops, the chosen one's first, as far as they have room.
function drawLabels(labels) {
  const used = [];
  for (const { group, y, words } of [...labels].sort((one, other) => other.isFirst - one.isFirst)) {
    if (used.some((other) => Math.abs(other - y) < 13)) continue;
    used.push(y);
    const cut = words.length > 15 ? `${words.slice(0, 14).trimEnd()}…` : words;
    add(group, "text", { x: X.edge + 4, y: y - 5, "text-anchor": "end", class: "ruler-hop-label", "aria-hidden": "true" }, `\u2068${cut}\u2069`);
  }
}
