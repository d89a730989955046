/** The pair to measure, ringed among the other points of the book. */
import { target } from "datums/marks.js";
import { dimension } from "frame/board/dimension.js";
import { told } from "frame/board/page.js";
import { ring } from "frame/board/pen.js";
import { el, lineD, n1 } from "frame/board/svg.js";
import { Viewport } from "frame/board/viewport.js";

/** @typedef {import("frame/board/svg.js").Point} Point */

export class EntryBoard {
  /** @type {import("datums/walk.js").Step | undefined} */
  #step;

  /** @param {SVGSVGElement} svg @param {Record<string, Point>} places of the points, mm */
  constructor(svg, places) {
    this.places = places;
    this.viewport = new Viewport(svg, { bounds: told(svg, "bounds"), pad: [14, 40, 200, 110] });
    this.layer = this.viewport.overlay.appendChild(el("g"));
    this.viewport.onChange(() => this.#draw());
  }

  /** @param {import("datums/walk.js").Step} step */
  show(step) {
    this.#step = step;
    this.#draw();
  }

  #draw() {
    const codes = this.#step?.points ?? [],
      mean = this.#step?.mean;
    this.layer.replaceChildren(
      ...Object.entries(this.places).flatMap(([code, place]) =>
        this.#point(code, this.viewport.px(...place), codes.includes(code)),
      ),
    );
    const px = codes
      .filter((code) => this.places[code])
      .map((code) => this.viewport.px(...this.places[code]));
    if (px.length === 2) this.layer.append(dimension(px[0], px[1], 0.01, mean || "?"));
    if (px.length === 3) this.layer.append(el("path", { class: "dm-l", d: lineD(...px) }));
  }

  /** @param {string} code @param {Point} px @param {boolean} on */
  #point(code, [x, y], on) {
    const mark = target(x, y, on ? 8 : 4);
    if (!on) return [mark];
    const name = el("text", { class: "cap dl-name", x: n1(x + 14), y: n1(y - 16) }, code);
    return [mark, ring(x, y, 22, 20, code.charCodeAt(0)), name];
  }
}
