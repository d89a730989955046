/** The flat pattern, drawn anew by the core whenever a side or a figure changes. */
import { ask, errorBox, lastOnly } from "frame/ask.js";
import { dimension } from "frame/board/dimension.js";
import { undoKeys } from "frame/board/keys.js";
import { mount, one, onPress, told } from "frame/board/page.js";
import { remarkMark } from "frame/board/remarks.js";
import { boundsOf, el, n1, pageData, pathD } from "frame/board/svg.js";
import { figure } from "frame/board/units.js";
import { Viewport } from "frame/board/viewport.js";
import { offerEdges, showFields } from "patch/edge_choice.js";
import { FormSteps, touched } from "patch/form_steps.js";
import { widthGrip } from "patch/width_grips.js";

/** @typedef {import("frame/board/svg.js").Point} Point */
/**
 * The flat sheet; all but ``preview``, the address that works it out anew, is empty where no pattern can be made.
 * @typedef {{ preview: string, folded: string, flat: Point[] | null, cut_outs: Point[][], opening: Point[], holes:
 *   Point[][],
 *   bends: { name: string, way: string, path: Point[] }[],
 *   rims: { at: Point, gain_mm: number }[],
 *   names: { name: string, at: Point }[], transfers: { name: string, at: Point }[], marks: { text: string, at:
 * Point }[], ribs: Point[][], welds: { at: Point, hole_mm: number | null }[],
 *   grips: import("patch/width_grips.js").WidthGrip[] }} PatternPage
 */

/** A side's letter stands so far inside its edge in a dot of this radius, a dimension so far outside, px. */
const INSIDE_PX = 26,
  DOT_PX = 12,
  OFF_PX = 30,
  TAP_PX = 22;

/**
 * A side's letter inside its edge, farther in where a hole lies there.
 * @param {string} name
 * @param {Point} at px
 * @param {Point} middle px
 * @param {Point[][]} holes px
 */
function sideLetter(name, [x, y], [mx, my], holes) {
  const far = Math.hypot(mx - x, my - y) || 1;
  const place = (/** @type {number} */ inside) => [
    x + ((mx - x) / far) * inside,
    y + ((my - y) / far) * inside,
  ];
  const covers = (/** @type {number[]} */ [u, v]) =>
    holes
      .map(boundsOf)
      .some(([u0, v0, u1, v1]) => u > u0 - DOT_PX && u < u1 + DOT_PX && v > v0 - DOT_PX && v < v1 + DOT_PX);
  let inside = INSIDE_PX;
  while (inside < far && covers(place(inside))) inside += DOT_PX;
  const [cx, cy] = place(inside).map(n1);
  return el(
    "g",
    { class: "side-tap", "data-edge": name, role: "button", tabindex: 0, "aria-label": `Edge ${name}` },
    el("circle", { class: "hit", cx, cy, r: TAP_PX }),
    el("circle", { class: "side-dot", cx, cy, r: DOT_PX }),
    el("text", { class: "side-name", x: cx, y: cy + 5, "text-anchor": "middle" }, name),
  );
}

/**
 * @param {string} name
 * @param {Point} at px
 */
function transferMark(name, at) {
  const [x, y] = at.map(n1);
  return [
    el("path", { class: "dm-l", d: `M${x - 9} ${y}h18M${x} ${y - 9}v18` }),
    el("text", { class: "side-name", x: x + 11, y: y - 6 }, name),
  ];
}

/**
 * The first of each name: an edge of many pieces is named once.
 * @template {{ name: string }} T
 * @param {T[]} some
 */
const firsts = (some) => some.filter(({ name }, i) => some.findIndex((each) => each.name === name) === i);

/**
 * A bend's name a quarter along it, clear of its edge's letter.
 * @param {string} name
 * @param {Point[]} path px
 */
function bendName(name, path) {
  const [from, to] = path.length > 2 ? [path[path.length >> 2], path[path.length >> 2]] : path,
    [x, y] = [from[0] + (to[0] - from[0]) / 4, from[1] + (to[1] - from[1]) / 4];
  return el(
    "text",
    { class: "cap dl-name bend-name", x: n1(x), y: n1(y - 4), "text-anchor": "middle" },
    name,
  );
}

/**
 * A mark on a rim, and what the stretch from it on must gain.
 * @param {Point} at px
 * @param {number} gain mm
 */
function rimTick(at, gain) {
  const [x, y] = at.map(n1);
  return [
    el("circle", { class: "rim-tick", cx: x, cy: y, r: 3.5 }),
    el(
      "text",
      { class: "cap dl-name", x, y: y + 20, "text-anchor": "middle" },
      `${gain > 0 ? "+" : "−"}${figure(Math.abs(gain), 1)}`,
    ),
  ];
}

/** Between a pattern and its other hand, mm. */
const BESIDE_MM = 40;

/**
 * A line of the other hand, to the right of a pattern.
 * @param {Point[]} line
 * @param {number} right the pattern's right edge
 * @returns {Point[]}
 */
const otherHand = (line, right) => line.map(([u, v]) => [2 * right + BESIDE_MM - u, v]);

/**
 * A pattern's other hand, to its right.
 * @param {{ flat: Point[], cut_outs: Point[][], bends: { way: string, path: Point[] }[] }} page
 * @param {(cls: string, closed: boolean) => (line: Point[]) => SVGPathElement} path
 */
function otherHandOf({ flat, cut_outs, bends }, path) {
  const right = boundsOf(flat)[2];
  return [
    ...[flat, ...cut_outs].map((line) => path("other-hand", true)(otherHand(line, right))),
    ...bends.map(({ way, path: line }) =>
      path(way === "up" ? "bend-line" : "step-line", false)(otherHand(line, right)),
    ),
  ];
}

class PatternBoard {
  /** Whether the other hand is shown beside it. */
  #beside = false;

  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    this.form = one(document, "[data-pattern-form]", HTMLFormElement);
    /** @type {PatternPage} */
    this.page = pageData("board-data");
    this.errors = one(this.form, "[data-errors]", HTMLElement);
    this.cells = [...(svg.parentElement?.querySelectorAll(".tblock dd") ?? [])];
    this.viewport = new Viewport(svg, { bounds: told(svg, "bounds"), pad: [60, 60, 90, 120] });
    this.labels = this.viewport.overlay.appendChild(el("g"));
    this.ask = lastOnly(async (/** @type {() => boolean} */ current) => {
      const answer = await ask(this.page.preview, new FormData(this.form));
      if (!current()) return;
      this.errors.replaceChildren();
      if (answer.ok) this.#take(answer.data);
      else this.errors.append(errorBox(answer.data.error));
    }, 180);
    this.form.addEventListener("input", () => this.#changed());
    this.steps = new FormSteps(this.form, () => this.form.dispatchEvent(new Event("input")));
    undoKeys(this.steps);
    onPress("[data-undo]", () => this.steps.undo());
    onPress("[data-redo]", () => this.steps.redo());
    const beside = one(document, "[data-beside]", HTMLButtonElement);
    beside.addEventListener("click", () => {
      this.#beside = !this.#beside;
      beside.setAttribute("aria-pressed", String(this.#beside));
      this.#see(this.bounds);
    });
    this.bounds = this.viewport.bounds;
    offerEdges(svg, this.form);
    showFields(this.form);
    this.viewport.onChange(() => this.#label());
    this.#draw();
    if (touched(this.form)) this.#changed();
  }

  #changed() {
    showFields(this.form);
    this.ask();
  }

  /**
   * @param {{ board: PatternPage, figures: string, cells: string[], bounds: import("frame/board/svg.js").Bounds }}
   *   data
   */
  #take({ board, figures, cells, bounds }) {
    this.page = board;
    one(this.form, "[data-figures]", HTMLElement).innerHTML = figures;
    this.cells.forEach((cell, i) => (cell.textContent = cells[i]));
    this.#see(bounds);
  }

  /** @param {import("frame/board/svg.js").Bounds} bounds of the pattern and its opening */
  #see(bounds) {
    const [u0, v0, u1, v1] = bounds;
    this.bounds = bounds;
    this.viewport.bounds = this.#beside ? [u0, v0, 2 * u1 - u0 + BESIDE_MM, v1] : bounds;
    this.#draw();
    if (this.viewport.fitted) this.viewport.fit();
    else this.viewport.draw();
  }

  #draw() {
    const { world } = this.viewport,
      { flat, cut_outs, opening, holes, bends, ribs, welds } = this.page;
    world.replaceChildren();
    this.#label();
    if (!flat) return;
    const [u0, v0] = boundsOf(flat);
    this.viewport.zero = [u0, v0]; // a sheet on the bench is measured from its lower left corner
    const path =
      (/** @type {string} */ cls, /** @type {boolean} */ closed) => (/** @type {Point[]} */ line) =>
        el("path", { class: cls, d: pathD(line, closed) });
    if (this.#beside) world.append(...otherHandOf({ ...this.page, flat }, path));
    world.append(
      ...ribs.map(path("rib-line", false)),
      path("flat", true)(flat),
      path("opening", true)(opening),
      ...holes.map(path("hole", true)),
      ...cut_outs.map(path("hole", true)),
      ...welds.map(({ at: [u, v], hole_mm }) =>
        el("circle", { class: hole_mm ? "weld-hole" : "weld-mark", cx: u, cy: -v, r: (hole_mm ?? 3) / 2 }),
      ),
      ...bends.map((bend) => path(bend.way === "up" ? "bend-line" : "step-line", false)(bend.path)),
    );
  }

  #label() {
    const { viewport, page } = this;
    this.labels.replaceChildren();
    if (!page.flat) return;
    const [u0, v0, u1, v1] = boundsOf(page.flat),
      [a, b, c] = [viewport.px(u0, v0), viewport.px(u1, v0), viewport.px(u1, v1)],
      middle = viewport.px((u0 + u1) / 2, (v0 + v1) / 2),
      holes = page.holes.map((hole) => hole.map((place) => viewport.px(...place)));
    this.labels.append(
      ...firsts(page.bends).map(({ name, path }) =>
        bendName(
          name,
          path.map((place) => viewport.px(...place)),
        ),
      ),
      ...page.rims.flatMap(({ at, gain_mm }) => rimTick(viewport.px(...at), gain_mm)),
      dimension(a, b, OFF_PX, figure(u1 - u0, 1)),
      dimension(b, c, OFF_PX, figure(v1 - v0, 1)),
      ...page.names.map(({ name, at }) => sideLetter(name, viewport.px(...at), middle, holes)),
      ...page.grips.map((grip) => widthGrip(viewport.svg, viewport, this.form, grip)),
      ...page.transfers.flatMap(({ name, at }) => transferMark(name, viewport.px(...at))),
      ...page.marks.flatMap(({ text, at }) => remarkMark(viewport, { at, what: text }, 11)),
    );
  }
}

mount("[data-pattern-board]", PatternBoard);
