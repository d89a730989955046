/**
 * Each corner's distances from two named ends of the panel, to set it out with a rule: on the drawing, and as a
 * table.
 */
import { made, one } from "frame/board/page.js";
import { boundsOf, el, n1 } from "frame/board/svg.js";
import { figure } from "frame/board/units.js";

/** @typedef {import("frame/board/svg.js").Point} Point */
/** @typedef {import("frame/board/viewport.js").Viewport} Viewport */

export class SetOut {
  /** From which ends: 0 the low one, 1 the high one, along u and along v. @type {[number, number] | null} */
  from = null;

  /**
   * @param {HTMLFormElement} form
   * @param {Point[]} panel
   * @param {string[]} ends their names: low u, high u, low v, high v
   * @param {() => void} changed
   */
  constructor(form, panel, ends, changed) {
    this.bounds = boundsOf(panel);
    this.table = one(form, "[data-set-table]", HTMLElement);
    one(document, "select[data-set-out]", HTMLSelectElement).addEventListener("change", (event) => {
      const { value } = /** @type {HTMLSelectElement} */ (event.target),
        [u, v] = value.split(",").map(Number);
      this.from = value ? [u, v] : null;
      this.table.hidden = !this.from;
      if (this.from) {
        one(this.table, "[data-set-u]", HTMLElement).textContent = `from ${ends[u]} end`;
        one(this.table, "[data-set-v]", HTMLElement).textContent = `from ${ends[2 + v]} edge`;
      }
      changed();
    });
  }

  /** @param {Viewport} viewport @param {Point[]} corners */
  draw(viewport, corners) {
    if (!this.from) return [];
    const [fromU, fromV] = this.from,
      u0 = this.bounds[fromU * 2],
      v0 = this.bounds[1 + fromV * 2];
    const inside = (/** @type {number} */ value, /** @type {number} */ low, /** @type {number} */ high) =>
      Math.min(Math.max(value, low), high);
    const x0 = inside(viewport.px(u0, 0)[0], viewport.left + 4, viewport.width - 4),
      y0 = inside(viewport.px(0, v0)[1], viewport.top + 4, viewport.height - 20);
    const told = corners.map(([u, v]) => [figure(Math.abs(u - u0)), figure(Math.abs(v - v0))]);
    one(this.table, "tbody", HTMLElement).replaceChildren(
      ...told.map(([along, up], i) =>
        made(
          "tr",
          {},
          made("th", { textContent: String(i + 1) }),
          made("td", { textContent: along, className: "r mm" }),
          made("td", { textContent: up, className: "r mm" }),
        ),
      ),
    );
    return corners.flatMap(([u, v], i) => {
      const [x, y] = viewport.px(u, v),
        [along, up] = told[i],
        text = (/** @type {object} */ more, /** @type {string} */ words) =>
          el("text", { class: "num ord", ...more }, words);
      return [
        el("path", { class: "ord-line", d: `M${n1(x0)} ${n1(y)}H${n1(x)}M${n1(x)} ${n1(y0)}V${n1(y)}` }),
        text({ x: n1(x + (fromU ? 8 : -8)), y: n1(y - 6), "text-anchor": fromU ? "start" : "end" }, along),
        text({ x: n1(x + 6), y: n1(y + (fromV ? -20 : 20)) }, up),
        el("text", { class: "cap ord", x: n1(x - 4), y: n1(y - 22), "text-anchor": "end" }, String(i + 1)),
      ];
    });
  }
}
