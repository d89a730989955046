/**
 * The names of datum points in rows above and below the shell, each a link, with how far the point is off.
 */
import { focusAgain } from "frame/board/page.js";
import { el, n1 } from "frame/board/svg.js";
import { spread } from "frame/board/tags.js";
import { reading } from "frame/board/units.js";

/** @typedef {import("frame/board/svg.js").Point} Point */
/** @typedef {import("frame/board/viewport.js").Viewport} Viewport */
/**
 * A datum point on a board: off: by how much it is away, mm; ellipse: 95 % half-axes, mm, and turn, degrees;
 * length: how
 * far off, mm; flag: what that is worth.
 * @typedef {{ code: string, name: string, at: Point, trusted: boolean, selected: boolean, flag: string, href?: string,
 *   off: Point | null, length: number | null,
 *   ellipse: [number, number, number] | null }} DatumPoint
 */

const STEP_PX = 46,
  HIT_PX = 44,
  MARGIN_PX = 26;
/** With more points than this they are named on both sides. */
const ONE_ROW = 14;

/**
 * One label.
 * @param {DatumPoint} point
 * @param {Point} px
 * @param {number} x
 * @param {number} y
 * @param {boolean} below
 */
function label(point, [x0, y0], x, y, below) {
  const told = point.length == null ? "" : reading(point.length),
    end = below ? y - 14 : y + (told ? 20 : 6),
    centred = { x: n1(x), "text-anchor": "middle" };
  const link = el(point.href ? "a" : "g", {
    class: `dlab is-${point.flag}${point.selected ? " is-sel" : ""}`,
    "data-code": point.code,
    "aria-label": `Datum ${point.code}, ${point.name}${told ? `, ${told} off` : ""}`,
  });
  if (point.href) link.setAttribute("href", point.href);
  if (point.selected) link.setAttribute("aria-current", "true");
  link.append(
    el("path", { class: "dp-l", d: `M${n1(x0)} ${n1(y0 + (below ? 7 : -7))}L${n1(x)} ${n1(end)}` }),
  );
  if (point.selected)
    link.append(el("rect", { class: "dl-b", x: n1(x - 21), y: y - 14, width: 42, height: told ? 33 : 18 }));
  link.append(el("text", { class: "numb", y, ...centred }, point.code));
  if (told) link.append(el("text", { class: "num", y: y + 15, ...centred }, told));
  link.append(el("rect", { class: "hit", x: n1(x - HIT_PX / 2), y: y - 20, width: HIT_PX, height: HIT_PX }));
  return link;
}

/**
 * Where there is no room for all, the chosen one and those farthest off.
 * @param {DatumPoint} a
 * @param {DatumPoint} b
 */
const byWorth = (a, b) => Number(b.selected) - Number(a.selected) || (b.length ?? 0) - (a.length ?? 0);

/**
 * Lay the labels of all points that are in the field; where the lower row stands, px.
 * @param {Viewport} viewport
 * @param {SVGGElement} layer
 * @param {DatumPoint[]} points
 * @param {string | null} focused the code of the one that has the focus
 */
export function layLabels(viewport, layer, points, focused) {
  const [u0, v0, , v1] = viewport.bounds,
    upper = Math.max(viewport.top + 16, viewport.px(u0, v1)[1] - 38),
    lower = viewport.px(u0, v0)[1] + 22,
    room = Math.floor((viewport.width - viewport.left - 20) / STEP_PX);
  const seen = points
    .map((point) => ({ point, px: viewport.px(...point.at) }))
    .filter(({ px: [x, y] }) => x > viewport.left && x < viewport.width && y > viewport.top);
  for (const below of [false, true]) {
    const row = seen
      .filter(({ point }) => (points.length > ONE_ROW && point.at[1] < (v0 + v1) / 2) === below)
      .sort((a, b) => byWorth(a.point, b.point))
      .slice(0, room)
      .sort((a, b) => a.px[0] - b.px[0]);
    const anchors = row.map(({ px }) => px[0]),
      xs = spread(anchors, viewport.left + MARGIN_PX, viewport.width - MARGIN_PX, STEP_PX);
    row.forEach(({ point, px }, i) => {
      layer.append(label(point, px, xs[i], below ? lower : upper, below));
    });
  }
  focusAgain(layer, "code", focused);
  return lower;
}
