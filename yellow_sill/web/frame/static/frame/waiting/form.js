/** On every page: forms that may wait lose nothing typed without signal; what waits is told, and sent. */

import { leave } from "frame/leaving.js";
import { send, sendAll, who } from "./send.js";
import { allWaiting, drop, forgetPlaces, keep, keepPlace, newKey } from "./store.js";
import { kindOf, waitingWords, written } from "./words.js";

/** @typedef {import("./store.js").Waiting} Waiting */

const AGAIN_MS = 15000;
const user = document.body.dataset.user ?? "";
const bar = /** @type {HTMLElement | null} */ (document.querySelector(".ys-waits"));

/** @param {HTMLFormElement} form @returns {Waiting} */
function entryOf(form) {
  const sent = [...new FormData(form)].filter(([name]) => name !== "csrfmiddlewaretoken");
  return {
    key: newKey(),
    url: form.dataset.waits ?? "",
    kind: form.dataset.kind ?? "note",
    label: form.dataset.label ?? "",
    by: user,
    at: new Date().toISOString(),
    page: form.dataset.page ?? location.pathname,
    fields: sent,
  };
}

/**
 * Sends a form; what cannot be sent waits, and what is refused is sent as any form is, to be told beside its fields.
 * @param {HTMLFormElement} form
 */
async function submitted(form) {
  const entry = entryOf(form),
    buttons = form.querySelectorAll("button");
  buttons.forEach((button) => (button.disabled = true));
  try {
    await keep(entry);
  } catch {
    leave(form); // This browser keeps nothing for us: it is sent as any form is.
    return;
  }
  const now = await who(),
    outcome = now?.user === user ? await send(entry, now.token) : "waits";
  if (outcome !== "waits") await drop(entry.key);
  if (outcome === "refused") leave(form);
  else if (outcome === "stored") {
    leave(form, entry.page);
  } else {
    await keep(entry);
    form.reset();
    buttons.forEach((button) => (button.disabled = false));
    await tell();
  }
}

/** Shows what waits: in the bar, and beneath the form that it was written in. */
async function tell() {
  const waiting = await allWaiting();
  if (bar) {
    bar.hidden = waiting.length === 0;
    const refused = waiting.some(({ trouble }) => trouble && trouble.status < 500);
    bar.textContent = `${waitingWords(waiting.length)} to be stored${refused ? ": look at it" : ""}`;
  }
  for (const form of /** @type {NodeListOf<HTMLFormElement>} */ (
    document.querySelectorAll("form[data-waits]")
  )) {
    form.parentElement?.querySelectorAll(".ys-kept").forEach((old) => old.remove());
    const here = waiting.filter(({ url, kind }) => url === form.dataset.waits && kind === form.dataset.kind);
    for (const entry of here.reverse()) {
      const line = document.createElement("p"),
        mark = document.createElement("b");
      line.className = "noted ys-kept";
      mark.textContent = `${kindOf(entry)}, waits in this browser: `;
      line.append(mark, written(entry) || "without words");
      form.after(line);
    }
  }
}

async function flush() {
  const { stored } = await sendAll();
  if (stored.some(({ page }) => page.split("#")[0] === location.pathname)) {
    // The page shows it from now on; what is being typed here keeps its place.
    const typing = [...document.querySelectorAll("textarea, input")].some(
      (each) =>
        /** @type {HTMLInputElement} */ (each).value !== /** @type {HTMLInputElement} */ (each).defaultValue,
    );
    if (!typing) return location.reload();
  }
  await tell();
}

if (user && typeof indexedDB !== "undefined") {
  addEventListener("submit", (event) => {
    const form = event.target;
    if (!(form instanceof HTMLFormElement)) return;
    if (form.dataset.signOut !== undefined) forgetPlaces().catch(() => {});
    if (!form.dataset.waits || event.defaultPrevented) return;
    event.preventDefault();
    submitted(form).catch(() => leave(form));
  });
  const form = /** @type {HTMLFormElement | null} */ (document.querySelector("form[data-waits][data-place]"));
  if (form)
    keepPlace({
      url: form.dataset.waits ?? "",
      label: form.dataset.label ?? "",
      by: user,
      at: new Date().toISOString(),
    }).catch(() => {});
  flush().catch(() => {});
  addEventListener("online", () => flush().catch(() => {}));
  addEventListener("pageshow", (event) => event.persisted && flush().catch(() => {}));
  setInterval(() => !document.hidden && flush().catch(() => {}), AGAIN_MS);
  navigator.serviceWorker?.register("/worker.js").catch(() => {});
}
