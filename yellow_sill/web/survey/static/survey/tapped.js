/** The panel tapped on the survey board: what it is, and a finding that begins on it. */
import { all, one } from "frame/board/page.js";

class Tapped {
  /** @param {HTMLElement} box */
  constructor(box) {
    const begin = one(document, "[data-begin]", HTMLAnchorElement),
      words = one(box, "span", HTMLElement),
      open = one(box, "a", HTMLAnchorElement),
      address = box.dataset.sheet ?? "";
    document.addEventListener("panel-tapped", (event) => {
      const { code, told } = /** @type {CustomEvent<{ code: string, told: string }>} */ (event).detail,
        to = new URL(begin.href);
      to.searchParams.set("panel", code);
      begin.href = to.href;
      words.textContent = told;
      open.href = address.replace("CODE", encodeURIComponent(code));
      box.hidden = false;
    });
  }
}

for (const box of all(document, "[data-tapped-panel]", HTMLElement)) new Tapped(box);
