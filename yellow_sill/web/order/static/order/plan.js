/** A step dragged onto another slot: the page tells what that does before anything is stored. */

const plan = /** @type {HTMLElement | null} */ (document.querySelector("[data-plan]"));
/** A press that goes no farther is a tap, px. */
const FAR_PX = 8;

/**
 * The slot under a point.
 * @param {number} x
 * @param {number} y
 */
function slotAt(x, y) {
  for (const element of document.elementsFromPoint(x, y)) {
    const slot = element.closest("[data-slot]");
    if (slot) return /** @type {SVGElement} */ (slot);
  }
  return null;
}

class Drag {
  /** @type {SVGElement | null} */
  over = null;
  moved = false;

  /**
   * @param {SVGElement} step
   * @param {PointerEvent} begun
   */
  constructor(step, begun) {
    this.step = step;
    this.begun = begun;
    this.stop = new AbortController();
    const how = { signal: this.stop.signal };
    step.setPointerCapture(begun.pointerId);
    step.addEventListener("pointermove", (event) => this.move(event), how);
    step.addEventListener("pointerup", () => this.end(true), how);
    step.addEventListener("pointercancel", () => this.end(false), how);
  }

  /** @param {SVGElement | null} slot */
  mark(slot) {
    this.over?.classList.remove("is-drop");
    this.over = slot;
    slot?.classList.add("is-drop");
  }

  /** @param {PointerEvent} event */
  move(event) {
    const far = Math.hypot(event.clientX - this.begun.clientX, event.clientY - this.begun.clientY);
    this.moved ||= far > FAR_PX;
    if (this.moved) this.mark(slotAt(event.clientX, event.clientY));
  }

  /** @param {boolean} dropped */
  end(dropped) {
    this.stop.abort();
    const slot = this.over;
    this.mark(null);
    if (!this.moved) return;
    this.step.addEventListener("click", (click) => click.preventDefault(), { once: true });
    if (!dropped || !slot) return;
    const asked = new URLSearchParams({
      step: this.step.dataset.step ?? "",
      into: slot.dataset.slot ?? "",
    });
    window.location.assign(`?${asked}`);
  }
}

plan?.addEventListener("pointerdown", (event) => {
  const step = event.target instanceof Element && event.target.closest("[data-step]");
  if (step && event.isPrimary && event.button === 0) new Drag(/** @type {SVGElement} */ (step), event);
});
plan?.addEventListener("dragstart", (event) => event.preventDefault());
