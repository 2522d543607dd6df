// Making SVG elements.

export function make(name, attributes = {}, text = "") {
  const element = document.createElementNS("http://www.w3.org/2000/svg", name);
  for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, value);
  if (text) element.textContent = text;
  return element;
}

export function add(parent, name, attributes = {}, text = "") {
  const element = make(name, attributes, text);
  parent.append(element);
  return element;
}
