/** Tells when the vehicle was changed elsewhere (a second tab, another tablet) since this page was opened. */
const EVERY_MS = 20000;
const bar = /** @type {HTMLElement | null} */ (document.querySelector(".ys-changed"));

/** @param {HTMLElement} told */
async function look(told) {
  if (document.hidden) return;
  const shown = told.dataset.revision;
  try {
    const response = await fetch(told.dataset.ask ?? "", { credentials: "same-origin" });
    if (!response.ok) return;
    const { revision } = await response.json();
    // What this page stored meanwhile has moved its own number on: ask again the next time.
    if (told.dataset.revision === shown) told.hidden = revision === Number(shown);
  } catch {
    // Nothing answers: the pages that ask for something say so.
  }
}

if (bar) {
  setInterval(() => look(bar), EVERY_MS);
  document.addEventListener("visibilitychange", () => look(bar));
  addEventListener("pageshow", () => look(bar));
}
