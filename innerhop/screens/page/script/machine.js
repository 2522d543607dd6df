// What is chosen on the page screen, and what is being done with it: one value, changed
// by the named transitions below and by nothing else. What belongs to an activity is
// gone when that ends, so nothing has to be reset by hand. No part of a browser is
// needed here: tests/script tries every transition in plain Node.

export const NOTHING = { kind: "none", number: null, key: null };
export const NOTHING_SAID = { message: "", fix: "" }; // of an ID that is typed
export const NO_LINK = { number: null, side: "after", words: "", like: "", looks: [], look: null, colour: "" };
export const NO_SPOT = {
  number: null, line: [], levels: [], before: [], locked: null, shared: 0, words: "", href: "", headingWords: "", isHeading: false,
};

// What is known of the chosen thing, until it is known.
const ABOUT = {
  spot: NO_SPOT, // what the server said of a part
  trail: [], // the line outward from the innermost part that was pointed at
  inner: null,
  wordsLink: "",
  inClass: [], // where the ID that a broken hop looks for stands in a class
  words: null, // the selected words
  wordsFit: false,
  wordsTrouble: "",
  nearest: null,
  isPointed: false, // chosen with the pointer or Enter, so the keyboard goes to its field
};

// The activities, each with the things that it may be done with, and what it begins with.
const ACTIVITIES = {
  look: { with: ["none", "section", "place", "hop", "words", "many", "list"], fields: {} },
  rename: { with: ["section", "place"], fields: { keepOld: false, leadOn: false, followers: [] } },
  away: { with: ["section", "place"], fields: { then: "break", awayEnd: null, leadOn: false, moveLine: false } },
  move: { with: ["section", "place"], fields: { moving: { to: null, side: "before" } } },
  heading: { with: ["section", "place"], fields: {} },
  level: { with: ["section", "place"], fields: {} },
  // making: what a hop is being made of: words, part, beside or link. where: whether the same
  // words become hops, too, on the page or the site
  hop: {
    with: ["section", "place", "hop", "words"],
    fields: { making: "", newLink: NO_LINK, end: null, endId: "", endIdSays: NOTHING_SAID, form: "", newTab: false, tabTouched: false, endHidden: false, where: "here", oneASection: false, withRoom: false },
  },
  reword: { with: ["hop"], fields: { linkWords: "" } },
  movePage: { with: ["none"], fields: {} },
  // style: which line of style the page lacks: smooth or room
  style: { with: ["none", "section", "place"], fields: { style: { name: "", all: false } } },
  visitors: { with: ["none"], fields: { give: null, given: null, giveAll: false, feet: [] } },
  // menus: of the site; menuAt: the chosen one's name in addresses, "" for a new one.
  // menuMore: sections that go into it with what is chosen
  menu: { with: ["none", "section", "place"], fields: { menus: [], menuAt: "", menuWords: "", menuEnd: null, menuMore: [], menuRoom: false, newMenu: { side: "before", name: "Main", pages: [] } } },
  convert: { with: ["none"], fields: { convert: { origin: "", form: "path", all: false } } },
};

const NO_FIELDS = Object.assign({}, ...Object.values(ACTIVITIES).map(({ fields }) => fields));

export const START = { chosen: NOTHING, about: ABOUT, doing: "look", fields: {} };

// Another thing is chosen: what was being done with the last one is over. stepping:
// along the line of what stands around it, which stays at hand.
export function choose(at, kind, { number = null, key = null, stepping = false, isPointed = false } = {}) {
  const { trail, inner } = stepping ? at.about : ABOUT;
  const chosen = kind === "none" ? NOTHING : { kind, number, key };
  return { chosen, about: { ...ABOUT, trail, inner, isPointed }, doing: "look", fields: {} };
}

// Words were selected: they are chosen, and a hop is being made of them. An end that was
// chosen for others before them stays.
export function chooseWords(at, words) {
  const { end, endId } = at.doing === "hop" ? { ...NO_FIELDS, ...at.fields } : NO_FIELDS;
  const chosen = choose(at, "words");
  return begin({ ...chosen, about: { ...chosen.about, words } }, "hop", { making: "words", end, endId });
}

// An activity begins with the chosen thing. Where it can't be done with that, all stays.
export function begin(at, doing, fields = {}) {
  const activity = ACTIVITIES[doing];
  if (!activity?.with.includes(at.chosen.kind)) return at;
  return { ...at, doing, fields: { ...activity.fields, ...fields } };
}

// What was being done with the same thing before goes on.
export function resume(at, { doing, fields }) {
  return begin(at, doing, fields);
}

// What is being done is given up, or has been saved.
export function stop(at) {
  return at.doing === "look" ? at : { ...at, doing: "look", fields: {} };
}

// Something of the activity, or of what is known of the chosen thing, is another now.
// A late answer for an activity that is over changes nothing.
export function set(at, name, value) {
  if (name in ABOUT) return { ...at, about: { ...at.about, [name]: value } };
  if (!(name in ACTIVITIES[at.doing].fields)) return at;
  return { ...at, fields: { ...at.fields, [name]: value } };
}

export function get(at, name) {
  return name in ABOUT ? at.about[name] : (at.fields[name] ?? NO_FIELDS[name]);
}

// All of it as members of a screen that keeps the value in `machine`.
export function members() {
  const found = {};
  for (const name of [...Object.keys(ABOUT), ...Object.keys(NO_FIELDS)]) {
    Object.defineProperty(found, name, {
      configurable: true,
      enumerable: true,
      get() {
        return get(this.machine, name);
      },
      set(value) {
        this.machine = set(this.machine, name, value);
      },
    });
  }
  return found;
}
