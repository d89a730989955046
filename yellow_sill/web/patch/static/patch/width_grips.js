/** Widths of edges, dragged at the rim of the flat sheet; the field is the truth, the core draws the sheet anew. */
import { hold } from "frame/board/pointer.js";
import { el, n1 } from "frame/board/svg.js";
import { figure } from "frame/board/units.js";

/** @typedef {import("frame/board/svg.js").Point} Point */
/** Where a width is dragged: its field, its place on the rim, the direction that makes it wider. @typedef {{ field:
 *   string, at: Point, out: Point }} WidthGrip */

/** Half a handle's length, how far a finger may miss it, px; widths are dragged in steps of this, mm. */
const HALF_PX = 9,
  TAP_PX = 20,
  STEP_MM = 0.5,
  INCH_MM = 25.4,
  STEP_IN = 1 / 64;

/**
 * A handle on the rim.
 * @param {SVGSVGElement} svg
 * @param {import("frame/board/viewport.js").Viewport} viewport
 * @param {HTMLFormElement} form
 * @param {WidthGrip} grip
 */
export function widthGrip(svg, viewport, form, { field, at, out }) {
  const input = form.elements.namedItem(`${field}`),
    [x, y] = viewport.px(...at).map(n1),
    // v runs up on the drawing and down on the screen
    [dx, dy] = [out[0], -out[1]],
    arrow = `M${HALF_PX + 10} 0L${HALF_PX - 3} -6L${HALF_PX - 3} 6Z`,
    turn = (Math.atan2(dy, dx) * 180) / Math.PI;
  const g = el(
    "g",
    { class: "width-grip", transform: `translate(${x} ${y}) rotate(${n1(turn)})`, "data-grip": field },
    el("circle", { class: "hit", r: TAP_PX }),
    el("path", { d: arrow }),
  );
  g.addEventListener("pointerdown", (event) => {
    if (!(input instanceof HTMLInputElement)) return;
    event.stopPropagation();
    const inches = document.body.dataset.unit === "in",
      before = Number(input.value.replace(",", ".")) || 0,
      step = inches ? STEP_IN : STEP_MM,
      from = viewport.mm(...viewport.at(event));
    hold(svg, event, {
      move: (moved) => {
        const to = viewport.mm(...viewport.at(moved)),
          by = (to[0] - from[0]) * out[0] + (to[1] - from[1]) * out[1],
          wanted = before + (inches ? by / INCH_MM : by);
        input.value = figure(Math.max(step, Math.round(wanted / step) * step), inches ? 4 : 1);
        input.dispatchEvent(new Event("input", { bubbles: true }));
      },
    });
  });
  return g;
}
