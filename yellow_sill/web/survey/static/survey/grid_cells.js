/** The cells of a thickness grid, drawn with what was read in each, and as a table. */
import { made } from "frame/board/page.js";
import { el, n1 } from "frame/board/svg.js";

/** @typedef {import("frame/board/viewport.js").Viewport} Viewport */
/**
 * A cell: its place in the grid, its square on the drawing, what was read there, how much is lost, and its grade.
 * @typedef {{ column: number, row: number, square: import("frame/board/svg.js").Bounds, mm: number | null,
 *   loss: number, grade: string }} Cell
 */

/** A cell this wide on screen has room for its reading, and for the loss below it, px. */
const READING_PX = 34,
  LOSS_PX = 46;

/**
 * Where a cell is, in the shell's axes.
 * @param {Viewport} viewport
 * @param {Cell} cell
 */
export function cellName(viewport, { square: [u0, v0, u1, v1] }) {
  const place = viewport.shell([(u0 + u1) / 2, (v0 + v1) / 2]);
  return `${place.map(n1).join(", ")} mm`;
}

/**
 * @param {Viewport} viewport
 * @param {Cell} cell
 * @param {boolean} chosen
 */
export function cellShape(viewport, cell, chosen) {
  const [x0, y1] = viewport.px(cell.square[0], cell.square[1]),
    [x1, y0] = viewport.px(cell.square[2], cell.square[3]),
    w = x1 - x0,
    words = cell.mm === null ? "not read" : `${cell.mm.toFixed(2)} mm, ${cell.loss.toFixed(0)} % lost`;
  const g = el(
    "g",
    {
      class: `gcell${chosen ? " is-on" : ""}${cell.mm === null ? "" : ` is-${cell.grade}`}`,
      role: "button",
      tabindex: chosen ? "0" : "-1",
      "aria-label": `Cell at ${cellName(viewport, cell)}, ${words}`,
    },
    el("rect", { x: n1(x0), y: n1(y0), width: n1(w), height: n1(y1 - y0) }),
  );
  const [x, y] = [n1(x0 + w / 2), (y0 + y1) / 2],
    text = (/** @type {string} */ cls, /** @type {number} */ dy, /** @type {string} */ told) =>
      g.append(el("text", { x, y: n1(y + dy), "text-anchor": "middle", class: cls }, told));
  if (cell.mm !== null && w > READING_PX) text("num", w > LOSS_PX ? -2 : 5, cell.mm.toFixed(2));
  if (cell.mm !== null && w > LOSS_PX)
    text("loss", 14, `${cell.loss > 0 ? "−" : "+"}${Math.abs(cell.loss).toFixed(0)} %`);
  return g;
}

/**
 * The cells that are read, a row of the table each.
 * @param {Viewport} viewport
 * @param {Cell[]} cells
 */
export const cellRows = (viewport, cells) =>
  cells.flatMap((cell) => {
    if (cell.mm === null) return [];
    const figures = [cell.mm.toFixed(2), cell.loss.toFixed(0)];
    return [
      made(
        "tr",
        {},
        made("th", { textContent: cellName(viewport, cell), className: "mm" }),
        ...figures.map((textContent) => made("td", { textContent, className: "mm" })),
      ),
    ];
  });
