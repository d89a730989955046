/**
 * Asking the server. Answers come as {ok, status, data}; a refusal's data.error has what, mend, where, at.
 */

/**
 * Why something was refused: what is wrong, what mends it, where, and the place on the drawing.
 * @typedef {{ code?: string, what: string, mend: string, where: string, at?: [number, number] | null }} Refusal
 */
/** @typedef {{ ok: boolean, status: number, data: any }} Answer */

const token = () =>
  /** @type {HTMLInputElement | null} */ (document.querySelector("[name=csrfmiddlewaretoken]"))?.value ?? "";

/**
 * A change that this page made itself: it knows of it, unless somebody else's came between.
 * @param {string | null} revision
 */
function ownChange(revision) {
  const bar = /** @type {HTMLElement | null} */ (document.querySelector(".ys-changed"));
  if (!bar || Number(revision) !== Number(bar.dataset.revision) + 1) return;
  bar.dataset.revision = String(revision);
  bar.hidden = true;
}

/** What is on its way when the page is left arrives all the same, where it has no more characters than these. */
const OUTLIVES = 30_000;

/** @param {number} status @param {string} what @param {string} mend @returns {Answer} */
const unanswered = (status, what, mend) => ({
  ok: false,
  status,
  data: { error: { what, mend, where: "" } },
});

/**
 * @param {string} url
 * @param {object} [values] sent as JSON, a form's as they are; without any it is only asked
 * @returns {Promise<Answer>}
 */
export async function ask(url, values) {
  /** @type {Record<string, string>} */
  const headers = { Accept: "application/json", "X-CSRFToken": token() };
  if (values !== undefined && !(values instanceof FormData)) headers["Content-Type"] = "application/json";
  const body = values === undefined || values instanceof FormData ? values : JSON.stringify(values);
  const keepalive = typeof body === "string" && body.length < OUTLIVES;
  let response;
  try {
    response = await fetch(url, {
      method: body ? "POST" : "GET",
      body,
      headers,
      credentials: "same-origin",
      keepalive,
    });
  } catch {
    const mend = "Is it still running? What you drew stays here.";
    return unanswered(0, "Yellow Sill does not answer.", mend);
  }
  ownChange(response.headers.get("Vehicle-Revision"));
  try {
    return { ok: response.ok, status: response.status, data: await response.json() };
  } catch {
    const mend = "What you drew stays here. Try again; if it stays so, reload the page.";
    return unanswered(response.status, "Yellow Sill's answer cannot be read.", mend);
  }
}

/**
 * Calls the last of a burst only, and drops answers that a later question has overtaken.
 * @param {(current: () => boolean) => unknown} work
 */
export function lastOnly(work, waitMs = 120) {
  let timer = 0,
    round = 0;
  return () => {
    clearTimeout(timer);
    const mine = ++round;
    timer = setTimeout(() => work(() => mine === round), waitMs);
  };
}

/** @param {Refusal} error */
export function errorBox(error) {
  const box = document.createElement("div");
  box.className = "ys-err";
  box.setAttribute("role", "alert");
  box.innerHTML =
    '<svg viewBox="0 0 28 28" aria-hidden="true"><path d="M14 2L27 26H1z"/><path d="M14 10v8M14 21v2"/></svg>' +
    "<div><b></b> <span></span></div>";
  box.querySelectorAll("b, span").forEach((part, i) => (part.textContent = [error.what, error.mend][i]));
  return box;
}
