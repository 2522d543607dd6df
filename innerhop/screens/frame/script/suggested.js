// What is suggested for a field that somebody may be in already.

// A suggestion that comes while the keyboard is in its field stands there selected, in one
// go: what is typed next takes its place, and isn't put behind it.
export function intoField(ids, suggestion) {
  const field = document.activeElement;
  if (!ids.includes(field?.id)) return;
  field.value = suggestion;
  field.select();
}
