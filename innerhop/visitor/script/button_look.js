// What a button would lose of its look if it became a link: a link is put in its place for
// a moment and the computed values are compared (CSSOM, getComputedStyle).
import { page } from "./page.js";

const SIDES = ["top", "right", "bottom", "left"];
const PLAIN = [
  "display", "box-sizing", "color", "background-color", "background-image", "font-family", "font-size",
  "font-weight", "font-style", "line-height", "letter-spacing", "text-transform", "text-align",
  "text-shadow", "box-shadow", "white-space", "min-width", "min-height", "cursor",
];

// Values that are written in one where all four sides are alike.
function readings(style) {
  const of = (name) => style.getPropertyValue(name);
  const four = (name) => SIDES.map((side) => of(name.replace("*", side)));
  const short = (values) => (new Set(values).size === 1 ? values[0] : values.join(" "));
  const borders = SIDES.map((side) => `${of(`border-${side}-width`)} ${of(`border-${side}-style`)} ${of(`border-${side}-color`)}`);
  const corners = ["top-left", "top-right", "bottom-right", "bottom-left"].map((one) => of(`border-${one}-radius`));
  return {
    ...Object.fromEntries(PLAIN.map((name) => [name, of(name)])),
    "text-decoration": of("text-decoration-line"),
    padding: short(four("padding-*")),
    margin: short(four("margin-*")),
    "border-radius": short(corners),
    ...(new Set(borders).size === 1 ? { border: borders[0] } : Object.fromEntries(SIDES.map((side, at) => [`border-${side}`, borders[at]]))),
  };
}

export function buttonLook(button) {
  const link = page.createElement("a");
  for (const { name, value } of button.attributes) {
    if (["class", "style", "id", "role", "dir", "lang"].includes(name)) link.setAttribute(name, value);
  }
  link.href = "#";
  // A copy is not pointed at and has no focus, as the button itself may; and without its
  // transitions, which would show values on their way.
  const copy = button.cloneNode(true);
  copy.style.transition = link.style.transition = "none";
  button.replaceWith(copy);
  const own = readings(getComputedStyle(copy));
  copy.replaceWith(link);
  const other = readings(getComputedStyle(link));
  link.replaceWith(button);
  return Object.fromEntries(Object.entries(own).filter(([name, value]) => value !== other[name] && value !== ""));
}
