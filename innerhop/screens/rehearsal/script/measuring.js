// Pages measured in a hidden frame in the sheet's own sandbox, and what was found kept.
import { get, post, Told } from "../../frame/script/ask.js";
import { hiddenSheets } from "../../frame/script/hidden_sheet.js";

// One page at several widths; yields after each.
export async function* measured({ sheet, marks, url, revision }, widths) {
  const left = [...widths];
  for await (const told of hiddenSheets(sheet, widths, { innerHop: "layout", marks })) {
    const { width } = left.shift();
    if (told) await post(`${url}layout/`, { revision, width, view: told.layout.view, targets: told.layout.targets });
    yield width;
  }
}

// The pages that lack a measure, one after another at each width. asked: of which pages, as a
// query. told: { step(done, total), goesOn() }. Returns how many times one was measured.
export async function measureLacking(url, asked, told) {
  const found = await get(url, asked).catch(() => null);
  const jobs = (found?.pages ?? []).map((page) => [page, page.widths.map((width) => found.widths.find((one) => one.width === width))]);
  const total = jobs.reduce((count, [, widths]) => count + widths.length, 0);
  let done = 0;
  for (const [page, widths] of jobs) {
    if (!told.goesOn()) break;
    told.step(done, total);
    try {
      for await (const _ of measured(page, widths)) {
        done += 1;
        told.step(done, total);
        if (!told.goesOn()) return done;
      }
    } catch (problem) {
      if (!(problem instanceof Told)) throw problem; // a page that moved on is measured later
    }
  }
  return done;
}
