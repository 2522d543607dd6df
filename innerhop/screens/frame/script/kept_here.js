// What is open on a screen outlives Back and a reload: it is kept with this step of the browser's
// history, and with no other.
// https://html.spec.whatwg.org/multipage/nav-history-apis.html#dom-history-state

// Browsers keep it too when the same address is asked for again, as by a link: who goes there on
// purpose begins anew.
const AGAIN = new Set(["reload", "back_forward"]);
if (!AGAIN.has(performance.getEntriesByType("navigation")[0]?.type)) window.history.replaceState(null, "");

export function keptHere(name) {
  return window.history.state?.[name] ?? null;
}

// value: as JSON has it.
export function keepHere(name, value) {
  window.history.replaceState({ ...window.history.state, [name]: JSON.parse(JSON.stringify(value)) }, "");
}
