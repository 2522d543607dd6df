// Asking the server. Every refusal comes back as one plain line in `said`.

export const SIGNED_OUT =
  "You have been signed out. Sign in again in another tab, then do it once more here: what you typed is kept.";
const NO_ANSWER = "The server did not answer. Check the connection and try again; nothing you typed is lost.";

const STOPPED = "Stopped. Nothing was changed.";

export class Told extends Error {
  constructor(message, status = 0, more = {}) {
    super(message);
    this.status = status;
    this.more = more;
  }
}

// How many questions are on their way stands on the body, for the pointer to show.
let asking = 0;
function count(by) {
  asking += by;
  document.body.toggleAttribute("data-asking", asking > 0);
}

async function answer(request, progress, quiet = false) {
  if (quiet) return answered(request, progress);
  count(1);
  try {
    return await answered(request, progress);
  } finally {
    count(-1);
  }
}

async function answered(request, progress = () => {}) {
  let response;
  try {
    response = await request;
  } catch (problem) {
    throw new Told(problem.name === "AbortError" ? STOPPED : NO_ANSWER);
  }
  if (!(response.headers.get("Content-Type") ?? "").includes("json")) {
    throw response.redirected ? new Told(SIGNED_OUT, 401) : new Told(NO_ANSWER, response.status);
  }
  const found = await lastOf(response, progress);
  if (found.refused) throw new Told(found.message, found.refused, found);
  if (found.jobUrl) return new Promise(() => window.location.assign(found.jobUrl)); // a worker does it
  if (!response.ok) throw new Told(found.message ?? NO_ANSWER, response.status, found);
  return found;
}

// Long work answers line by line, one JSON object each: how far it has come, and
// at the end what became of it.
async function lastOf(response, progress) {
  if (!response.headers.get("Content-Type").includes("ndjson")) return response.json();
  let last = { refused: 500, message: NO_ANSWER };
  try {
    for await (const line of linesOf(response)) {
      last = JSON.parse(line);
      if (last.total) progress(last);
    }
  } catch (problem) {
    throw new Told(problem.name === "AbortError" ? STOPPED : NO_ANSWER);
  }
  return last.total ? { refused: 500, message: NO_ANSWER } : last;
}

export async function* linesOf(response) {
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
  let rest = "";
  for (;;) {
    const { done, value } = await reader.read();
    const lines = (rest + (value ?? "")).split("\n");
    rest = lines.pop();
    yield* lines;
    if (done) break;
  }
  if (rest.trim()) yield rest;
}

export function get(url, query = {}) {
  const asked = new URLSearchParams(query);
  return answer(fetch(`${url}?${asked}`, { headers: { Accept: "application/json" } }));
}

// progress: called with { done, total } while long work goes on. signal: to stop it.
// bare: for screens that ask for their own state afterwards. quiet: for what nobody waits for.
export async function post(url, sent, { progress, signal, bare, quiet } = {}) {
  const send = () => fetch(url, {
    method: "POST",
    headers: {
      Accept: "application/json",
      "Content-Type": "application/json",
      "X-CSRFToken": document.body.dataset.csrf,
      ...(bare ? { "X-State": "none" } : {}),
    },
    body: JSON.stringify(sent),
    signal,
  });
  try {
    return await answer(send(), progress, quiet);
  } catch (problem) {
    // Signed in anew in another tab: the guard against forgery is another one now, and
    // what was being done goes on.
    if (problem.status !== 403 || !(await guardAnew())) throw problem;
    return answer(send(), progress);
  }
}

// Ask for the guard against forgery of who is signed in now; whether there is one.
export async function guardAnew() {
  const found = await get("/sign-in/token/");
  const isNew = found.csrf !== undefined;
  if (isNew) document.body.dataset.csrf = found.csrf;
  return isNew;
}
