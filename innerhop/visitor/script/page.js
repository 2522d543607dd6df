// A page's document, as browsers define it: an image or a form of the page with the
// name of a method (`name=querySelectorAll`) stands in front of that method
// (https://html.spec.whatwg.org/multipage/dom.html#dom-document-nameditem), so nothing
// is asked of the document itself.
export function documentOf(document) {
  return new Proxy(Document.prototype, {
    get(methods, name) {
      const found = Reflect.get(methods, name, document);
      return typeof found === "function" ? found.bind(document) : found;
    },
    set: (methods, name, value) => Reflect.set(methods, name, value, document),
  });
}

export const page = documentOf(document);
