/** Height strips under the plan: each point's height off nominal, with the stands under it. */
import { trestle } from "datums/marks.js";
import { el, lineD, n1 } from "frame/board/svg.js";
import { reading } from "frame/board/units.js";

/** @typedef {import("frame/board/svg.js").Point} Point */
/** @typedef {import("frame/board/viewport.js").Viewport} Viewport */
/** @typedef {{ u: number, dz: number, flag: string }} Height */
/** @typedef {{ title: string, points: Height[] }} Strip */
/** @typedef {{ id: string, at: Point, left: boolean, add?: number, light?: boolean }} Stand */

/** What the title block takes below, between labels and strips, the least height of a strip, px. */
const BELOW_PX = 118,
  BETWEEN_PX = 24,
  LEAST_PX = 46,
  TOP_PX = 40,
  STAND_PX = 26;
/** A strip is never drawn as if this were its largest height, mm. */
const LEAST_MM = 3;
/** Figures keep so far apart, px; heights below these are not written, mm. */
const APART_PX = 40,
  TOLD_MM = { ok: 0.8, other: 0.3 };
const signed = (/** @type {number} */ mm) => `${mm < 0 ? "−" : "+"}${reading(Math.abs(mm))}`;

/**
 * @param {Viewport} viewport
 * @param {SVGGElement} layer
 * @param {Strip[]} strips
 * @param {Stand[]} stands
 * @param {number} below px
 * @param {number} most px a mm of height
 */
export function layStrips(viewport, layer, strips, stands, below, most) {
  const each = (viewport.height - BELOW_PX - below - BETWEEN_PX) / strips.length;
  if (each < LEAST_PX) return;
  const largest = Math.max(LEAST_MM, ...strips.flatMap(({ points }) => points.map(({ dz }) => Math.abs(dz)))),
    scale = Math.min(most, (each - 30) / 2 / largest);
  strips.forEach((strip, i) => {
    const y = below + TOP_PX + each * i + each * 0.35,
      under = stands.filter((stand) => strips.length < 2 || stand.left === (i === 0));
    layer.append(
      ...base(viewport, strip.title, y, Math.round(scale / viewport.k)),
      ...under.flatMap((stand) => held(stand, viewport.px(...stand.at)[0], y + STAND_PX)),
      ...heights(viewport, strip.points, y, scale),
    );
  });
}

/** @param {Viewport} viewport @param {string} title @param {number} y @param {number} times */
function base(viewport, title, y, times) {
  const [u0, , u1] = viewport.bounds,
    from = viewport.px(u0, 0)[0],
    to = viewport.px(u1, 0)[0],
    words = { class: "cap dl-name", x: n1(to - 4), y: n1(y - 10), "text-anchor": "end" };
  return [
    el("path", { class: "zline", d: lineD([from, y], [to, y]) }),
    el("text", words, `${title}, height ×${times}`),
  ];
}

/** A stand, with the packer it wants. @param {Stand} stand @param {number} x @param {number} y */
function held({ id, add }, x, y) {
  const parts = [
    trestle(x, y),
    el("text", { class: "lab", x: n1(x - 20), y: y + 18, "text-anchor": "end" }, id),
  ];
  return add ? [el("rect", { class: "pk", x: n1(x - 16), y: y - 7, width: 32, height: 7 }), ...parts] : parts;
}

/** @param {Viewport} viewport @param {Height[]} points @param {number} y @param {number} scale */
function heights(viewport, points, y, scale) {
  const at = points.map(({ u, dz }) => /** @type {Point} */ ([viewport.px(u, 0)[0], y - dz * scale]));
  let last = -Infinity;
  return [
    el("path", { class: "zpoly", d: lineD(...at) }),
    ...points.flatMap(({ dz, flag }, i) => {
      const [x, top] = at[i],
        out = [
          el("path", { class: `zs z-${flag}`, d: `M${n1(x)} ${n1(y)}V${n1(top)}` }),
          el("rect", { class: `zd z-${flag}`, x: n1(x - 3), y: n1(top - 3), width: 6, height: 6 }),
        ];
      if (x - last < APART_PX || Math.abs(dz) < (flag === "ok" ? TOLD_MM.ok : TOLD_MM.other)) return out;
      last = x;
      const words = { class: `num z-${flag}`, x: n1(x), y: n1(dz < 0 ? top + 16 : top - 8) };
      return [...out, el("text", { ...words, "text-anchor": "middle" }, signed(dz))];
    }),
  ];
}
