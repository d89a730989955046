/**
 * A turntable: something in space, turned by drag, fingers or arrow keys. Plain projection, no
 * perspective: lengths stay comparable.
 */
import { fieldKeys } from "frame/board/keys.js";
import { Gestures, TAP_PX } from "frame/board/pointer.js";
import { el, lineD } from "frame/board/svg.js";

/** A place in space: aft, right, up, mm. @typedef {[number, number, number]} Place */
/** A projected place: x, y in px, and how far back it lies. @typedef {[number, number, number]} Projected */
/**
 * @typedef {{ width: number, height: number, k: number, turn: number, way: (v: Place) => Projected }} Seen
 */

/** @type {[number, number]} */
const START = [-0.62, 0.42];
const STEP = Math.PI / 36,
  PX_A_RADIAN = 160;
/** How much of the field the drawing takes, and how much higher than wide a field may count. */
const SHARE = 1.04,
  HIGHER = 1.35,
  MIDDLE = 0.46;
const NEAREST = 8,
  FARTHEST = 0.5;

export class Turntable {
  turn = 0;
  tilt = 0;
  near = 1;
  #shift = [0, 0];

  /**
   * @param {SVGSVGElement} svg
   * @param {Place[]} cloud every place that must fit
   * @param {(layer: SVGGElement, at: (place: Place) => Projected, seen: Seen) => void} paint
   * @param {string} [remember] a name under which the turn is kept while the tab is open, so that trying something
   *   does
   *   not turn the shell back
   */
  constructor(svg, cloud, paint, remember = "") {
    this.svg = svg;
    this.paint = paint;
    this.kept = remember && `turn-${remember}`;
    this.middle = [0, 0, 0];
    this.reach = 1;
    this.#around(cloud);
    /** @type {[number, number, number] | null} */
    const before = JSON.parse((this.kept && sessionStorage.getItem(this.kept)) || "null");
    [this.turn, this.tilt, this.near] = before ?? [...START, 1];
    this.layer = svg.appendChild(el("g"));
    this.gestures = new Gestures(svg, {
      drag: (dx, dy, event) =>
        event.shiftKey || event.buttons === 4
          ? this.#move(dx, dy)
          : this.#turned(dx / PX_A_RADIAN, dy / PX_A_RADIAN),
      zoom: (factor) => this.#nearer(factor),
    });
    svg.addEventListener("click", (event) => this.gestures.moved > TAP_PX && event.preventDefault(), true);
    fieldKeys(svg, {
      move: (right, up) => this.#turned(right * STEP, -up * STEP),
      zoom: (factor) => this.#nearer(factor),
      fit: () => this.#back(),
    });
    new ResizeObserver(() => this.draw()).observe(svg);
    this.draw();
  }

  /** Something else stands on it now. @param {Place[]} cloud */
  fits(cloud) {
    this.#around(cloud);
    this.draw();
  }

  /** @param {Place[]} cloud */
  #around(cloud) {
    this.middle = [0, 1, 2].map((i) => {
      const values = cloud.map((p) => p[i]);
      return (Math.min(...values) + Math.max(...values)) / 2;
    });
    this.reach = Math.max(...cloud.map((p) => Math.hypot(...p.map((v, i) => v - this.middle[i])))) || 1;
  }

  draw() {
    const { width, height } = this.svg.getBoundingClientRect();
    if (!width) return;
    const k = (Math.min(width, height * HIGHER) / 2 / this.reach) * SHARE * this.near,
      x = width / 2 + this.#shift[0],
      y = height * MIDDLE + this.#shift[1];
    const way = (/** @type {Place} */ [a, b, c]) => this.#projected(a, b, c);
    const at = (/** @type {Place} */ [a, b, c]) => {
      const [right, down, deep] = this.#projected(a - this.middle[0], b - this.middle[1], c - this.middle[2]);
      return /** @type {Projected} */ ([x + right * k, y + down * k, deep]);
    };
    this.layer.replaceChildren();
    this.paint(this.layer, at, { width, height, k, turn: this.turn, way });
    this.svg.dataset.turn = `${this.turn.toFixed(3)} ${this.tilt.toFixed(3)}`;
    this.svg.dataset.ready = "";
    if (this.kept) sessionStorage.setItem(this.kept, JSON.stringify([this.turn, this.tilt, this.near]));
  }

  /**
   * Right, down and deep of a way in space as it is seen now.
   * @param {number} a
   * @param {number} b
   * @param {number} c
   * @returns {Projected}
   */
  #projected(a, b, c) {
    const s = Math.sin(this.turn),
      t = Math.cos(this.turn),
      deep = a * s + b * t;
    return [
      a * t - b * s,
      -(c * Math.cos(this.tilt) + deep * Math.sin(this.tilt)),
      deep * Math.cos(this.tilt) - c * Math.sin(this.tilt),
    ];
  }

  /** @param {number} dx @param {number} dy */
  #move(dx, dy) {
    this.#shift = [this.#shift[0] + dx, this.#shift[1] + dy];
    this.draw();
  }

  /** @param {number} turn @param {number} tilt radians */
  #turned(turn, tilt) {
    this.turn += turn;
    this.tilt = Math.max(-Math.PI / 2, Math.min(Math.PI / 2, this.tilt + tilt));
    this.draw();
  }

  /** @param {number} factor */
  #nearer(factor) {
    this.near = Math.max(FARTHEST, Math.min(NEAREST, this.near * factor));
    this.draw();
  }

  #back() {
    [this.turn, this.tilt] = START;
    this.near = 1;
    this.#shift = [0, 0];
    this.draw();
  }
}

/**
 * Lines of the body, the side that faces away fainter and first.
 * @param {SVGGElement} layer
 * @param {Place[][]} body
 * @param {(place: Place) => Projected} at
 * @param {number} turn
 */
export function bodyLines(layer, body, at, turn) {
  const lines = body.map((line) => ({
    d: lineD(...line.map(at)),
    depth: (line.reduce((sum, p) => sum + p[1], 0) / line.length) * Math.cos(turn),
  }));
  for (const { d, depth } of lines.sort((a, b) => b.depth - a.depth))
    layer.append(el("path", { class: depth > 0 ? "tt-far" : "tt-near", d }));
}
