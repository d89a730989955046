/** Thickness readings in a grid: cells to tap, typed or taken from the gauge. */
import { ask, errorBox } from "frame/ask.js";
import { pressed, taken, way } from "frame/board/keys.js";
import { mount, one, told } from "frame/board/page.js";
import { TAP_PX } from "frame/board/pointer.js";
import { el, pageData } from "frame/board/svg.js";
import { Viewport } from "frame/board/viewport.js";
import { cellName, cellRows, cellShape } from "survey/grid_cells.js";

/** @typedef {import("survey/grid_cells.js").Cell} Cell */
/**
 * What the server answers.
 * @typedef {{ grid: Cell[], summary: Record<string, string> | null, grade: string }} GridAnswer
 */

/** Round the cells, a share of the longer side, which counts as at least so many mm. */
const EDGE_SHARE = 0.1,
  LEAST_MM = 60;

class GridBoard {
  #busy = false;
  #again = false;
  chosen = 0;

  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    this.svg = svg;
    this.sheet = one(document, ".ys-sheet", HTMLElement);
    this.form = one(this.sheet, "[data-reading]", HTMLFormElement);
    this.input = one(this.form, "input", HTMLInputElement);
    this.errors = one(this.sheet, "[data-errors]", HTMLElement);
    this.gauge = one(this.sheet, "[data-gauge]", HTMLButtonElement);
    /** @type {Cell[]} */
    this.cells = pageData("grid-cells");
    const [u0, v0, u1, v1] = told(svg, "focus"),
      edge = Math.max(u1 - u0, v1 - v0, LEAST_MM) * EDGE_SHARE;
    this.viewport = new Viewport(svg, {
      bounds: [u0 - edge, v0 - edge, u1 + edge, v1 + edge],
      mostZoom: 60,
    });
    this.layer = this.viewport.overlay.appendChild(el("g"));
    this.form.addEventListener("submit", (event) => {
      event.preventDefault();
      this.#send({ mm: this.input.value });
    });
    this.gauge.addEventListener("click", () => this.#send({ gauge: true }));
    svg.addEventListener("keydown", (event) => this.#key(event));
    this.viewport.onChange(() => this.#draw());
    this.#rows();
    this.#choose(
      Math.max(
        0,
        this.cells.findIndex((cell) => cell.mm === null),
      ),
      this.input.value,
    );
  }

  #draw() {
    const held = this.layer.contains(document.activeElement);
    this.layer.replaceChildren(...this.cells.map((cell, i) => this.#cell(cell, i)));
    if (held) this.#focus();
  }

  #focus() {
    /** @type {SVGElement} */ (this.layer.children[this.chosen]).focus();
  }

  /** @param {Cell} cell @param {number} i */
  #cell(cell, i) {
    const g = cellShape(this.viewport, cell, i === this.chosen);
    g.addEventListener("click", () => this.viewport.moved <= TAP_PX && this.#choose(i));
    return g;
  }

  #rows() {
    one(this.sheet, "[data-rows] tbody", HTMLElement).replaceChildren(...cellRows(this.viewport, this.cells));
  }

  /** @param {number} i @param {string} [typed] what stays in the box */
  #choose(i, typed = "") {
    const { mm } = this.cells[i];
    this.chosen = i;
    this.input.value = typed || (mm === null ? "" : String(mm));
    one(this.form, "[data-cell-name]", HTMLElement).textContent =
      `Cell ${i + 1} of ${this.cells.length}, at ${cellName(this.viewport, this.cells[i])}`;
    this.#draw();
    if (!typed && matchMedia("(hover: hover)").matches) this.input.select();
  }

  /** @param {{ mm?: string, gauge?: boolean }} reading */
  async #send(reading) {
    if (this.#busy) {
      this.#again = !reading.gauge;
      return;
    }
    this.#busy = this.gauge.disabled = true;
    const sent = this.input.value,
      { column, row } = this.cells[this.chosen],
      answer = await ask(this.svg.dataset.url ?? "", { column, row, ...reading });
    this.#busy = this.gauge.disabled = false;
    this.errors.replaceChildren();
    if (answer.ok) this.#take(answer.data, sent);
    else this.errors.append(errorBox(answer.data.error));
    if (this.#again && answer.ok) this.form.requestSubmit();
    this.#again = false;
  }

  /** @param {GridAnswer} answer @param {string} sent */
  #take({ grid, summary, grade }, sent) {
    this.cells = grid;
    for (const slot of this.sheet.querySelectorAll("[data-sum]"))
      slot.textContent = summary?.[/** @type {HTMLElement} */ (slot).dataset.sum ?? ""] ?? "–";
    one(this.sheet, "[data-grade]", HTMLElement).textContent = grade;
    this.#rows();
    const next = grid.findIndex((cell, i) => i > this.chosen && cell.mm === null),
      { value } = this.input,
      begun = value.startsWith(sent) ? value.slice(sent.length) : value; // the next is half typed already
    this.#choose(next >= 0 ? next : this.chosen, value === sent ? "" : begun);
  }

  /** @param {KeyboardEvent} event */
  #key(event) {
    const by = way(event);
    if (!(event.target instanceof Element) || !event.target.closest(".gcell")) return;
    if (pressed(event)) {
      this.input.focus();
      event.preventDefault();
    }
    if (!by) return;
    const { column, row } = this.cells[this.chosen],
      to = this.cells.findIndex((cell) => cell.column === column + by[0] && cell.row === row + by[1]);
    if (to >= 0) {
      this.#choose(to);
      this.#focus();
    }
    taken(event);
  }
}

mount("[data-grid-board]", GridBoard);
