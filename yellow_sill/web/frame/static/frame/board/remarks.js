/** Marks of what the core remarks on: an exclamation in a ring, its words on hover. */
import { el, n1 } from "frame/board/svg.js";

/** @typedef {import("frame/board/svg.js").Point} Point */
/**
 * Something the core remarks on: what it is, what mends it, where it is on the drawing.
 * @typedef {{ what: string, mend: string, at: Point | null }} Remark
 */

/**
 * @param {import("frame/board/viewport.js").Viewport} viewport
 * @param {{ at: Point | null, what: string }} remark
 * @param {number} [r] px
 */
export function remarkMark(viewport, { at, what }, r = 12) {
  if (!at) return [];
  const [x, y] = viewport.px(...at).map(n1);
  return [
    el(
      "g",
      { class: "remark-mark" },
      el("circle", { cx: x, cy: y, r }),
      el("text", { x, y: y + 5, "text-anchor": "middle" }, "!"),
      el("title", {}, what),
    ),
  ];
}
