/** A shell with numbered things at their places; a tap says where the thing of the form belongs. */
import { mount, one, told } from "frame/board/page.js";
import { TAP_PX } from "frame/board/pointer.js";
import { el, n1, pageData } from "frame/board/svg.js";
import { layTags } from "frame/board/tags.js";
import { Viewport } from "frame/board/viewport.js";

/** @typedef {import("frame/board/svg.js").Point} Point */

/** The mark of the tapped place is so large, px. */
const MARK = 11;

class PlaceBoard {
  /** @type {Point | null} */
  at = null;

  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    this.viewport = new Viewport(svg, { bounds: told(svg, "bounds") });
    /** @type {import("frame/board/tags.js").Tag[]} */
    this.tags = pageData("tags");
    this.field = one(document, "#id_at", HTMLInputElement);
    const [u, v] = this.field.value.split(" ").map(Number);
    if (this.field.value && Number.isFinite(v)) this.at = [u, v];
    this.layer = this.viewport.overlay.appendChild(el("g"));
    svg.addEventListener("click", (event) => this.#tap(event));
    this.viewport.onChange(() => this.#draw());
    this.#draw();
  }

  /** @param {MouseEvent} event */
  #tap(event) {
    const on = /** @type {Element} */ (event.target);
    if (this.viewport.moved > TAP_PX || on.closest("a")) return;
    this.at = this.viewport.mm(...this.viewport.at(event));
    this.field.value = this.at.map((each) => each.toFixed(1)).join(" ");
    this.field.dispatchEvent(new Event("input", { bubbles: true }));
    one(document, "[data-where]", HTMLElement).textContent = "Marked on the drawing.";
    this.#draw();
  }

  #draw() {
    layTags(this.viewport, this.tags);
    if (!this.at) {
      this.layer.replaceChildren();
      return;
    }
    const [x, y] = this.viewport.px(...this.at).map(n1);
    this.layer.replaceChildren(
      el("circle", { class: "place-at", cx: x, cy: y, r: MARK }),
      el("path", { class: "place-cross", d: `M${x - MARK} ${y}h${2 * MARK}M${x} ${y - MARK}v${2 * MARK}` }),
    );
  }
}

mount("[data-place-board]", PlaceBoard);
