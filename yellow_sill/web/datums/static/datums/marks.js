/** Marks of the datum boards: quartered targets, deviation arrows, stands. Draws; judges nothing. */
import { el, lineD, n1 } from "frame/board/svg.js";

/** An arrow's head is so long, px; a shorter arrow is not drawn. */
const HEAD_PX = 8,
  LEAST_PX = 3;

/**
 * A quartered target at a px place.
 * @param {number} x
 * @param {number} y
 * @param {number} [r]
 * @param {boolean} [trusted]
 */
export function target(x, y, r = 6, trusted = false) {
  const g = el(
    "g",
    { class: `dp${trusted ? " is-trusted" : ""}` },
    el("circle", { class: "dp-c", cx: n1(x), cy: n1(y), r }),
    el("path", {
      class: "dp-q",
      d: `M${n1(x)} ${n1(y)}v${-r}a${r} ${r} 0 0 1 ${r} ${r}zM${n1(x)} ${n1(y)}v${r}a${r} ${r} 0 0 1 ${-r} ${-r}z`,
    }),
  );
  if (trusted) g.append(el("circle", { class: "dp-t", cx: n1(x), cy: n1(y), r: r + 3 }));
  return g;
}

/**
 * An arrow from a to b in px; flag names its colour and weight.
 * @param {number[]} a
 * @param {number[]} b
 * @param {string} flag
 */
export function arrow([x0, y0], [x1, y1], flag) {
  const length = Math.hypot(x1 - x0, y1 - y0),
    g = el("g", { class: `dv dv-${flag}` });
  if (length < LEAST_PX) return g;
  const [u, v] = [(x1 - x0) / length, (y1 - y0) / length],
    head = Math.min(HEAD_PX, length * 0.6),
    [bx, by] = [x1 - u * head, y1 - v * head],
    w = head * 0.5,
    sides = [
      [bx - v * w, by + u * w],
      [bx + v * w, by - u * w],
    ];
  g.append(
    el("path", { class: "dv-l", d: lineD([x0, y0], [bx, by]) }),
    el("path", { class: "dv-h", d: `${lineD([x1, y1], ...sides)}Z` }),
  );
  return g;
}

/** A trestle standing at a px place, its head there. @param {number} x @param {number} y */
export const trestle = (x, y) =>
  el(
    "g",
    { class: "trestle" },
    el("path", {
      class: "st-l",
      d: `M${n1(x - 4)} ${y + 5}L${n1(x - 13)} ${y + 22}M${n1(x + 4)} ${y + 5}L${n1(x + 13)} ${y + 22}`,
    }),
    el("path", { class: "st-b", d: `M${n1(x - 17)} ${y + 22}h34` }),
    el("rect", { class: "st-h", x: n1(x - 12), y, width: 24, height: 5 }),
  );
