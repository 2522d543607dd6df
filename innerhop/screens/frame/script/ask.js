// Asking the server. Every refusal comes back as one plain line in `said`.

const SIGNED_OUT =
  "You have been signed out. Sign in again in another tab, then try once more here; nothing you typed is lost.";
const NO_ANSWER = "The server did not answer. Check the connection and try again; nothing you typed is lost.";

export class Told extends Error {
  constructor(said, status = 0, more = {}) {
    super(said);
    this.status = status;
    this.more = more;
  }
}

async function answer(request) {
  let response;
  try {
    response = await request;
  } catch {
    throw new Told(NO_ANSWER);
  }
  if (!(response.headers.get("Content-Type") ?? "").includes("json")) {
    throw new Told(response.redirected ? SIGNED_OUT : NO_ANSWER, response.status);
  }
  const found = await response.json();
  if (!response.ok) throw new Told(found.said ?? NO_ANSWER, response.status, found);
  return found;
}

export function get(url, query = {}) {
  const asked = new URLSearchParams(query);
  return answer(fetch(`${url}?${asked}`, { headers: { Accept: "application/json" } }));
}

export function post(url, sent) {
  return answer(
    fetch(url, {
      method: "POST",
      headers: {
        Accept: "application/json",
        "Content-Type": "application/json",
        "X-CSRFToken": document.body.dataset.csrf,
      },
      body: JSON.stringify(sent),
    }),
  );
}
