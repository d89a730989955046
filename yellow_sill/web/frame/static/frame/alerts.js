/** What runs by the clock in the strip: minutes that are left, counted down on every page. */
import { all } from "frame/board/page.js";

const figures = all(document, "[data-left]", HTMLElement);

function count() {
  for (const figure of figures) {
    const left = Math.max(0, Math.ceil((new Date(figure.dataset.left ?? "").getTime() - Date.now()) / 60000));
    figure.textContent = left >= 120 ? `${Math.round(left / 60)} h` : `${left} min`;
  }
}

count();
setInterval(count, 10_000);
