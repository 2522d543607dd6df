// One page measured at one width, in a hidden frame in the sheet's own sandbox, and kept.
import { post } from "../../frame/script/ask.js";
import { hiddenSheet } from "../../frame/script/hidden_sheet.js";

export async function measureOne({ sheet, marks, url, revision }, { width, view }) {
  const told = await hiddenSheet(sheet, width, { innerHop: "layout", marks }, view).catch(() => null);
  if (told) await post(`${url}layout/`, { revision, width, view: told.layout.view, targets: told.layout.targets });
  return Boolean(told);
}
