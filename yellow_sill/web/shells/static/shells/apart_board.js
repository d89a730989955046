/** A side taken apart: a tap on a sheet opens it. */
import { mount, told } from "frame/board/page.js";
import { TAP_PX } from "frame/board/pointer.js";
import { el, n1, pageData } from "frame/board/svg.js";
import { Viewport } from "frame/board/viewport.js";

class ApartBoard {
  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    this.viewport = new Viewport(svg, { bounds: told(svg, "bounds"), rulers: false, pad: [14, 24, 14, 100] });
    const names = this.viewport.overlay.appendChild(el("g", { class: "apart-names" }));
    this.viewport.onChange(() =>
      names.replaceChildren(
        .../** @type {{ name: string, at: [number, number] }[]} */ (pageData("apart-names")).map(
          ({ name, at }) => {
            const [x, y] = this.viewport.px(...at).map(n1);
            return el("text", { x, y: y + 12 }, name);
          },
        ),
      ),
    );
    svg.addEventListener("click", (event) => {
      const panel = /** @type {Element} */ (event.target).closest("[data-panel]");
      if (!(panel instanceof SVGElement) || this.viewport.moved > TAP_PX) return;
      location.assign(
        (svg.dataset.sheet ?? "").replace("CODE", encodeURIComponent(panel.dataset.panel ?? "")),
      );
    });
  }
}

mount("[data-apart-board]", ApartBoard);
