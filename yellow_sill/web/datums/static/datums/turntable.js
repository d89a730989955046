/** The datum points on a turntable: nominal and adjusted places, what was taped, the body as thin lines. */
import { arrow, target } from "datums/marks.js";
import { focusAgain, focusedIn, mount, onChoice } from "frame/board/page.js";
import { el, lineD, n1, pageData } from "frame/board/svg.js";
import { bodyLines, Turntable } from "frame/board/turn.js";
import { reading } from "frame/board/units.js";

/** @typedef {import("frame/board/turn.js").Place} Place */
/** @typedef {import("frame/board/turn.js").Projected} Projected */
/**
 * @typedef {{ code: string, name: string, at: Place, href: string, flag: string, trusted: boolean, selected:
 *   boolean, off: Place | null, length: number | null }} SpacePoint
 */
/**
 * @typedef {{ points: SpacePoint[], lines: [string, string][], body: Place[][], exaggeration: number }} TurnPage
 */

/** The little axes stand so far from the corner and are so long, px. */
const AXES_PX = 56,
  AXIS_PX = 34;
/** @type {[string, Place][]} */
const AXES = [
  ["aft", [1, 0, 0]],
  ["right", [0, 1, 0]],
  ["up", [0, 0, 1]],
];

class TurningDatums {
  #focused = /** @type {string | null} */ (null);

  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    /** @type {TurnPage} */
    this.page = pageData("turntable");
    const { points, body } = this.page,
      by = new Map(points.map((point) => [point.code, point.at]));
    const taped = this.page.lines.flatMap(([a, b]) => {
      const [from, to] = [by.get(a), by.get(b)];
      return from && to ? [[from, to]] : [];
    });
    svg.addEventListener("focusin", (event) => {
      const on = event.target;
      this.#focused = on instanceof SVGElement ? (on.dataset.code ?? null) : null;
    });
    new Turntable(
      svg,
      [...points.map(({ at }) => at), ...body.flat()],
      (layer, at, { height, turn, way }) => {
        const focused = focusedIn(layer, "code") ?? this.#focused;
        bodyLines(layer, body, at, turn);
        layer.append(
          el("path", { class: "tt-line", d: taped.map((pair) => lineD(...pair.map(at))).join("") }),
          ...points.map((point) => this.#point(point, at)),
          this.#axes(way, height),
        );
        focusAgain(layer, "code", focused);
      },
    );
  }

  /** @param {SpacePoint} point @param {(place: Place) => Projected} at */
  #point(point, at) {
    const p = at(point.at),
      told = point.length == null ? "" : `, ${reading(point.length)} off`;
    const link = el(
      "a",
      {
        href: point.href,
        class: `dlab is-${point.flag}${point.selected ? " is-sel" : ""}`,
        "data-code": point.code,
        "aria-label": `Datum ${point.code}, ${point.name}${told}`,
      },
      target(p[0], p[1], 5, point.trusted),
    );
    if (point.off) link.append(arrow(p, at(this.#moved(point.at, point.off)), point.flag));
    if (point.selected)
      link.append(el("rect", { class: "dl-b", x: n1(p[0] + 7), y: n1(p[1] - 19), width: 30, height: 18 }));
    link.append(
      el("text", { class: "numb", x: n1(p[0] + 10), y: n1(p[1] - 6) }, point.code),
      el("rect", { class: "hit", x: n1(p[0] - 22), y: n1(p[1] - 22), width: 44, height: 44 }),
    );
    return link;
  }

  /** @param {Place} at @param {Place} off @returns {Place} */
  #moved([x, y, z], [dx, dy, dz]) {
    const k = this.page.exaggeration;
    return [x + dx * k, y + dy * k, z + dz * k];
  }

  /** @param {(way: Place) => Projected} way @param {number} height */
  #axes(way, height) {
    const [x, y] = [AXES_PX, height - AXES_PX];
    return el(
      "g",
      { class: "tt-axes" },
      ...AXES.flatMap(([name, along]) => {
        const [dx, dy] = way(along).map((v) => v * AXIS_PX),
          words = { class: "lab", x: n1(x + dx * 1.25), y: n1(y + dy * 1.25 + 5), "text-anchor": "middle" };
        return [arrow([x, y], [x + dx, y + dy], "ok"), el("text", words, name)];
      }),
    );
  }
}

mount("[data-turntable]", TurningDatums);
onChoice();
