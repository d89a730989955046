/** Thickness readings in a grid: cells to tap, typed or taken from the gauge. */
import { ask, errorBox } from "frame/ask.js";
import { pressed, taken, way } from "frame/board/keys.js";
import { made, mount, one, told } from "frame/board/page.js";
import { TAP_PX } from "frame/board/pointer.js";
import { el, n1, pageData } from "frame/board/svg.js";
import { Viewport } from "frame/board/viewport.js";

/**
 * A cell: its place in the grid, its square on the drawing, what was read there, how much is lost, and its grade.
 * @typedef {{ column: number, row: number, square: import("frame/board/svg.js").Bounds, mm: number | null, loss:
 *   number, grade: string }} Cell
 */
/**
 * What the server answers.
 * @typedef {{ grid: Cell[], summary: Record<string, string> | null, grade: string }} GridAnswer
 */

/** A cell this wide on screen has room for its reading, and for the loss below it, px. */
const READING_PX = 34,
  LOSS_PX = 46;
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

  /** Where a cell is, in the shell's axes. @param {Cell} cell */
  #name({ square: [u0, v0, u1, v1] }) {
    return `${this.viewport
      .shell([(u0 + u1) / 2, (v0 + v1) / 2])
      .map(n1)
      .join(", ")} mm`;
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
    const [x0, y1] = this.viewport.px(cell.square[0], cell.square[1]),
      [x1, y0] = this.viewport.px(cell.square[2], cell.square[3]),
      [w, chosen] = [x1 - x0, i === this.chosen],
      words = cell.mm === null ? "not read" : `${cell.mm.toFixed(2)} mm, ${cell.loss.toFixed(0)} % lost`;
    const g = el(
      "g",
      {
        class: `gcell${chosen ? " is-on" : ""}${cell.mm === null ? "" : ` is-${cell.grade}`}`,
        role: "button",
        tabindex: chosen ? "0" : "-1",
        "aria-label": `Cell at ${this.#name(cell)}, ${words}`,
      },
      el("rect", { x: n1(x0), y: n1(y0), width: n1(w), height: n1(y1 - y0) }),
    );
    const [x, y] = [n1(x0 + w / 2), (y0 + y1) / 2],
      text = (/** @type {string} */ cls, /** @type {number} */ dy, /** @type {string} */ told) =>
        g.append(el("text", { x, y: n1(y + dy), "text-anchor": "middle", class: cls }, told));
    if (cell.mm !== null && w > READING_PX) text("num", w > LOSS_PX ? -2 : 5, cell.mm.toFixed(2));
    if (cell.mm !== null && w > LOSS_PX)
      text("loss", 14, `${cell.loss > 0 ? "−" : "+"}${Math.abs(cell.loss).toFixed(0)} %`);
    g.addEventListener("click", () => this.viewport.moved <= TAP_PX && this.#choose(i));
    return g;
  }

  #rows() {
    const read = this.cells.flatMap((cell) =>
      cell.mm === null ? [] : [[this.#name(cell), cell.mm.toFixed(2), cell.loss.toFixed(0)]],
    );
    one(this.sheet, "[data-rows] tbody", HTMLElement).replaceChildren(
      ...read.map(([name, ...figures]) =>
        made(
          "tr",
          {},
          made("th", { textContent: name, className: "mm" }),
          ...figures.map((textContent) => made("td", { textContent, className: "mm" })),
        ),
      ),
    );
  }

  /** @param {number} i @param {string} [typed] what stays in the box */
  #choose(i, typed = "") {
    const { mm } = this.cells[i];
    this.chosen = i;
    this.input.value = typed || (mm === null ? "" : String(mm));
    one(this.form, "[data-cell-name]", HTMLElement).textContent =
      `Cell ${i + 1} of ${this.cells.length}, at ${this.#name(this.cells[i])}`;
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
