/**
 * The datum board: points with deviations, ellipses and labels, the long diagonals, height strips with
 * the stands in them.
 */
import { layLabels } from "datums/labels.js";
import { arrow, target } from "datums/marks.js";
import { layStrips } from "datums/strips.js";
import { dimension } from "frame/board/dimension.js";
import { focusedIn, mount, onChoice, told } from "frame/board/page.js";
import { ring } from "frame/board/pen.js";
import { el, n1, pageData } from "frame/board/svg.js";
import { inches, reading } from "frame/board/units.js";
import { Viewport } from "frame/board/viewport.js";

/** @typedef {import("frame/board/svg.js").Point} Point */
/**
 * @typedef {{ points: import("datums/labels.js").DatumPoint[], strips: import("datums/strips.js").Strip[],
 *   stands: import("datums/strips.js").Stand[], plan?: boolean, moves?: boolean, exaggeration: number,
 *   diagonals?: { lines: { ends: [Point, Point], mm: number }[] } | null }} DatumPage
 */

/** The deviation that the key at the bottom shows, mm, drawn at least so long, px. */
const KEY_MM = 3,
  KEY_PX = 10;
/** What height strips take of the field. */
const STRIPS_PX = 250,
  STRIPS_SHARE = 0.44;

class DatumBoard {
  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    /** @type {DatumPage} */
    this.page = pageData("datum-board");
    const { height } = svg.getBoundingClientRect(),
      below = this.page.strips.length ? Math.max(STRIPS_PX, height * STRIPS_SHARE) : 150;
    this.viewport = new Viewport(svg, { bounds: told(svg, "bounds"), pad: [14, 56, 14, below] });
    this.layer = this.viewport.overlay.appendChild(el("g", { "data-datum-layer": "" }));
    this.viewport.onChange(() => this.#draw());
  }

  /** px a mm of deviation. */
  get scale() {
    return this.page.exaggeration * this.viewport.k;
  }

  #draw() {
    const { viewport, layer, page } = this,
      focused = focusedIn(layer, "code");
    layer.replaceChildren(
      ...this.#stands(),
      ...this.#diagonals(),
      ...page.points.flatMap((point) => this.#point(point)),
    );
    const lower = layLabels(viewport, layer, page.points, focused);
    if (page.strips.length) layStrips(viewport, layer, page.strips, page.stands, lower, this.scale);
    layer.append(...this.#key());
  }

  #stands() {
    return (this.page.plan ? this.page.stands : []).flatMap(({ at }) => {
      const [x, y] = this.viewport.px(...at);
      return [
        el("rect", { class: "sq", x: n1(x - 8), y: n1(y - 8), width: 16, height: 16 }),
        el("path", { class: "sqx", d: `M${n1(x - 8)} ${n1(y - 8)}l16 16M${n1(x + 8)} ${n1(y - 8)}l-16 16` }),
      ];
    });
  }

  #diagonals() {
    return (this.page.diagonals?.lines ?? []).map(({ ends: [from, to], mm }) =>
      dimension(this.viewport.px(...from), this.viewport.px(...to), 0, reading(mm)),
    );
  }

  /** @param {import("datums/labels.js").DatumPoint} point */
  #point(point) {
    const px = this.viewport.px(...point.at),
      out = /** @type {SVGElement[]} */ ([target(...px, 6, point.trusted)]);
    if (point.off) {
      const now = this.viewport.px(
        point.at[0] + point.off[0] * this.page.exaggeration,
        point.at[1] + point.off[1] * this.page.exaggeration,
      );
      if (point.ellipse) out.unshift(this.#ellipse(now, point.ellipse));
      out.push(arrow(px, now, point.flag));
    }
    if (point.selected) out.push(ring(...px, 20, 18, point.code.length * 7 + point.code.charCodeAt(0)));
    return out;
  }

  /** Where the point is with 95 %. @param {Point} at px @param {[number, number, number]} ellipse */
  #ellipse([x, y], [a, b, turn]) {
    return el("ellipse", {
      class: "ell",
      cx: n1(x),
      cy: n1(y),
      rx: n1(a * this.scale),
      ry: n1(b * this.scale),
      transform: `rotate(${-turn} ${n1(x)} ${n1(y)})`,
    });
  }

  #key() {
    const { points, moves, exaggeration } = this.page;
    if (!points.some((point) => point.off)) return [];
    const y = this.viewport.height - 22,
      x = this.viewport.left + 190,
      end = x + Math.max(KEY_PX, KEY_MM * this.scale),
      size = inches ? `${reading(KEY_MM)} in` : `${KEY_MM} mm`,
      words = `${size} ${moves ? "moved" : "off"}, drawn ×${exaggeration}${moves ? "" : "; dashed: 95 % sure"}`;
    return [arrow([x, y], [end, y], "out"), el("text", { class: "lab", x: n1(end + 8), y: y + 5 }, words)];
  }
}

mount("[data-datum-board]", DatumBoard);
onChoice();
