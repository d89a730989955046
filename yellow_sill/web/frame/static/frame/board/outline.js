/**
 * An outline that a person draws: its corners, the chosen one, and the way back. Knows no page; judges nothing.
 */
import { n1 } from "frame/board/svg.js";

/** @typedef {import("frame/board/svg.js").Point} Point */

/**
 * Nearest point on closed rings and open lines to a place, within reach mm; null where none is. A drawing aid only:
 * the core checks again.
 * @param {Point[][]} rings
 * @param {Point} place
 * @param {number} reach
 * @param {Point[][]} [lines]
 * @returns {Point | null}
 */
export function snapTo(rings, [u, v], reach, lines = []) {
  /** @type {Point | null} */
  let best = null;
  let least = reach;
  const edge = (/** @type {Point} */ [ax, ay], /** @type {Point} */ [bx, by]) => {
    const dx = bx - ax,
      dy = by - ay,
      t = Math.min(1, Math.max(0, ((u - ax) * dx + (v - ay) * dy) / (dx * dx + dy * dy || 1))),
      d = Math.hypot(ax + t * dx - u, ay + t * dy - v);
    if (d < least) [best, least] = [[ax + t * dx, ay + t * dy], d];
  };
  for (const ring of rings) ring.forEach((from, i) => edge(from, ring[(i + 1) % ring.length]));
  for (const line of lines) line.slice(1).forEach((to, i) => edge(line[i], to));
  return best;
}

export class Outline {
  chosen = -1;
  /** @type {Point[][]} */
  #past = [];
  /** @type {Point[][]} */
  #future = [];

  /** @param {Point[]} corners mm */
  constructor(corners) {
    /** @type {Point[]} */
    this.corners = corners.map(([u, v]) => [u, v]);
  }

  /** What is there now can be gone back to. */
  remember() {
    this.#past.push(this.corners);
    this.#future = [];
    this.corners = this.corners.map(([u, v]) => [u, v]);
  }

  /** Nothing came of what was remembered last. */
  forget() {
    this.#past.pop();
  }

  undo() {
    return this.#back(this.#past, this.#future);
  }

  redo() {
    return this.#back(this.#future, this.#past);
  }

  /** @param {Point[][]} from @param {Point[][]} to */
  #back(from, to) {
    const corners = from.pop();
    if (!corners) return false;
    to.push(this.corners);
    this.corners = corners;
    this.chosen = -1;
    return true;
  }

  /** @param {Point} place */
  add(place) {
    this.corners = [...this.corners, rounded(place)];
    this.chosen = this.corners.length - 1;
  }

  /** A corner in the middle of the edge after another. @param {number} i */
  insert(i) {
    this.corners = this.corners.toSpliced(i + 1, 0, rounded(this.middle(i)));
    this.chosen = i + 1;
  }

  /** @param {number} i @param {Point} place */
  move(i, place) {
    this.chosen = i;
    this.corners = this.corners.map((corner, j) => (j === i ? rounded(place) : corner));
  }

  /** @param {number} i */
  remove(i) {
    this.corners = this.corners.filter((_, j) => j !== i);
    this.chosen = -1;
  }

  /** The middle of the edge after a corner. @param {number} i @returns {Point} */
  middle(i) {
    const [u, v] = this.corners[i],
      [u1, v1] = this.corners[(i + 1) % this.corners.length];
    return [(u + u1) / 2, (v + v1) / 2];
  }
}

/** A place to a tenth of a millimetre, as outlines hold it. @param {Point} place @returns {Point} */
export const rounded = ([u, v]) => [n1(u), n1(v)];
