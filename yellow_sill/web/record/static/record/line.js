/**
 * The shell as it stood: a slider over the days on which anything happened; the drawing and its words follow.
 */
import { ask, lastOnly } from "frame/ask.js";
import { all, one } from "frame/board/page.js";
import { pageData } from "frame/board/svg.js";

class Days {
  /** @param {HTMLElement} form */
  constructor(form) {
    this.form = form;
    /** @type {string[]} */
    this.stops = pageData("stops");
    this.range = one(form, "input[type=range]", HTMLInputElement);
    this.link = one(form, "[data-tell]", HTMLAnchorElement);
    const show = lastOnly((current) => this.#show(current), 40);
    this.range.addEventListener("input", show);
    form.addEventListener("submit", (event) => event.preventDefault());
    document.addEventListener("place-tapped", (event) =>
      this.#here(/** @type {CustomEvent} */ (event).detail.at),
    );
  }

  /** What happened at a place that was tapped. @param {[number, number]} at */
  #here(at) {
    const link = one(this.form, "[data-here]", HTMLAnchorElement);
    const place = at.map((each) => each.toFixed(0)).join(" ");
    link.href = `?${new URLSearchParams({ view: this.form.dataset.view ?? "", at: place })}`;
    link.hidden = false;
  }

  /** @param {() => boolean} current */
  async #show(current) {
    const day = this.stops[Number(this.range.value)],
      query = new URLSearchParams({ day, view: this.form.dataset.view ?? "" });
    this.link.href = `?${query}`;
    const answer = await ask(`${this.form.dataset.atUrl}?${query}`);
    if (!current()) return;
    const words = one(this.form, "[data-words]", HTMLElement);
    if (!answer.ok) {
      words.textContent = `${answer.data.error.what} ${answer.data.error.mend}`;
      return;
    }
    words.textContent = answer.data.words;
    one(this.form, "[data-day]", HTMLElement).textContent = answer.data.day;
    this.range.setAttribute("aria-valuetext", answer.data.day);
    one(document, "[data-at]", SVGGElement).innerHTML = answer.data.svg;
    one(document, "[data-tags]", SVGSVGElement).classList.add("is-then");
  }
}

for (const form of all(document, "[data-days]", HTMLElement)) new Days(form);
