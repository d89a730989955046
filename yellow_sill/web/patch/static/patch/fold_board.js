/**
 * The part folding, bend by bend: pictures worked out by the core, drawn between one another and turned by hand.
 */
import { ask, lastOnly } from "frame/ask.js";
import { all, mount, one } from "frame/board/page.js";
import { pageData } from "frame/board/svg.js";
import { Turntable } from "frame/board/turn.js";
import { paint, shapesAt } from "patch/fold_shapes.js";

/** @typedef {import("patch/fold_shapes.js").FoldPage} FoldPage */

/** One bend takes so long, ms. */
const BEND_MS = 900;

class FoldBoard {
  /** @type {FoldPage | null} */
  #page = null;
  #playing = 0;

  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    this.svg = svg;
    this.form = one(document, "[data-pattern-form]", HTMLFormElement);
    this.url = pageData("board-data").folded;
    this.at = one(document, "[data-fold-at]", HTMLInputElement);
    this.words = one(document, "[data-fold-words]", HTMLElement);
    this.order = one(document, "[data-order]", HTMLElement);
    this.ask = lastOnly(async (/** @type {() => boolean} */ current) => {
      const answer = await ask(this.url, new FormData(this.form));
      if (!current()) return;
      if (answer.ok) this.#take(answer.data);
      else this.words.textContent = `${answer.data.error.what} ${answer.data.error.mend}`;
    }, 220);
    for (const button of all(document, "[data-show]", HTMLButtonElement))
      button.addEventListener("click", () => this.#show(button.dataset.show ?? "flat"));
    this.form.addEventListener("input", () => this.#shown() && this.ask());
    this.at.addEventListener("input", () => this.#stop());
    one(document, "[data-fold-run]", HTMLButtonElement).addEventListener("click", () => this.#run());
    if (this.#shown()) this.ask();
  }

  #shown() {
    return !one(document, "[data-board=folded]", HTMLElement).hidden;
  }

  /** @param {string} what */
  #show(what) {
    for (const field of all(document, "[data-board]", HTMLElement))
      field.hidden = what !== "both" && field.dataset.board !== what;
    one(document, "#board", HTMLElement).classList.toggle("is-both", what === "both");
    for (const button of all(document, "[data-show]", HTMLButtonElement))
      button.setAttribute("aria-pressed", String(button.dataset.show === what));
    this.order.hidden = what === "flat";
    if (what !== "flat") this.ask();
    dispatchEvent(new Event("resize"));
  }

  /** @param {{ play: FoldPage, order: string }} data */
  #take({ play, order }) {
    const first = !this.#page,
      whole = Number(this.at.value) === Number(this.at.max);
    this.#page = play;
    this.order.innerHTML = order;
    this.order.hidden = false;
    this.at.max = String(play.stages.length);
    if (first || whole) this.at.value = this.at.max;
    const cloud = [play.flat, ...play.stages.map(({ pictures }) => pictures.at(-1) ?? [])].flatMap((shapes) =>
      shapes.flatMap(({ outline }) => outline),
    );
    if (this.table) this.table.fits(cloud);
    else
      this.table = new Turntable(
        this.svg,
        cloud,
        (layer, at, { way }) =>
          paint(layer, shapesAt(/** @type {FoldPage} */ (this.#page), Number(this.at.value)), at, way),
        "fold",
      );
    this.#told();
  }

  #told() {
    const { stages } = /** @type {FoldPage} */ (this.#page),
      place = Number(this.at.value),
      now = place > 0 ? Math.min(Math.ceil(place), stages.length) - 1 : -1;
    this.words.textContent = now < 0 ? "flat" : `${now + 1} of ${stages.length}: ${stages[now].bend}`;
    for (const row of all(this.order, "[data-stage]", HTMLElement))
      row.classList.toggle("is-now", Number(row.dataset.stage) === now);
    this.table?.draw();
  }

  #stop() {
    cancelAnimationFrame(this.#playing);
    this.#told();
  }

  /** From the flat to the end; held still, a step at a time, where motion is not wanted. */
  #run() {
    if (!this.#page) return;
    const count = this.#page.stages.length,
      start = performance.now(),
      still = matchMedia("(prefers-reduced-motion: reduce)").matches;
    cancelAnimationFrame(this.#playing);
    const step = (/** @type {number} */ time) => {
      const place = Math.min(count, (time - start) / BEND_MS);
      this.at.value = String(still ? count : place);
      this.#told();
      if (place < count && !still) this.#playing = requestAnimationFrame(step);
    };
    this.#playing = requestAnimationFrame(step);
  }
}

mount("[data-fold-board]", FoldBoard);
