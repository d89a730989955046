/** A welded sheet: pinholes and gauge readings where they were tapped; a tap adds one, as the sheet says which. */
import { all, mount, one, told } from "frame/board/page.js";
import { TAP_PX } from "frame/board/pointer.js";
import { el, n1, pageData } from "frame/board/svg.js";
import { Viewport } from "frame/board/viewport.js";

/** @typedef {import("frame/board/svg.js").Point} Point */
/** @typedef {{ at: Point, thickness_mm: number, thin: boolean }} Reading */
/** @typedef {{ pinholes: { at: Point, again: boolean }[], readings: Reading[] }} ChecksPage */

/** Marks are so large, px. */
const PIN = 9,
  GAUGE = 10;

class ChecksBoard {
  what = "pinhole";

  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    /** @type {ChecksPage} */
    this.page = pageData("board-data");
    this.viewport = new Viewport(svg, { bounds: told(svg, "bounds"), pad: [60, 60, 190, 100] });
    this.layer = this.viewport.overlay.appendChild(el("g"));
    svg.addEventListener("click", (event) => this.#tap(event));
    for (const button of all(document, "[data-tap]", HTMLButtonElement))
      button.addEventListener("click", () => this.#choose(button));
    this.viewport.onChange(() => this.#draw());
    this.#draw();
  }

  /** @param {HTMLButtonElement} button */
  #choose(button) {
    this.what = button.dataset.tap ?? "pinhole";
    for (const each of all(document, "[data-tap]", HTMLButtonElement))
      each.setAttribute("aria-pressed", String(each === button));
  }

  /** @param {MouseEvent} event */
  #tap(event) {
    if (this.viewport.moved > TAP_PX) return;
    const [x, y] = this.viewport.at(event),
      [u, v] = this.viewport.mm(x, y),
      form = one(document, `#${this.what}`, HTMLFormElement),
      field = /** @type {HTMLInputElement} */ (form.elements.namedItem("at"));
    field.value = `${u.toFixed(1)} ${v.toFixed(1)}`;
    if (this.what === "pinhole") {
      form.submit();
      return;
    }
    form.hidden = false;
    one(form, "[name=thickness_mm]", HTMLInputElement).focus();
  }

  #draw() {
    const { pinholes, readings } = this.page;
    this.layer.replaceChildren(
      ...pinholes.map(({ at, again }) => {
        const [x, y] = this.viewport.px(...at).map(n1);
        return el("circle", { class: `pin${again ? " again" : ""}`, cx: x, cy: y, r: PIN });
      }),
      ...readings.flatMap(({ at, thickness_mm: t, thin }) => {
        const [x, y] = this.viewport.px(...at).map(n1);
        return [
          el("path", {
            class: `gauge${thin ? " thin" : ""}`,
            d: `M${x} ${y - GAUGE}l${GAUGE} ${GAUGE}-${GAUGE} ${GAUGE}-${GAUGE}-${GAUGE}z`,
          }),
          el("text", { x: x + GAUGE + 4, y: y + 5, class: "num" }, t.toFixed(2)),
        ];
      }),
    );
  }
}

mount("[data-checks-board]", ChecksBoard);
