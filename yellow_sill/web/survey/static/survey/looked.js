/**
 * Marking a region as looked at: press the button, drag across the metal; one gesture, one question to the server.
 */
import { ask } from "frame/ask.js";
import { all, one } from "frame/board/page.js";
import { hold } from "frame/board/pointer.js";
import { el } from "frame/board/svg.js";

/** @typedef {import("frame/board/svg.js").Point} Point */

/** A box smaller than this was a tap, mm. */
const LEAST_MM = 3;

class Looked {
  /** @param {HTMLElement} button */
  constructor(button) {
    this.button = button;
    this.svg = one(document, "[data-look-url]", SVGSVGElement);
    this.world = one(this.svg, "[data-world]", SVGGElement);
    this.sheet = one(document, "[data-cover]", HTMLElement);
    this.said = one(this.sheet, "[data-look-said]", HTMLElement);
    this.method = one(this.sheet, "[data-look-method]", HTMLSelectElement);
    this.box = el("rect", { class: "looked-box" });
    button.addEventListener("click", () => this.#press(!this.on));
    // capture: while marking, the board does not pan
    this.svg.addEventListener("pointerdown", (event) => this.#begin(event), true);
  }

  get on() {
    return this.button.getAttribute("aria-pressed") === "true";
  }

  /** @param {boolean} on */
  #press(on) {
    this.button.setAttribute("aria-pressed", String(on));
    this.svg.classList.toggle("is-marking", on);
    this.said.textContent = on
      ? "Drag a box across what you looked at."
      : "Dots are what nobody has looked at.";
    if (on) this.svg.scrollIntoView({ block: "center" });
  }

  /** Where on the metal an event happened, mm. @param {PointerEvent} event @returns {Point} */
  #place(event) {
    const turned = this.world.getScreenCTM()?.inverse(),
      { x, y } = new DOMPoint(event.clientX, event.clientY).matrixTransform(turned);
    return [x, -y];
  }

  /** @param {PointerEvent} event */
  #begin(event) {
    if (!this.on || event.button > 0 || !event.isPrimary) return;
    event.stopPropagation();
    event.preventDefault();
    const start = this.#place(event);
    this.#draw(start, start);
    this.world.append(this.box);
    hold(this.svg, event, {
      move: (moving) => this.#draw(start, this.#place(moving)),
      lift: (up) => {
        this.box.remove();
        if (up.type === "pointerup") this.#mark(start, this.#place(up));
      },
    });
  }

  /** @param {Point} from @param {Point} to */
  #draw([u0, v0], [u1, v1]) {
    const values = {
      x: Math.min(u0, u1),
      y: -Math.max(v0, v1),
      width: Math.abs(u1 - u0),
      height: Math.abs(v1 - v0),
    };
    for (const [name, value] of Object.entries(values)) this.box.setAttribute(name, String(value));
  }

  /** @param {Point} from @param {Point} to */
  async #mark(from, to) {
    if (Math.abs(from[0] - to[0]) < LEAST_MM || Math.abs(from[1] - to[1]) < LEAST_MM) {
      this.said.textContent = "That was a tap. Drag a box across the metal.";
      return;
    }
    const asked = { corners: [from, to], method: this.method.value },
      answer = await ask(this.svg.dataset.lookUrl ?? "", asked);
    if (answer.ok) this.#show(answer.data);
    else this.said.textContent = `${answer.data.error.what} ${answer.data.error.mend}`;
  }

  /**
   * What nobody has looked at, and the shares of the layers.
   * @param {{ unknown: string, shares: Record<string, number> }} data
   */
  #show({ unknown, shares }) {
    let dots = this.world.querySelector("[data-unknown]");
    dots ??= this.world.appendChild(
      el("path", { class: "sh-stip", "data-unknown": "", "fill-rule": "evenodd" }),
    );
    dots.setAttribute("d", unknown);
    const percent = (/** @type {number} */ share) => `${Math.round(share * 100)}\u202f%`;
    for (const [name, share] of Object.entries(shares))
      for (const figure of all(this.sheet, `[data-share="${name}"]`, HTMLElement))
        figure.textContent = percent(share);
    one(this.sheet, ".cov-d", SVGElement).setAttribute("width", (shares.whole * 200).toFixed(1));
    const how = this.method.selectedOptions[0].textContent?.trim().toLowerCase();
    this.said.textContent = `Marked as looked at: ${how}. The whole shell stands at ${percent(shares.whole)}.`;
  }
}

for (const button of all(document, "[data-mark]", HTMLElement)) new Looked(button);
