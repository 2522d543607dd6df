// What a page asks of its hops, for its visitors: the section one is in is lit in lists and
// points, the keyboard goes where the hop goes, jumps stay out of the history if wanted,
// a way back comes after some screens. Everything works without it. No globals; nothing is
// written into the page that a strict Content-Security-Policy would refuse.
// Options are data attributes of the script's own tag (see the README).
{
  const { hopFocus, hopHistory, hopSnap, hopMoved, hopUnlit } = document.currentScript.dataset;
  const root = document.documentElement;
  const all = (selector) => [...document.querySelectorAll(selector)];
  const isCalm = matchMedia("(prefers-reduced-motion: reduce)").matches;

  // Where a link leads on this very page (HTML Standard, "select the indicated part").
  const decoded = (id) => {
    try {
      return decodeURIComponent(id);
    } catch {
      return id; // a stray percent sign stands for itself
    }
  };
  const at = (id) => document.getElementById(id) ?? document.getElementById(decoded(id));
  const end = (link) => {
    if (!link?.hash || link.href.split("#")[0] !== location.href.split("#")[0]) return null;
    const id = link.hash.slice(1);
    return at(id) ?? (/^top$/i.test(id) ? document.body : null);
  };

  // Who comes by the old address of a part is led on. One that is there again stays.
  const moved = (hopMoved ?? "").split(" ");
  const lead = () => {
    const id = location.hash.slice(1);
    const place = id ? moved.findIndex((one, i) => i % 2 === 0 && decoded(one) === decoded(id)) : -1;
    if (place >= 0 && (at(id)?.hasAttribute("data-hop-moved") ?? true)) location.replace(moved[place + 1]);
  };
  if (hopMoved) {
    lead();
    addEventListener("hashchange", lead);
  }

  const links = all("[data-hop-list] a, [data-hop-points] a, [data-hop-menu] a").map((link) => [link, end(link)]).filter(([, to]) => to);
  const ends = [...new Set(links.map(([, to]) => to))].sort((one, other) => (one.compareDocumentPosition(other) & 4 ? -1 : 1));
  const ups = all("[data-hop-up]");
  const points = all("[data-hop-points]");

  // The section in which the upper edge of the view lies, below what covers it.
  const current = () => {
    const room = parseFloat(getComputedStyle(root).scrollPaddingTop) || 0;
    let found = null;
    for (const to of ends) {
      const margin = parseFloat(getComputedStyle(to).scrollMarginTop) || 0;
      if (to.getBoundingClientRect().top - margin - room < 2) found = to;
    }
    return scrollY + innerHeight > root.scrollHeight - 2 && scrollY > 2 ? ends.at(-1) : found;
  };

  // How far up something has to be not to cover what stays at the view's foot.
  const foot = (own) => {
    const there = document.elementsFromPoint(innerWidth / 2, innerHeight - 2).concat(document.elementsFromPoint(innerWidth - 30, innerHeight - 2));
    const fixed = there.filter((one) => !own.some((part) => part.contains(one)) && /fixed|sticky/.test(getComputedStyle(one).position));
    return Math.max(0, ...fixed.map((one) => innerHeight - one.getBoundingClientRect().top));
  };

  const update = () => {
    const now = current();
    for (const [link, to] of hopUnlit === undefined ? links : []) {
      if (to === now) link.setAttribute("aria-current", "location");
      else link.removeAttribute("aria-current");
    }
    for (const up of ups) up.hidden = scrollY < up.dataset.hopUp * innerHeight;
    if (ups.length) root.style.setProperty("--hop-foot", `${foot([...ups, ...points])}px`);
  };
  // Points stand beside the text or not at all. Measured once a size: boxes may be wider than
  // what they hold.
  const fit = () => {
    if (!points.length) return;
    const range = document.createRange();
    const texts = all("h1, h2, h3, h4, p, li, dd, td, img").filter((one) => !points.some((part) => part.contains(one)) && !one.closest("[data-hop-up]"));
    const boxes = texts.flatMap((one) => {
      range.selectNode(one);
      if (one.localName !== "img") range.selectNodeContents(one);
      return [...range.getClientRects()];
    });
    const [left, right] = [Math.min(...boxes.map((box) => box.left)), Math.max(...boxes.map((box) => box.right))];
    for (const one of points) {
      const box = one.getBoundingClientRect();
      one.style.visibility = box.left < right + 4 && box.right > left - 4 ? "hidden" : "";
    }
  };
  let waiting = 0;
  const soon = () => {
    cancelAnimationFrame(waiting);
    waiting = requestAnimationFrame(update);
  };
  if (links.length || ups.length) {
    addEventListener("scroll", soon, { passive: true });
    for (const name of ["resize", "load"]) {
      addEventListener(name, soon);
      addEventListener(name, fit);
    }
    update();
    fit();
  }
  // Where a list leads to the same sections, Tab goes through that one alone.
  const listed = new Set(all("[data-hop-list]:not([data-hop-points]) a").map(end));
  for (const link of all("[data-hop-points] a, [data-hop-sign]")) if (listed.has(end(link))) link.tabIndex = -1;
  // A label goes with Escape, and comes again another time (WCAG 2.2, 1.4.13).
  addEventListener("keydown", ({ key }) => key === "Escape" && points.forEach((one) => one.setAttribute("data-hop-hush", "")));
  for (const one of points) for (const name of ["pointerout", "focusout"]) one.addEventListener(name, () => one.removeAttribute("data-hop-hush"));

  // The keyboard and what reads the page aloud go on from where the hop ends.
  const follow = (to) => {
    if (!to.matches("a[href], button, input, select, textarea, [tabindex]")) {
      to.tabIndex = -1;
      to.addEventListener("blur", () => to.removeAttribute("tabindex"), { once: true });
    }
    to.focus({ preventScroll: true });
  };
  addEventListener("click", (event) => {
    const link = event.target.closest?.("a[href]");
    const to = end(link);
    if (!to || event.defaultPrevented || event.button || event.ctrlKey || event.metaKey || event.shiftKey) return;
    if (hopHistory === "replace") {
      event.preventDefault();
      location.replace(link.hash);
    }
    if (hopFocus !== undefined) requestAnimationFrame(() => follow(to));
  });

  if (hopSnap !== undefined && !isCalm) {
    root.style.scrollSnapType = "y proximity";
    for (const to of ends) to.style.scrollSnapAlign = "start";
  }
  if (matchMedia("(max-width: 40rem)").matches) {
    for (const one of all("[data-hop-list=folding] > details")) one.open = false;
  }
}
