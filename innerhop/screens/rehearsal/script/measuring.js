// Pages measured in a hidden frame in the sheet's own sandbox, and what was found kept.
import { get, post, Told } from "../../frame/script/ask.js";
import { hiddenSheet } from "../../frame/script/hidden_sheet.js";

// One page at one width.
export async function measureOne({ sheet, marks, url, revision }, { width, view }) {
  const told = await hiddenSheet(sheet, width, { innerHop: "layout", marks }, view).catch(() => null);
  if (told) await post(`${url}layout/`, { revision, width, view: told.layout.view, targets: told.layout.targets });
  return Boolean(told);
}

// The pages that lack a measure, one after another at each width. asked: of which pages, as a
// query. told: { step(done, total), goesOn() }. Returns how many times one was measured.
export async function measureLacking(url, asked, told) {
  const found = await get(url, asked).catch(() => null);
  const jobs = (found?.pages ?? []).flatMap((page) => page.widths.map((width) => [page, found.widths.find((one) => one.width === width)]));
  let done = 0;
  for (const [page, width] of jobs) {
    if (!told.goesOn()) break;
    told.step(done, jobs.length);
    await measureOne(page, width).catch((problem) => {
      if (!(problem instanceof Told)) throw problem; // a page that moved on is measured later
    });
    done += 1;
  }
  return done;
}
