/** A drawing with things on it to open: a sheet's stretches, cavities. A tap beside them fills a typed place. */
import { mount, told } from "frame/board/page.js";
import { TAP_PX } from "frame/board/pointer.js";
import { widened } from "frame/board/svg.js";
import { Viewport } from "frame/board/viewport.js";

const ROUND = 0.12;

class SheetBoard {
  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    this.viewport = new Viewport(svg, { bounds: told(svg, "bounds") });
    const focus = told(svg, "focus");
    if (focus) this.viewport.show(widened(focus, ROUND));
    svg.addEventListener(
      "click",
      (event) => {
        if (this.viewport.moved > TAP_PX) event.preventDefault();
        else if (svg.dataset.fills) this.#fill(svg.dataset.fills, event);
      },
      true,
    );
  }

  /** @param {string} id @param {MouseEvent} event */
  #fill(id, event) {
    const input = document.getElementById(id),
      [a, b] = this.viewport.shell(this.viewport.mm(...this.viewport.at(event)));
    if (!(input instanceof HTMLInputElement)) return;
    const link = /** @type {Element} */ (event.target).closest("a");
    if (link && !link.querySelector(".is-sel")) return;
    event.preventDefault();
    input.value = `${Math.round(a)} mm, ${Math.round(b)} mm`;
    input.focus();
  }
}

mount("[data-sheet-board]", SheetBoard);
