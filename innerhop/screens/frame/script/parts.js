// What an edit changes, old and new told apart by elements and in words, not by colour alone:
//   <code x-parts="spot.parts"></code>, or x-parts.short where there is little room.
// HTML Standard, 4.7: https://html.spec.whatwg.org/multipage/edits.html

const KINDS = { old: ["del", "removed", "taken out: "], new: ["ins", "added no-underline", "put in: "] };
const FEW = 23; // characters of what stays the same, on either side

export function drawsParts(Alpine) {
  Alpine.directive("parts", (element, { expression, modifiers }, { evaluateLater, effect }) => {
    const evaluate = evaluateLater(expression);
    effect(() => evaluate((parts) => element.replaceChildren(...drawn(parts ?? [], modifiers.includes("short")))));
  });
}

function drawn(parts, isShort) {
  return parts.map(([kind, text], at) => {
    const [tag, look, says] = KINDS[kind] ?? ["span", isShort ? "text-soft" : "", ""];
    const part = document.createElement(tag);
    part.className = look;
    if (says) part.append(heard(says));
    part.append(isShort && kind === "same" ? shortened(text, at === 0, at === parts.length - 1) : text);
    return part;
  });
}

function heard(words) {
  const part = document.createElement("span");
  part.className = "sr-only";
  part.textContent = words;
  return part;
}

// Of what stays the same, a few words beside what doesn't.
function shortened(text, isFirst, isLast) {
  if (text.length <= FEW + 1) return text;
  if (isFirst) return `…${text.slice(-FEW)}`;
  return isLast ? `${text.slice(0, FEW)}…` : text;
}
