/** A drawing field with pan, zoom, rulers and scale bar. One unit of the world group is one millimetre. */
import { el, n1 } from "frame/svg.js";
import { inches, perUnit, unit } from "frame/units.js";

const TOP = 22,
  LEFT = 30,
  CROWDED = 120;
let fields = 0;
/** Small and large ticks of the rulers, in the person's unit. */
const STEPS = inches
  ? [
      [1 / 8, 1 / 2],
      [1 / 4, 1],
      [1 / 2, 2],
      [1, 6],
      [3, 12],
      [6, 24],
      [12, 60],
    ]
  : [
      [1, 5],
      [5, 10],
      [10, 50],
      [50, 100],
      [100, 500],
      [500, 1000],
    ];
const ticked = (mm) => String(+(mm / perUnit).toFixed(2) + 0);

export class Viewport {
  /**
   * svg: holds g[data-world]; bounds: [u0, v0, u1, v1] in mm to fit at first; rulers: whether to draw edges.
   * pad: px kept free round the fitted drawing, as [left, top, right, bottom].
   */
  constructor(svg, { bounds, rulers = true, pad = [14, 46, 14, 58], mostZoom = 30 }) {
    Object.assign(this, {
      svg,
      bounds,
      pad,
      rulers,
      mostZoom,
      k: 1,
      ox: 0,
      oy: 0,
      listeners: [],
      fitted: true,
    });
    this.signs = JSON.parse(svg.dataset.signs ?? "[1, 1]");
    this.zero = [0, 0]; // where the rulers read 0
    this.world = svg.querySelector("[data-world]");
    this.overlay = svg.appendChild(el("g", { "data-overlay": "" }));
    this.furniture = svg.appendChild(el("g", { class: "rulers", "aria-hidden": "true" }));
    svg.removeAttribute("viewBox");
    this.#ownHatches();
    this.#listen();
    new ResizeObserver(() => this.#resized()).observe(svg);
    this.#resized();
  }

  get top() {
    return this.rulers ? TOP : 0;
  }
  get left() {
    return this.rulers ? LEFT : 0;
  }
  px(u, v) {
    return [this.ox + u * this.k, this.oy - v * this.k];
  }
  mm(x, y) {
    return [(x - this.ox) / this.k, (this.oy - y) / this.k];
  }
  onChange(listener) {
    this.listeners.push(listener);
    listener(this);
  }

  /** A place of the drawing in the shell's own axes, as the rulers show it, and back. */
  shell([u, v]) {
    return [u * this.signs[0] + 0, v * this.signs[1] + 0];
  }

  /** Where on the field an event happened, px. */
  at(event) {
    const box = this.svg.getBoundingClientRect();
    return [event.clientX - box.left, event.clientY - box.top];
  }

  fit(bounds = this.bounds, pad = this.pad) {
    const [u0, v0, u1, v1] = bounds,
      [l, t, r, b] = pad;
    const w = Math.max(60, this.width - this.left - l - r),
      h = Math.max(60, this.height - this.top - t - b);
    this.k = Math.min(w / Math.max(u1 - u0, 1), h / Math.max(v1 - v0, 1));
    this.ox = this.left + l + (w - (u1 - u0) * this.k) / 2 - u0 * this.k;
    this.oy = this.top + t + (h - (v1 - v0) * this.k) / 2 + v1 * this.k;
    this.least = Math.min(this.least ?? Infinity, this.k * 0.6);
    this.fitted = true;
    this.draw();
  }

  zoom(factor, x = this.width / 2, y = this.height / 2) {
    const k = Math.min(this.mostZoom, Math.max(this.least, this.k * factor)),
      f = k / this.k;
    this.ox = x - (x - this.ox) * f;
    this.oy = y - (y - this.oy) * f;
    this.k = k;
    this.fitted = false;
    this.#moves();
    this.draw();
  }

  /** Boards with very many findings are drawn plainer while they move, so that they keep up with the hand. */
  #moves() {
    this.crowded ??= this.world.querySelectorAll(".fd").length > CROWDED;
    if (!this.crowded) return;
    this.svg.classList.add("is-moving");
    clearTimeout(this.rest);
    this.rest = setTimeout(() => this.svg.classList.remove("is-moving"), 180);
  }

  pan(dx, dy) {
    this.#moves();
    this.ox += dx;
    this.oy += dy;
    this.fitted = false;
    this.draw();
  }

  draw() {
    cancelAnimationFrame(this.frame);
    this.frame = requestAnimationFrame(() => {
      this.world.setAttribute("transform", `translate(${n1(this.ox)} ${n1(this.oy)}) scale(${this.k})`);
      if (this.hatched !== this.k)
        for (const p of this.hatches)
          p.setAttribute("patternTransform", `scale(${1 / this.k}) rotate(${p.dataset.turn})`);
      this.hatched = this.k;
      if (this.rulers) this.#rulers();
      for (const listener of this.listeners) listener(this);
      this.svg.dataset.ready = "";
    });
  }

  /** Hatches keep their size on screen, so each field has its own set, scaled against its zoom. */
  #ownHatches() {
    const suffix = `-${++fields}`,
      defs = this.svg.appendChild(el("defs"));
    this.hatches = [...document.querySelectorAll(".ys-hatches pattern")].map((pattern) => {
      const own = pattern.cloneNode(true);
      own.id += suffix;
      this.svg.style.setProperty(`--${pattern.id}`, `url(#${own.id})`);
      return defs.appendChild(own);
    });
  }

  #resized() {
    const { width, height } = this.svg.getBoundingClientRect();
    if (!width || !height) return;
    const first = this.width === undefined;
    Object.assign(this, { width, height });
    if (first || this.fitted) this.fit(this.bounds, this.pad);
    else this.draw();
  }

  #rulers() {
    const [minor, major] = (STEPS.find(([, M]) => M * perUnit * this.k >= 62) ?? STEPS.at(-1)).map(
      (step) => step * perUnit,
    );
    const out = [
      `<rect class="rl-bg" width="${this.width}" height="${TOP}"/>`,
      `<rect class="rl-bg" width="${LEFT}" height="${this.height}"/>`,
    ];
    let small = "",
      large = "";
    const isMajor = (value) => Math.abs(value / major - Math.round(value / major)) < 1e-6;
    const [u0, v0] = this.zero;
    for (
      let u = Math.ceil((this.mm(LEFT, 0)[0] - u0) / minor) * minor, x;
      (x = this.px(u + u0, 0)[0]) <= this.width;
      u += minor
    ) {
      if (!isMajor(u)) {
        small += `M${n1(x)} ${TOP}v-5`;
        continue;
      }
      large += `M${n1(x)} ${TOP}v-9`;
      if (x < this.width - 34)
        out.push(`<text class="rl-t" x="${n1(x + 3)}" y="${TOP - 9}">${ticked(u * this.signs[0])}</text>`);
    }
    for (
      let v = Math.ceil((this.mm(0, this.height)[1] - v0) / minor) * minor, y;
      (y = this.px(0, v + v0)[1]) >= TOP;
      v += minor
    ) {
      if (!isMajor(v)) {
        small += `M${LEFT} ${n1(y)}h-5`;
        continue;
      }
      large += `M${LEFT} ${n1(y)}h-9`;
      if (y > TOP + 30 && y < this.height - 16)
        out.push(
          `<text class="rl-t" text-anchor="middle" transform="translate(${LEFT - 10} ${n1(y)}) rotate(-90)">` +
            `${ticked(v * this.signs[1])}</text>`,
        );
    }
    out.push(
      `<path class="rl-m" d="${small}"/><path class="rl-M" d="${large}"/>`,
      `<path class="rl-e" d="M${LEFT} ${this.height}V${TOP}H${this.width}"/>`,
    );
    out.push(
      `<rect class="rl-bg" width="${LEFT}" height="${TOP}"/><path class="rl-e" d="M0 ${TOP}H${LEFT}V0"/>`,
      `<text class="rl-u" x="${LEFT / 2}" y="${TOP - 7}" text-anchor="middle">${unit}</text>`,
    );
    const bar = major,
      x = LEFT + 24,
      y = this.height - 14,
      w = (bar * this.k) / 2;
    out.push(
      `<g><rect class="sb-a" x="${x}" y="${y}" width="${n1(w)}" height="6"/>` +
        `<rect class="sb-b" x="${n1(x + w)}" y="${y}" width="${n1(w)}" height="6"/>` +
        `<text class="sb-t" x="${x}" y="${y - 5}" text-anchor="middle">0</text>` +
        `<text class="sb-t" x="${n1(x + 2 * w)}" y="${y - 5}" text-anchor="middle">${ticked(bar)}</text>` +
        `<text class="sb-t" x="${n1(x + 2 * w + 10 + 4 * ticked(bar).length)}" y="${y - 5}">${unit}</text></g>`,
    );
    this.furniture.innerHTML = out.join("");
  }

  #listen() {
    const pointers = new Map();
    let gap = 0;
    this.svg.addEventListener(
      "wheel",
      (event) => {
        event.preventDefault();
        this.zoom(Math.exp(-event.deltaY * (event.deltaMode ? 0.05 : 0.0016)), ...this.at(event));
      },
      { passive: false },
    );
    this.svg.addEventListener("pointerdown", (event) => {
      if (event.button > 1 || event.target.closest("[data-handle]")) return;
      pointers.set(event.pointerId, this.at(event));
      this.moved = 0;
    });
    this.svg.addEventListener("pointermove", (event) => {
      const before = pointers.get(event.pointerId);
      if (!before) return;
      const here = this.at(event);
      this.moved += Math.hypot(here[0] - before[0], here[1] - before[1]);
      if (pointers.size === 1 && this.moved > 4) {
        if (!this.svg.hasPointerCapture(event.pointerId)) this.svg.setPointerCapture(event.pointerId);
        this.pan(here[0] - before[0], here[1] - before[1]);
      }
      pointers.set(event.pointerId, here);
      if (pointers.size === 2) {
        const [a, b] = [...pointers.values()],
          now = Math.hypot(a[0] - b[0], a[1] - b[1]);
        if (gap) this.zoom(now / gap, (a[0] + b[0]) / 2, (a[1] + b[1]) / 2);
        gap = now;
      }
    });
    const lift = (event) => {
      pointers.delete(event.pointerId);
      if (pointers.size < 2) gap = 0;
    };
    for (const type of ["pointerup", "pointercancel", "pointerleave"]) this.svg.addEventListener(type, lift);
    this.svg.addEventListener("keydown", (event) => {
      if (event.target !== this.svg || event.ctrlKey || event.metaKey || event.altKey) return;
      const step = event.shiftKey ? 120 : 40;
      const keys = {
        ArrowLeft: () => this.pan(step, 0),
        ArrowRight: () => this.pan(-step, 0),
        ArrowUp: () => this.pan(0, step),
        ArrowDown: () => this.pan(0, -step),
        "+": () => this.zoom(1.25),
        "=": () => this.zoom(1.25),
        "-": () => this.zoom(0.8),
        0: () => this.fit(),
      };
      if (keys[event.key]) {
        event.preventDefault();
        keys[event.key]();
      }
    });
    const board = this.svg.closest(".ys-board");
    if (this.rulers)
      for (const button of board?.querySelectorAll("[data-zoom]") ?? [])
        button.addEventListener("click", () =>
          button.dataset.zoom === "fit" ? this.fit() : this.zoom(Number(button.dataset.zoom)),
        );
  }
}
