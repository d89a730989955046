/** What stands beside a cut line: its width and height, and the tags of the rust inside it. */
import { dimension } from "frame/board/dimension.js";
import { boundsOf } from "frame/board/svg.js";
import { leader, tagShape } from "frame/board/tags.js";
import { figure } from "frame/board/units.js";

/** @typedef {import("frame/board/svg.js").Point} Point */
/** @typedef {import("frame/board/viewport.js").Viewport} Viewport */

/** How far a dimension stands off the line, and off corners that lie below it, px. */
const OFF_PX = 34,
  BELOW_PX = 30;
/** The tags: from the right edge, from the top, from one another, half of one, px. */
const TAGS_PX = { right: 60, top: 40, step: 34, half: 22 };

/**
 * @param {Viewport} viewport
 * @param {Point[]} outline
 * @param {Point[]} corners
 */
export function lineSizes(viewport, outline, corners) {
  const [u0, v0, u1, v1] = boundsOf(outline),
    [a, b, c] = [viewport.px(u0, v0), viewport.px(u1, v0), viewport.px(u1, v1)],
    lower = Math.max(...corners.map((corner) => viewport.px(...corner)[1])) - a[1];
  return [
    dimension(a, b, lower > 4 ? lower + BELOW_PX : OFF_PX, figure(u1 - u0)),
    dimension(b, c, OFF_PX, figure(v1 - v0)),
  ];
}

/**
 * @param {Viewport} viewport
 * @param {import("frame/board/tags.js").Tag[]} tags
 */
export const lineTags = (viewport, tags) =>
  tags.flatMap((tag, i) => {
    const [u0, v0, u1, v1] = tag.bounds,
      x = viewport.width - TAGS_PX.right,
      y = viewport.top + TAGS_PX.top + i * TAGS_PX.step;
    return [...leader(viewport.px((u0 + u1) / 2, (v0 + v1) / 2), x - TAGS_PX.half, y), tagShape(x, y, tag)];
  });
