/** The flat pattern, drawn anew by the core whenever a side or a figure changes. */
import { ask, errorBox, lastOnly } from "frame/ask.js";
import { dimension } from "frame/board/dimension.js";
import { all, mount, one, told } from "frame/board/page.js";
import { remarkMark } from "frame/board/remarks.js";
import { boundsOf, el, n1, pageData, pathD } from "frame/board/svg.js";
import { figure } from "frame/board/units.js";
import { Viewport } from "frame/board/viewport.js";

/** @typedef {import("frame/board/svg.js").Point} Point */
/**
 * The flat sheet; all but ``preview``, the address that works it out anew, is empty where no pattern can be made.
 * @typedef {{ preview: string, flat: Point[] | null, opening: Point[], holes: Point[][], bends: Point[][], steps:
 *   Point[][],
 *   names: { name: string, at: Point }[], transfers: { name: string, at: Point }[], marks: { text: string, at:
 * Point }[] }} PatternPage
 */

/** A side's letter stands so far inside its edge in a dot of this radius, a dimension so far outside, px. */
const INSIDE_PX = 26,
  DOT_PX = 12,
  OFF_PX = 30;

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
  return [
    el("circle", { class: "side-dot", cx, cy, r: DOT_PX }),
    el("text", { class: "side-name", x: cx, y: cy + 5, "text-anchor": "middle" }, name),
  ];
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

class PatternBoard {
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
    this.#showFields();
    this.viewport.onChange(() => this.#label());
    this.#draw();
    if (this.#touched()) this.#changed();
  }

  /**
   * Whether a field says something else than the page was made with: a quick hand, or a browser that fills it in
   * again.
   */
  #touched() {
    return all(this.form, "input, select", HTMLElement).some((field) => {
      if (field instanceof HTMLSelectElement)
        return [...field.options].some(
          (each) => each.selected !== each.defaultSelected && !each.defaultSelected,
        );
      if (!(field instanceof HTMLInputElement) || field.type === "hidden") return false;
      return field.value !== field.defaultValue || field.checked !== field.defaultChecked;
    });
  }

  #changed() {
    this.#showFields();
    this.ask();
  }

  /** Each side asks only what its treatment needs. */
  #showFields() {
    for (const side of all(this.form, "[data-side]", HTMLElement)) {
      const treatment = one(side, "select", HTMLSelectElement).value;
      for (const label of all(side, "[data-for]", HTMLElement))
        label.hidden = !label.dataset.for?.split(" ").includes(treatment);
      one(side, ".more", HTMLElement).hidden = treatment === "butt";
    }
  }

  /**
   * @param {{ board: PatternPage, figures: string, cells: string[], bounds: import("frame/board/svg.js").Bounds }}
   *   data
   */
  #take({ board, figures, cells, bounds }) {
    this.page = board;
    one(this.form, "[data-figures]", HTMLElement).innerHTML = figures;
    this.cells.forEach((cell, i) => (cell.textContent = cells[i]));
    this.viewport.bounds = bounds;
    this.#draw();
    if (this.viewport.fitted) this.viewport.fit();
    else this.viewport.draw();
  }

  #draw() {
    const { world } = this.viewport,
      { flat, opening, holes, bends, steps } = this.page;
    world.replaceChildren();
    this.#label();
    if (!flat) return;
    const [u0, v0] = boundsOf(flat);
    this.viewport.zero = [u0, v0]; // a sheet on the bench is measured from its lower left corner
    const path =
      (/** @type {string} */ cls, /** @type {boolean} */ closed) => (/** @type {Point[]} */ line) =>
        el("path", { class: cls, d: pathD(line, closed) });
    world.append(
      path("flat", true)(flat),
      path("opening", true)(opening),
      ...holes.map(path("hole", true)),
      ...bends.map(path("bend-line", false)),
      ...steps.map(path("step-line", false)),
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
      dimension(a, b, OFF_PX, figure(u1 - u0, 1)),
      dimension(b, c, OFF_PX, figure(v1 - v0, 1)),
      ...page.names.flatMap(({ name, at }) => sideLetter(name, viewport.px(...at), middle, holes)),
      ...page.transfers.flatMap(({ name, at }) => transferMark(name, viewport.px(...at))),
      ...page.marks.flatMap(({ text, at }) => remarkMark(viewport, { at, what: text }, 11)),
    );
  }
}

mount("[data-pattern-board]", PatternBoard);
