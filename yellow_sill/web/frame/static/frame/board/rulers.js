/** Rulers along a field's edges and its scale bar, in the person's unit. */
import { n1 } from "frame/board/svg.js";
import { inches, perUnit, unit } from "frame/board/units.js";

/** @typedef {import("frame/board/svg.js").Point} Point */
/**
 * What rulers need of a field.
 * @typedef {{ width: number, height: number, k: number, zero: Point, signs: Point,
 *   px: (u: number, v: number) => Point, mm: (x: number, y: number) => Point }} Ruled
 */

/**
 * How wide the rulers are, px; large ticks stand at least so far apart; half the scale bar ends above the edge.
 */
export const TOP = 22,
  LEFT = 30;
const TICKS_PX = 62,
  BAR_PX = 14;
/** Small and large ticks, in the person's unit. @type {Point[]} */
const STEPS = inches
  ? [
      [1 / 8, 1 / 2],
      [1 / 4, 1],
      [1 / 2, 2],
      [1, 6],
      [3, 12],
      [6, 24],
      [12, 60],
    ]
  : [
      [1, 5],
      [5, 10],
      [10, 50],
      [50, 100],
      [100, 500],
      [500, 1000],
    ];

/** @param {number} mm */
const figure = (mm) => String(+(mm / perUnit).toFixed(2) + 0);

/**
 * Small and large ticks at a zoom, mm.
 * @param {number} k px a mm
 * @returns {Point}
 */
export function ticks(k) {
  const [small, large] = STEPS.find(([, each]) => each * perUnit * k >= TICKS_PX) ?? STEPS[STEPS.length - 1];
  return [small * perUnit, large * perUnit];
}

/**
 * Places of a ruler's ticks, px, with the figure of the large ones (empty for the small).
 * @param {number} from mm
 * @param {number} to mm
 * @param {Point} steps small and large, mm
 * @param {(mm: number) => number} place
 * @returns {{ at: number, mm: number, large: boolean }[]}
 */
export function ticked(from, to, [small, large], place) {
  const out = [];
  for (let i = Math.ceil(from / small - 1e-9); i * small <= to + 1e-9; i++) {
    const mm = i * small,
      share = mm / large;
    out.push({ at: n1(place(mm)), mm, large: Math.abs(share - Math.round(share)) < 1e-6 });
  }
  return out;
}

/** Rulers and scale bar as SVG. @param {Ruled} field */
export function rulers(field) {
  const { width, height, zero } = field,
    steps = ticks(field.k),
    [u0, v0] = zero;
  const across = ticked(
    field.mm(LEFT, 0)[0] - u0,
    field.mm(width, 0)[0] - u0,
    steps,
    (u) => field.px(u + u0, 0)[0],
  );
  const up = ticked(
    field.mm(0, height)[1] - v0,
    field.mm(0, TOP)[1] - v0,
    steps,
    (v) => field.px(0, v + v0)[1],
  );
  const path = (/** @type {boolean} */ large, /** @type {number} */ px) =>
    across
      .filter((tick) => tick.large === large)
      .map((tick) => `M${tick.at} ${TOP}v-${px}`)
      .join("") +
    up
      .filter((tick) => tick.large === large)
      .map((tick) => `M${LEFT} ${tick.at}h-${px}`)
      .join("");
  const figures = [
    ...across
      .filter((tick) => tick.large && tick.at < width - 34)
      .map(
        (tick) =>
          `<text class="rl-t" x="${n1(tick.at + 3)}" y="${TOP - 9}">${figure(tick.mm * field.signs[0])}</text>`,
      ),
    ...up
      .filter((tick) => tick.large && tick.at > TOP + 30 && tick.at < height - 16)
      .map(
        (tick) =>
          `<text class="rl-t" text-anchor="middle" transform="translate(${LEFT - 10} ${tick.at}) rotate(-90)">` +
          `${figure(tick.mm * field.signs[1])}</text>`,
      ),
  ];
  return [
    `<rect class="rl-bg" width="${width}" height="${TOP}"/><rect class="rl-bg" width="${LEFT}" height="${height}"/>`,
    ...figures,
    `<path class="rl-m" d="${path(false, 5)}"/><path class="rl-M" d="${path(true, 9)}"/>`,
    `<path class="rl-e" d="M${LEFT} ${height}V${TOP}H${width}"/>`,
    `<rect class="rl-bg" width="${LEFT}" height="${TOP}"/><path class="rl-e" d="M0 ${TOP}H${LEFT}V0"/>`,
    `<text class="rl-u" x="${LEFT / 2}" y="${TOP - 7}" text-anchor="middle">${unit}</text>`,
    scaleBar(steps[1], field.k, height),
  ].join("");
}

/** @param {number} mm @param {number} k @param {number} height */
function scaleBar(mm, k, height) {
  const x = LEFT + 24,
    y = height - BAR_PX,
    half = (mm * k) / 2,
    words = figure(mm);
  return (
    `<g><rect class="sb-a" x="${x}" y="${y}" width="${n1(half)}" height="6"/>` +
    `<rect class="sb-b" x="${n1(x + half)}" y="${y}" width="${n1(half)}" height="6"/>` +
    `<text class="sb-t" x="${x}" y="${y - 5}" text-anchor="middle">0</text>` +
    `<text class="sb-t" x="${n1(x + 2 * half)}" y="${y - 5}" text-anchor="middle">${words}</text>` +
    `<text class="sb-t" x="${n1(x + 2 * half + 10 + 4 * words.length)}" y="${y - 5}">${unit}</text></g>`
  );
}
