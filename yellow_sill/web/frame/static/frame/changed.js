/** Tells when the vehicle was changed elsewhere (a second tab, another tablet) since this page was opened. */
const EVERY_MS = 20000;
const bar = document.querySelector(".ys-changed");

async function look() {
  if (document.hidden) return;
  const shown = bar.dataset.revision;
  try {
    const response = await fetch(bar.dataset.ask, { credentials: "same-origin" });
    if (!response.ok) return;
    const { revision } = await response.json();
    // What this page stored meanwhile has moved its own number on: ask again the next time.
    if (bar.dataset.revision === shown) bar.hidden = revision === Number(shown);
  } catch {
    // Nothing answers: the pages that ask for something say so.
  }
}

if (bar) {
  setInterval(look, EVERY_MS);
  document.addEventListener("visibilitychange", look);
  window.addEventListener("pageshow", look);
}
