/** A dimension between two places, as on a workshop drawing. */
import { el, lineD, n1, off, pt } from "frame/board/svg.js";

/** @typedef {import("frame/board/svg.js").Point} Point */

/** Room for one figure, and round them all, px. */
const DIGIT_PX = 7.6,
  PATCH_PX = 6,
  ARROW_PX = 8;

/**
 * A dimension between two px places, offset sideways; the figure sits on a paper patch in the line.
 * @param {Point} a
 * @param {Point} b
 * @param {number} offset
 * @param {string} figure
 */
export function dimension(a, b, offset, figure) {
  const length = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1;
  /** @type {Point} */
  const u = [(b[0] - a[0]) / length, (b[1] - a[1]) / length];
  /** @type {Point} */
  const n = [-u[1], u[0]];
  const p = off(a, n, offset),
    q = off(b, n, offset),
    side = Math.sign(offset);
  const arrow = (/** @type {Point} */ tip, /** @type {number} */ way) => {
    const c = off(tip, u, way * ARROW_PX);
    return el("path", {
      class: "dm-a",
      d: `M${pt(tip)}L${pt(off(c, n, 2.2))}L${pt(off(c, n, -2.2))}Z`,
    });
  };
  const w = figure.length * DIGIT_PX + PATCH_PX,
    x = (p[0] + q[0]) / 2,
    y = (p[1] + q[1]) / 2,
    transform = Math.abs(u[1]) > 0.7 ? ` rotate(-90 ${n1(x)} ${n1(y)})` : "";
  return el(
    "g",
    { class: "dim" },
    el("path", { class: "dm-e", d: lineD(off(a, n, 3 * side), off(p, n, 5 * side)) }),
    el("path", { class: "dm-e", d: lineD(off(b, n, 3 * side), off(q, n, 5 * side)) }),
    el("path", { class: "dm-l", d: lineD(p, q) }),
    arrow(p, 1),
    arrow(q, -1),
    el("rect", { class: "dm-bg", x: n1(x - w / 2), y: n1(y - 8), width: n1(w), height: 16, transform }),
    el("text", { class: "dm-t", x: n1(x), y: n1(y + 4.4), "text-anchor": "middle", transform }, figure),
  );
}
