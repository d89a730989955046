/** The names of the sheets behind, each at its outline where that leaves the field. */
import { sampled } from "frame/board/pen.js";
import { el, n1 } from "frame/board/svg.js";

/** @typedef {import("frame/board/svg.js").Point} Point */

/** How densely an outline is looked along, and how much room a name takes, px. */
const APART_PX = 24,
  MOST = 200,
  WIDE_PX = 190,
  HIGH_PX = 20;
/**
 * What stands at the edges of the field: buttons at the upper left, tags at the right, the title block below, px.
 */
const ROOM = { left: 12, right: 220, top: 30, corner: 76, cornerWide: 560, bottom: 120 };

/**
 * @param {import("frame/board/viewport.js").Viewport} viewport
 * @param {{ name: string, outline: Point[] }[]} layers
 */
export function layerNames(viewport, layers) {
  /** @type {Point[]} */
  const used = [];
  const seen = (/** @type {Point} */ [x, y]) =>
    x > viewport.left + ROOM.left &&
    x < viewport.width - ROOM.right &&
    y > viewport.top + (x < ROOM.cornerWide ? ROOM.corner : ROOM.top) &&
    y < viewport.height - ROOM.bottom;
  const free = (/** @type {Point} */ [x, y]) =>
    used.every(([a, b]) => Math.abs(a - x) > WIDE_PX || Math.abs(b - y) > HIGH_PX);
  return layers.flatMap(({ name, outline }) => {
    const ring = outline.map((corner) => viewport.px(...corner)),
      place = sampled(ring, true, APART_PX, MOST)
        .filter(seen)
        .sort((p, q) => p[0] - q[0] || p[1] - q[1])
        .find(free);
    if (!place) return [];
    used.push(place);
    return [el("text", { class: "layer-name", x: n1(place[0] + 6), y: n1(place[1] - 6) }, name)];
  });
}
