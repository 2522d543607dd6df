// What a screen asks of a page that it has loaded out of sight, at some width. Each answer
// waits until the page's own styles are there.
import { page } from "./page.js";

const whole = () =>
  new Promise((resolve) => {
    if (page.readyState === "complete") resolve();
    else window.addEventListener("load", () => resolve(), { once: true });
  });

// On how many lines the words of elements stand, by number; 0 for what is not shown.
export async function lines(elements, numbers) {
  await whole();
  const found = {};
  for (const number of numbers) {
    const element = elements.get(number);
    const range = page.createRange();
    if (element) range.selectNodeContents(element);
    const rects = element?.checkVisibility() ? [...range.getClientRects()].filter(({ width, height }) => width && height) : [];
    // Words of one line may be of several sizes: a new line begins below the middle of it.
    let bottom = -Infinity;
    let count = 0;
    for (const rect of rects.sort((one, other) => one.top - other.top)) {
      if (rect.top + rect.height / 2 > bottom) {
        count += 1;
        bottom = rect.bottom;
      }
    }
    found[number] = count;
  }
  return found;
}

// What stays at the view's foot where a way back in view would stand, with its height.
export async function foot(elements) {
  await whole();
  let height = 0;
  let words = "";
  for (const element of elements.values()) {
    if (element.closest("[data-hop-up], [data-hop-points]") || !element.checkVisibility()) continue;
    const { position, bottom } = getComputedStyle(element);
    if (!/fixed|sticky/.test(position) || bottom === "auto") continue;
    const rect = element.getBoundingClientRect();
    const isThere = rect.right > window.innerWidth - 160 && rect.bottom > window.innerHeight - 60 && rect.height < window.innerHeight / 2;
    const tall = Math.round(window.innerHeight - rect.top);
    if (isThere && tall > height) [height, words] = [tall, element.innerText.trim().replace(/\s+/g, " ").slice(0, 40)];
  }
  return { height, words };
}
