/** The fire watch's minutes, counted down by the clock; the page is asked for anew at its end. */
import { all } from "frame/board/page.js";

/** @param {HTMLElement} figure */
function count(figure) {
  const end = new Date(figure.dataset.until ?? "").getTime(),
    text = figure.firstChild;
  const tick = () => {
    const left = Math.max(0, Math.ceil((end - Date.now()) / 60000));
    if (text) text.textContent = String(left);
    if (left === 0) {
      clearInterval(timer);
      window.location.reload();
    }
  };
  const timer = setInterval(tick, 5000);
}

for (const figure of all(document, "b[data-until]", HTMLElement)) count(figure);
