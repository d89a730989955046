/** The one place that holds on to pointers: a drag goes on wherever the hand goes, until it lifts. */

/** A hand trembles this far before it drags, px. */
export const TREMBLE_PX = 4;
/** A press that wandered farther than this was no tap, px. */
export const TAP_PX = 6;

/**
 * Hold a pointer that has just gone down.
 * @param {SVGSVGElement} svg
 * @param {PointerEvent} event
 * @param {{ move: (event: PointerEvent) => void, lift?: (event: PointerEvent) => void }} deeds
 */
export function hold(svg, event, { move, lift = () => {} }) {
  const mine = (/** @type {PointerEvent} */ each) => each.pointerId === event.pointerId;
  const moved = (/** @type {PointerEvent} */ each) => mine(each) && move(each);
  const lifted = (/** @type {PointerEvent} */ each) => {
    if (!mine(each)) return;
    svg.removeEventListener("pointermove", moved);
    svg.removeEventListener("pointerup", lifted);
    svg.removeEventListener("pointercancel", lifted);
    lift(each);
  };
  svg.setPointerCapture(event.pointerId);
  svg.addEventListener("pointermove", moved);
  svg.addEventListener("pointerup", lifted);
  svg.addEventListener("pointercancel", lifted);
}

/**
 * One pointer drags, two pinch, the wheel zooms: what every field of ours does. ``moved``: px since the last
 * press.
 */
export class Gestures {
  moved = 0;
  /** @type {Map<number, [number, number]>} */
  #down = new Map();
  #gap = 0;

  /**
   * @param {SVGSVGElement} svg
   * @param {{
   *   drag: (dx: number, dy: number, event: PointerEvent) => void,
   *   zoom: (factor: number, x: number, y: number) => void,
   *   skips?: (event: PointerEvent) => boolean,
   * }} deeds drag, zoom: by so many px, about a place in px; skips: presses that are meant for something else.
   */
  constructor(svg, { drag, zoom, skips = () => false }) {
    Object.assign(this, { svg, drag, zoom });
    svg.addEventListener("pointerdown", (event) => {
      if (skips(event)) return;
      this.#down.set(event.pointerId, at(svg, event));
      this.moved = 0;
    });
    svg.addEventListener("pointermove", (event) => this.#move(svg, event, drag, zoom));
    const lift = (/** @type {PointerEvent} */ event) => {
      this.#down.delete(event.pointerId);
      if (this.#down.size < 2) this.#gap = 0;
    };
    svg.addEventListener("pointerup", lift);
    svg.addEventListener("pointercancel", lift);
    svg.addEventListener("pointerleave", lift);
    svg.addEventListener(
      "wheel",
      (event) => {
        event.preventDefault();
        zoom(Math.exp(-event.deltaY * (event.deltaMode ? 0.05 : 0.0016)), ...at(svg, event));
      },
      { passive: false },
    );
  }

  /**
   * @param {SVGSVGElement} svg
   * @param {PointerEvent} event
   * @param {(dx: number, dy: number, event: PointerEvent) => void} drag
   * @param {(factor: number, x: number, y: number) => void} zoom
   */
  #move(svg, event, drag, zoom) {
    const before = this.#down.get(event.pointerId);
    if (!before) return;
    const here = at(svg, event);
    this.moved += Math.hypot(here[0] - before[0], here[1] - before[1]);
    this.#down.set(event.pointerId, here);
    if (this.#down.size === 1 && this.moved > TREMBLE_PX) {
      if (!svg.hasPointerCapture(event.pointerId)) svg.setPointerCapture(event.pointerId);
      drag(here[0] - before[0], here[1] - before[1], event);
    }
    if (this.#down.size !== 2) return;
    const [a, b] = [...this.#down.values()],
      now = Math.hypot(a[0] - b[0], a[1] - b[1]);
    if (this.#gap) zoom(now / this.#gap, (a[0] + b[0]) / 2, (a[1] + b[1]) / 2);
    this.#gap = now;
  }
}

/**
 * Where on a drawing an event happened, px.
 * @param {SVGSVGElement} svg
 * @param {{ clientX: number, clientY: number }} event
 * @returns {[number, number]}
 */
export function at(svg, event) {
  const box = svg.getBoundingClientRect();
  return [event.clientX - box.left, event.clientY - box.top];
}
