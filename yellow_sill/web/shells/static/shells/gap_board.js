/** The gaps round a part, each at its place on the drawing; a tap goes to where it is typed. */
import { mount, told } from "frame/board/page.js";
import { el, n1, pageData, widened } from "frame/board/svg.js";
import { Viewport } from "frame/board/viewport.js";

/** @typedef {{ code: string, at: [number, number], gap: string, out: boolean }} Mark */
const ROUND = 0.16,
  HIGH = 24,
  LETTER = 9;

class GapBoard {
  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    this.viewport = new Viewport(svg, { bounds: widened(told(svg, "bounds"), ROUND) });
    this.layer = this.viewport.overlay.appendChild(el("g"));
    /** @type {Mark[]} */
    this.marks = pageData("gap-marks");
    this.viewport.onChange(() => this.layer.replaceChildren(...this.marks.map((mark) => this.#mark(mark))));
  }

  /** @param {Mark} mark */
  #mark({ code, at, gap, out }) {
    const [x, y] = this.viewport.px(...at).map(n1),
      wide = 14 + gap.length * LETTER,
      g = el(
        "g",
        { class: `gap-mark${out ? " is-out" : ""}` },
        el("rect", { x: n1(x - wide / 2), y: n1(y - HIGH / 2), width: wide, height: HIGH }),
        el("text", { x, y: n1(y + 5) }, gap),
      );
    g.addEventListener("click", () => document.getElementById(`id_${code}`)?.focus());
    return g;
  }
}

mount("[data-gap-board]", GapBoard);
