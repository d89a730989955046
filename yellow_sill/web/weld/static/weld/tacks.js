/**
 * The tacks on the seam: rings with their numbers, done, next and to come, and the hop from the last to the next.
 */
import { pressed } from "frame/board/keys.js";
import { focusAgain, focusedIn } from "frame/board/page.js";
import { ring } from "frame/board/pen.js";
import { el, n1, pt } from "frame/board/svg.js";

/** @typedef {import("frame/board/svg.js").Point} Point */
/**
 * A tack of the plan.
 * @typedef {{ n: number, pass: number, at: Point, start_s: number, wait_s: number, plate_C_before: number,
 *   plate_shown: string }} Tack
 */

const STATE_WORDS = { done: "tacked", next: "next", todo: "to come" };
/** Tacks nearer than this on screen are crowded: those to come are drawn as small rings only, px. */
const FREE_PX = 22;
const HIT_PX = { free: 18, crowded: 6 };

export class Tacks {
  /**
   * @param {import("frame/board/viewport.js").Viewport} viewport
   * @param {Tack[]} tacks
   * @param {(step: number) => void} go
   */
  constructor(viewport, tacks, go) {
    this.viewport = viewport;
    this.tacks = tacks;
    this.go = go;
    this.layer = viewport.overlay.appendChild(el("g"));
  }

  /** @param {number} step tacks that are done */
  draw(step) {
    const focused = focusedIn(this.layer, "n"),
      free = FREE_PX / this.viewport.k;
    /** @type {Point[]} */
    const drawn = [];
    const parts = [...this.tacks].sort(byWorth(step)).flatMap((tack) => {
      const next = tack.n === step + 1,
        crowded = !next && drawn.some(([u, v]) => Math.hypot(u - tack.at[0], v - tack.at[1]) < free);
      if (!crowded) drawn.push(tack.at);
      const shape = this.#tack(tack, tack.n <= step ? "done" : next ? "next" : "todo", crowded);
      const [x, y] = this.viewport.px(...tack.at).map(n1);
      return next ? [ring(x, y, 21, 20, 6), shape] : [shape];
    });
    this.layer.replaceChildren(...parts.reverse(), ...this.#hop(step));
    focusAgain(this.layer, "n", focused);
  }

  /** @param {Tack} tack @param {"done" | "next" | "todo"} state @param {boolean} crowded */
  #tack(tack, state, crowded) {
    const [x, y] = this.viewport.px(...tack.at).map(n1);
    const g = el(
      "g",
      {
        class: `tk tk-${state}${crowded ? " small" : ""}`,
        "data-n": tack.n,
        tabindex: crowded ? "-1" : "0",
        role: "button",
        "aria-label": `Tack ${tack.n}, pass ${tack.pass}, ${STATE_WORDS[state]}`,
      },
      el("circle", { class: "hit", cx: x, cy: y, r: crowded ? HIT_PX.crowded : HIT_PX.free }),
      el("circle", { class: "ring", cx: x, cy: y, r: crowded ? 3.6 : state === "next" ? 12 : 10.5 }),
    );
    if (!crowded) g.append(el("text", { x, y: y + 4.5, "text-anchor": "middle" }, String(tack.n)));
    g.addEventListener("click", () => this.go(tack.n - 1));
    g.addEventListener("keydown", (event) => {
      if (!pressed(event)) return;
      event.preventDefault();
      this.go(tack.n - 1);
    });
    return g;
  }

  /** @param {number} step */
  #hop(step) {
    const [last, next] = [this.tacks[step - 1], this.tacks[step]];
    if (!last || !next) return [];
    const a = this.viewport.px(...last.at),
      b = this.viewport.px(...next.at),
      over = [(a[0] + b[0]) / 2 + 24, (a[1] + b[1]) / 2 - 12];
    return [el("path", { class: "hop", d: `M${pt(a)}Q${pt(over)} ${pt(b)}` })];
  }
}

/**
 * The next first, then what is done, latest first, then what comes.
 * @param {number} step
 * @returns {(a: Tack, b: Tack) => number}
 */
const byWorth = (step) => (a, b) =>
  Number(b.n === step + 1) - Number(a.n === step + 1) ||
  Number(b.n <= step) - Number(a.n <= step) ||
  (a.n <= step ? b.n - a.n : a.n - b.n);
