/** Long work under way: asks how far it is until it is done, then shows the page anew. */
import { ask } from "frame/ask.js";
import { all, one } from "frame/board/page.js";

const POLL_MS = 400;

/** Asks how far a search is until it is done. @param {HTMLElement} box */
function follow(box) {
  const bar = one(box, "progress", HTMLProgressElement),
    said = one(box, "[data-said]", HTMLElement);
  const look = async () => {
    const { ok, status, data } = await ask(box.dataset.progress ?? "");
    if (status === 404 || (ok && data.done)) {
      location.reload();
      return;
    }
    if (ok) bar.value = data.share;
    else said.textContent = data.error.what;
    setTimeout(look, POLL_MS);
  };
  setTimeout(look, POLL_MS);
}

for (const box of all(document, "[data-progress]", HTMLElement)) follow(box);
