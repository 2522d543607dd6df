// What was typed into a plain form is there again when the session had ended and its editor has
// signed in: the answer to sending it was the sign-in screen, and after that the form, empty.

const WITHOUT = new Set(["hidden", "file", "password"]);
const nameOf = (form) => `innerhop form ${form.dataset.keeps}`;
const fieldsOf = (form) => [...form.elements].filter(({ name, type }) => name && !WITHOUT.has(type));

export function keepForms() {
  const cameBySignIn = document.referrer.startsWith(`${window.location.origin}/sign-in/`);
  for (const form of document.querySelectorAll("form[data-keeps]")) {
    const kept = JSON.parse(sessionStorage.getItem(nameOf(form)) ?? "null");
    sessionStorage.removeItem(nameOf(form));
    if (kept && cameBySignIn) fill(form, kept);
    form.addEventListener("submit", () => sessionStorage.setItem(nameOf(form), JSON.stringify(read(form))));
  }
}

function read(form) {
  return fieldsOf(form).filter(({ type, checked }) => type !== "radio" || checked).map(({ name, type, value, checked }) => [name, type === "checkbox" ? checked : value]);
}

function fill(form, kept) {
  for (const [name, value] of kept) {
    for (const field of fieldsOf(form).filter((one) => one.name === name)) {
      if (field.type === "checkbox") field.checked = value;
      else if (field.type === "radio") field.checked = field.value === value;
      else field.value = value;
    }
  }
  const line = document.createElement("p");
  line.className = "mb-3 rounded-md bg-bar px-4 py-2 text-on-bar";
  line.role = "status";
  line.textContent = "You had been signed out, so this was not saved. What you typed is here again: look at it and save.";
  form.prepend(line);
}
