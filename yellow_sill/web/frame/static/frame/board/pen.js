/**
 * Paint-pen strokes: two passes that disagree slightly, a pooled edge beneath, round ends. Seeded, so
 * they do not wriggle.
 */
import { el } from "frame/board/svg.js";

/** @typedef {import("frame/board/svg.js").Point} Point */
/**
 * width: px; seed: the same one draws the same stroke; wobble: how unsteady the hand is.
 * @typedef {{ width?: number, seed?: number, wobble?: number }} Hand
 */

/** Numbers from 0 to 1, always the same for a seed (mulberry32). @param {number} seed */
function seeded(seed) {
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** @param {Point[]} p */
const smooth = (p) => {
  let d = `M${p[0][0].toFixed(1)} ${p[0][1].toFixed(1)}`;
  for (let i = 1; i < p.length - 1; i++) {
    const [x, y] = p[i],
      [x1, y1] = p[i + 1],
      middle = `${((x + x1) / 2).toFixed(1)} ${((y + y1) / 2).toFixed(1)}`;
    d += `Q${x.toFixed(1)} ${y.toFixed(1)} ${middle}`;
  }
  const [x, y] = p[p.length - 1];
  return d + `L${x.toFixed(1)} ${y.toFixed(1)}`;
};

/** A stroke through px points. @param {Point[]} points @param {Hand} [hand] */
export function stroke(points, { width = 6.5, seed = 1, wobble = 1 } = {}) {
  const rng = seeded(seed),
    either = () => rng() * 2 - 1;
  let x = 0,
    y = 0;
  /** @type {Point[]} */
  const first = points.map(([a, b]) => {
    x = x * 0.72 + either() * wobble * 0.5;
    y = y * 0.72 + either() * wobble * 0.5;
    return [a + x, b + y];
  });
  x = y = 0;
  /** @type {Point[]} */
  const second = first.map(([a, b]) => {
    x = x * 0.8 + either() * width * 0.11;
    y = y * 0.8 + either() * width * 0.11;
    return [a + x, b + y];
  });
  const w = width * 0.82,
    group = el("g", { class: "pen", "aria-hidden": "true" });
  const lay = (/** @type {string} */ cls, /** @type {number} */ wide) => {
    for (const p of [first, second])
      group.append(el("path", { class: cls, "stroke-width": wide.toFixed(1), d: smooth(p) }));
  };
  lay("pen-e", w + 1.8);
  lay("pen-f", w);
  return group;
}

/**
 * A hand-laid ring that overshoots its start, px.
 * @param {number} cx
 * @param {number} cy
 * @param {number} rx
 * @param {number} ry
 * @param {number} [seed]
 */
export function ring(cx, cy, rx, ry, seed = 1) {
  /** @type {Point[]} */
  const points = [];
  for (let i = 0; i <= 43; i++) {
    const a = ((-18 + i * 9) * Math.PI) / 180,
      k =
        1 +
        0.035 * Math.sin(2 * a + seed) +
        0.02 * Math.sin(3 * a + 1.3 * seed) +
        (i > 40 ? 0.03 * (i - 40) : 0);
    points.push([cx + rx * k * Math.cos(a), cy + ry * k * Math.sin(a)]);
  }
  const group = stroke(points, { seed, width: 6.5 });
  group.classList.add("pen-ring");
  return group;
}

/** Between two samples of a straight stroke, px. */
const SAMPLE_PX = 9;

/**
 * A straight-sided stroke along an outline, sampled so that the pen has something to disagree about.
 * @param {Point[]} points
 * @param {boolean} closed
 * @param {Hand} [hand]
 */
export const along = (points, closed, hand) => stroke(sampled(points, closed, SAMPLE_PX), hand);

/**
 * Places along an outline, at most so far apart, its corners among them.
 * @param {Point[]} points
 * @param {boolean} closed
 * @param {number} apart
 * @param {number} [most] places of one edge
 * @returns {Point[]}
 */
export function sampled(points, closed, apart, most = Infinity) {
  const all = closed ? [...points, points[0]] : points;
  return all.slice(1).reduce(
    (out, [x, y], i) => {
      const [x0, y0] = all[i],
        steps = Math.max(1, Math.min(most, Math.round(Math.hypot(x - x0, y - y0) / apart)));
      for (let j = 1; j <= steps; j++) out.push([x0 + ((x - x0) * j) / steps, y0 + ((y - y0) * j) / steps]);
      return out;
    },
    [all[0]],
  );
}
