/**
 * The fit log's board: the opening with its gap map; a tap on an edge adds a place, the fields hold what was
 * measured.
 */
import { made, mount, one, told } from "frame/board/page.js";
import { TAP_PX } from "frame/board/pointer.js";
import { el, n1, pageData, pathD } from "frame/board/svg.js";
import { Viewport } from "frame/board/viewport.js";

/** @typedef {import("frame/board/svg.js").Point} Point */
/**
 * @typedef {{
 *   outline: Point[],
 *   edges: { name: string, path: Point[] }[],
 *   told: {
 *     stretches: { verdict: string, path: Point[] }[],
 *     strips: { name: string, outline: Point[], cut_back: Point[] }[],
 *     goes: { number: number, path: Point[], tacks: Point[] }[],
 *   } | null,
 * }} FitPage
 */

/** A tap counts for an edge within this, px; a mark is so high, a letter so wide, px; a mark stands so far inside. */
const NEAR_PX = 34,
  HIGH = 22,
  LETTER = 9,
  TACK_PX = 3;

/**
 * The place of a straight piece nearest to a point, and how far it is.
 * @param {Point} p @param {Point} a @param {Point} b
 * @returns {[Point, number]}
 */
function nearestOn([x, y], [ax, ay], [bx, by]) {
  const dx = bx - ax,
    dy = by - ay,
    share = Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1))),
    at = /** @type {Point} */ ([ax + share * dx, ay + share * dy]);
  return [at, Math.hypot(at[0] - x, at[1] - y)];
}

class FitBoard {
  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    /** @type {FitPage} */
    this.page = pageData("board-data");
    this.rows = one(document, "[data-fit-rows]", HTMLElement);
    this.viewport = new Viewport(svg, { bounds: told(svg, "bounds"), pad: [60, 60, 90, 120] });
    this.layer = this.viewport.overlay.appendChild(el("g"));
    one(svg, "[data-world]", SVGGElement).replaceChildren(...this.#world());
    svg.addEventListener("click", (event) => this.#tap(event));
    this.rows.addEventListener("input", () => this.#draw());
    this.viewport.onChange(() => this.#draw());
    this.#draw();
  }

  /** What stands in millimetres. */
  #world() {
    const { outline, edges, told: known } = this.page;
    const lines = known ? known.stretches : edges.map(({ path }) => ({ verdict: "unknown", path }));
    return [
      el("path", { class: "fit-opening", d: pathD(outline) }),
      ...(known?.strips ?? []).flatMap((strip) => [
        el("path", { class: "fit-strip", d: pathD(strip.outline) }),
        el("path", { class: "fit-back", d: pathD(strip.cut_back, false) }),
      ]),
      ...lines.map(({ verdict, path }) => el("path", { class: `fit-${verdict}`, d: pathD(path, false) })),
      ...(known?.goes ?? []).map((go) => el("path", { class: "fit-go", d: pathD(go.path, false) })),
    ];
  }

  /** @param {MouseEvent} event */
  #tap(event) {
    if (this.viewport.moved > TAP_PX) return;
    const tapped = this.viewport.at(event);
    /** @type {[Point, number] | null} */
    let best = null;
    for (const { path } of this.page.edges)
      for (let i = 1; i < path.length; i++) {
        const found = nearestOn(tapped, this.viewport.px(...path[i - 1]), this.viewport.px(...path[i]));
        if (!best || found[1] < best[1]) best = found;
      }
    if (!best || best[1] > NEAR_PX) return;
    this.#add(this.viewport.mm(...best[0]));
  }

  /** @param {Point} at mm */
  #add([u, v]) {
    const number = this.rows.children.length + 1,
      unit = document.body.dataset.unit ?? "mm",
      gap = made("input", { name: "gap", className: "mm", inputMode: "decimal", autocomplete: "off" });
    gap.setAttribute("aria-label", `Gap at place ${number}, ${unit}`);
    const label = made("label", {});
    label.append(made("b", { textContent: String(number) }), gap, made("small", { textContent: unit }));
    const row = made("li", {});
    row.append(
      made("input", { type: "hidden", name: "at", value: `${u.toFixed(2)} ${v.toFixed(2)}` }),
      label,
    );
    this.rows.append(row);
    this.#draw();
    gap.focus({ preventScroll: false });
  }

  #draw() {
    const { edges, told: known } = this.page;
    this.layer.replaceChildren(
      ...edges.map(({ name, path }) => {
        const [x, y] = this.viewport.px(...path[path.length >> 1]).map(n1);
        return el("text", { class: "cap dl-name", x: x + 10, y: y - 12 }, name);
      }),
      ...(known?.goes ?? []).flatMap((go) => this.#go(go)),
      ...[...this.rows.children].map((row, i) => this.#mark(row, i + 1)),
    );
  }

  /** @param {{ number: number, path: Point[], tacks: Point[] }} go */
  #go({ number, path, tacks }) {
    const [x, y] = this.viewport.px(...path[path.length >> 1]).map(n1);
    return [
      ...tacks.map((at) => {
        const [cx, cy] = this.viewport.px(...at).map(n1);
        return el("circle", { class: "fit-tack", cx, cy, r: TACK_PX });
      }),
      el("text", { class: "cap dl-name", x, y: y + 20, "text-anchor": "middle" }, String(number)),
    ];
  }

  /** @param {Element} row @param {number} number */
  #mark(row, number) {
    const [u, v] = one(row, "[name=at]", HTMLInputElement).value.split(" ").map(Number),
      field = one(row, "[name=gap]", HTMLInputElement),
      words = field.value.trim() || `${number}?`,
      [x, y] = this.viewport.px(u, v).map(n1),
      wide = 12 + words.length * LETTER;
    const g = el(
      "g",
      { class: "fit-mark" },
      el("rect", { x: n1(x - wide / 2), y: n1(y - HIGH / 2), width: wide, height: HIGH }),
      el("text", { x, y: n1(y + 5) }, words),
    );
    g.addEventListener("click", (event) => {
      event.stopPropagation();
      field.focus();
      field.select();
    });
    return g;
  }
}

mount("[data-fit-board]", FitBoard);
