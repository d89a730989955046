/** A drawing field with pan, zoom, rulers and scale bar. One unit of the world group is one millimetre. */
import { fieldKeys } from "frame/board/keys.js";
import { at, Gestures } from "frame/board/pointer.js";
import { LEFT, rulers, TOP } from "frame/board/rulers.js";
import { told } from "frame/board/page.js";
import { el, n1 } from "frame/board/svg.js";

/** @typedef {import("frame/board/svg.js").Point} Point */
/** @typedef {import("frame/board/svg.js").Bounds} Bounds */

/** With more findings than this a board is drawn plainer while it moves, and for so long after, ms. */
const CROWDED = 120,
  REST_MS = 180;
/** A field is never taken for smaller than this, px; zoomed out no farther than this share of the fit. */
const LEAST_PX = 60,
  LEAST_SHARE = 0.6;
/** An arrow key moves the field so far, px. */
const STEP_PX = 40,
  WIDE_STEP_PX = 120;
let fields = 0;

export class Viewport {
  k = 1;
  ox = 0;
  oy = 0;
  width = 0;
  height = 0;
  fitted = true;
  least = Infinity;
  /** Where the rulers read 0. @type {Point} */
  zero = [0, 0];
  /** @type {((field: Viewport) => void)[]} */
  listeners = [];
  #frame = 0;
  #rest = 0;
  #hatched = NaN;
  /** @type {boolean | undefined} */
  #crowded;

  /**
   * @param {SVGSVGElement} svg holds g[data-world]
   * @param {{ bounds: Bounds, rulers?: boolean, pad?: [number, number, number, number], mostZoom?: number }} options
   *   bounds: mm to fit at first; pad: px kept free round the fitted drawing, as left, top, right, bottom.
   */
  constructor(svg, { bounds, rulers = true, pad = [14, 46, 14, 58], mostZoom = 30 }) {
    this.svg = svg;
    this.bounds = bounds;
    this.pad = pad;
    this.ruled = rulers;
    this.mostZoom = mostZoom;
    /** @type {Point} */
    this.signs = told(svg, "signs") ?? [1, 1];
    this.world = /** @type {SVGGElement} */ (svg.querySelector("[data-world]"));
    this.overlay = svg.appendChild(el("g", { "data-overlay": "" }));
    this.furniture = svg.appendChild(el("g", { class: "rulers", "aria-hidden": "true" }));
    svg.removeAttribute("viewBox");
    this.hatches = this.#ownHatches();
    this.gestures = new Gestures(svg, {
      drag: (dx, dy) => this.pan(dx, dy),
      zoom: (factor, x, y) => this.zoom(factor, x, y),
      skips: (event) =>
        event.button > 1 ||
        (event.target instanceof Element && event.target.closest("[data-handle]") !== null),
    });
    fieldKeys(svg, {
      move: (right, up, wide) => this.pan(...this.#step(right, up, wide ? WIDE_STEP_PX : STEP_PX)),
      zoom: (factor) => this.zoom(factor),
      fit: () => this.fit(),
      own: (event) => event.target === svg,
      buttons: rulers,
    });
    new ResizeObserver(() => this.#resized()).observe(svg);
    this.#resized();
  }

  get top() {
    return this.ruled ? TOP : 0;
  }
  get left() {
    return this.ruled ? LEFT : 0;
  }
  /** How far the pointer has moved since it went down, px: a tap moves little. */
  get moved() {
    return this.gestures.moved;
  }
  set moved(px) {
    this.gestures.moved = px;
  }

  /** @param {number} u @param {number} v @returns {Point} */
  px(u, v) {
    return [this.ox + u * this.k, this.oy - v * this.k];
  }
  /** @param {number} x @param {number} y @returns {Point} */
  mm(x, y) {
    return [(x - this.ox) / this.k, (this.oy - y) / this.k];
  }
  /** @param {(field: Viewport) => void} listener */
  onChange(listener) {
    this.listeners.push(listener);
    listener(this);
  }

  /**
   * A place of the drawing in the shell's own axes, as the rulers show it, and back.
   * @param {number[]} place
   * @returns {Point}
   */
  shell([u, v]) {
    return [u * this.signs[0] + 0, v * this.signs[1] + 0];
  }

  /** Where on the field an event happened, px. @param {{ clientX: number, clientY: number }} event */
  at(event) {
    return at(this.svg, event);
  }

  /** @param {Bounds} [bounds] @param {[number, number, number, number]} [pad] */
  fit(bounds = this.bounds, pad = this.pad) {
    const [u0, v0, u1, v1] = bounds,
      [l, t, r, b] = pad;
    const w = Math.max(LEAST_PX, this.width - this.left - l - r),
      h = Math.max(LEAST_PX, this.height - this.top - t - b);
    this.k = Math.min(w / Math.max(u1 - u0, 1), h / Math.max(v1 - v0, 1));
    this.ox = this.left + l + (w - (u1 - u0) * this.k) / 2 - u0 * this.k;
    this.oy = this.top + t + (h - (v1 - v0) * this.k) / 2 + v1 * this.k;
    this.least = Math.min(this.least, this.k * LEAST_SHARE);
    this.fitted = true;
    this.draw();
  }

  /** Bring a part of the drawing before the eye; the whole stays what it fits to. @param {Bounds} bounds */
  show(bounds) {
    this.fit(bounds);
    this.fitted = false;
  }

  /** @param {number} factor @param {number} [x] px @param {number} [y] px */
  zoom(factor, x = this.width / 2, y = this.height / 2) {
    const k = Math.min(this.mostZoom, Math.max(this.least, this.k * factor)),
      f = k / this.k;
    this.ox = x - (x - this.ox) * f;
    this.oy = y - (y - this.oy) * f;
    this.k = k;
    this.#moves();
  }

  /** @param {number} dx @param {number} dy */
  pan(dx, dy) {
    this.ox += dx;
    this.oy += dy;
    this.#moves();
  }

  /**
   * The field goes where the eye goes: the drawing moves the other way.
   * @param {number} right
   * @param {number} up
   * @param {number} px
   * @returns {Point}
   */
  #step(right, up, px) {
    return [-right * px, up * px];
  }

  /** Boards with very many findings are drawn plainer while they move, so that they keep up with the hand. */
  #moves() {
    this.fitted = false;
    this.#crowded ??= this.world.querySelectorAll(".fd").length > CROWDED;
    if (this.#crowded) {
      this.svg.classList.add("is-moving");
      clearTimeout(this.#rest);
      this.#rest = setTimeout(() => this.svg.classList.remove("is-moving"), REST_MS);
    }
    this.draw();
  }

  draw() {
    cancelAnimationFrame(this.#frame);
    this.#frame = requestAnimationFrame(() => {
      this.world.setAttribute("transform", `translate(${n1(this.ox)} ${n1(this.oy)}) scale(${this.k})`);
      if (this.#hatched !== this.k)
        for (const p of this.hatches)
          p.setAttribute("patternTransform", `scale(${1 / this.k}) rotate(${p.dataset.turn})`);
      this.#hatched = this.k;
      if (this.ruled) this.furniture.innerHTML = rulers(this);
      for (const listener of this.listeners) listener(this);
      this.svg.dataset.ready = "";
    });
  }

  /** Hatches keep their size on screen, so each field has its own set, scaled against its zoom. */
  #ownHatches() {
    const suffix = `-${++fields}`,
      defs = this.svg.appendChild(el("defs"));
    return [...document.querySelectorAll(".ys-hatches pattern")].map((pattern) => {
      const own = /** @type {SVGPatternElement} */ (pattern.cloneNode(true));
      own.id += suffix;
      this.svg.style.setProperty(`--${pattern.id}`, `url(#${own.id})`);
      return defs.appendChild(own);
    });
  }

  #resized() {
    const { width, height } = this.svg.getBoundingClientRect();
    if (!width || !height) return;
    const first = this.width === 0;
    Object.assign(this, { width, height });
    if (first || this.fitted) this.fit(this.bounds, this.pad);
    else this.draw();
  }
}
