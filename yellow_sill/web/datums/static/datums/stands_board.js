/** Stands on the underside: dragged to where they are; the fields in the sheet are the truth. */
import { target } from "datums/marks.js";
import { taken, way } from "frame/board/keys.js";
import { focusAgain, focusedIn, mount, onChoice, told } from "frame/board/page.js";
import { hold } from "frame/board/pointer.js";
import { el, n1, pageData } from "frame/board/svg.js";
import { typed, written } from "frame/board/units.js";
import { Viewport } from "frame/board/viewport.js";

/** @typedef {import("frame/board/svg.js").Point} Point */
/**
 * A stand as its fields have it: their number, its name, where it is in the shell's axes, mm.
 * @typedef {{ i: number, id: string, at: Point }} Stand
 */
/**
 * @typedef {{ points: { code: string, at: Point }[], stands: { id: string, add?: number, light?: boolean }[] }}
 *   StandsPage
 */

const STANDS = 4;
/** An arrow key moves a stand so far, with shift five times that, mm. */
const KEY_STEP_MM = 10,
  WIDER = 5;
const HALF_PX = 13,
  HIT_PX = 24;

class StandsBoard {
  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    /** @type {StandsPage} */
    this.page = pageData("datum-board");
    this.told = new Map(this.page.stands.map((stand) => [stand.id, stand]));
    this.viewport = new Viewport(svg, { bounds: told(svg, "bounds"), pad: [14, 40, 14, 120] });
    this.layer = this.viewport.overlay.appendChild(el("g"));
    document.getElementById("stands-form")?.addEventListener("input", () => this.#draw());
    this.viewport.onChange(() => this.#draw());
  }

  /** @param {number} i @param {string} name */
  #field(i, name) {
    return /** @type {HTMLInputElement | null} */ (document.getElementById(`id_s-${i}-${name}`));
  }

  /** @returns {Stand[]} */
  #stands() {
    return Array.from({ length: STANDS }, (_, i) => {
      const value = (/** @type {string} */ name) => this.#field(i, name)?.value ?? "";
      return {
        i,
        id: value("id").trim(),
        at: /** @type {Point} */ ([typed(value("x_mm")), typed(value("y_mm"))]),
      };
    }).filter(({ id, at }) => id && at.every(Number.isFinite));
  }

  /**
   * The fields follow the shell, x aft and y right; the drawing may run against it.
   * @param {Stand} stand
   * @param {Point} place on the drawing
   */
  #put(stand, place) {
    this.viewport.shell(place).forEach((mm, i) => {
      const field = this.#field(stand.i, ["x_mm", "y_mm"][i]);
      if (field) field.value = written(Math.round(mm));
    });
    this.#draw();
  }

  #draw() {
    const focused = focusedIn(this.layer, "handle");
    this.layer.replaceChildren(
      ...this.page.points.flatMap(({ code, at }) => {
        const [x, y] = this.viewport.px(...at);
        return [target(x, y, 6, true), el("text", { class: "numb", x: n1(x + 11), y: n1(y - 8) }, code)];
      }),
      ...this.#stands().map((stand) => this.#stand(stand)),
    );
    focusAgain(this.layer, "handle", focused);
  }

  /** @param {Stand} stand */
  #stand(stand) {
    const place = this.viewport.shell(stand.at),
      [x, y] = this.viewport.px(...place),
      { add = 0, light = false } = this.told.get(stand.id) ?? {},
      outside = place[1] > 0 ? -20 : 31; // its words stand outside the row of stands
    const packer = add ? `${add > 0 ? "+" : "−"}${Math.abs(add)} mm` : light ? "light" : "";
    const g = el(
      "g",
      {
        class: `stand${light ? " is-light" : ""}`,
        "data-handle": stand.id,
        tabindex: "0",
        role: "button",
        "aria-label": `Stand ${stand.id} at ${stand.at.map(written).join(", ")}. Arrow keys move it.`,
      },
      el("circle", { class: "hit", cx: n1(x), cy: n1(y), r: HIT_PX }),
      el("rect", { class: add ? "pk" : "sq", x: n1(x - HALF_PX), y: n1(y - HALF_PX), width: 26, height: 26 }),
      el("path", {
        class: "sqx",
        d: `M${n1(x - HALF_PX)} ${n1(y - HALF_PX)}l26 26M${n1(x + HALF_PX)} ${n1(y - HALF_PX)}l-26 26`,
      }),
      el(
        "text",
        { class: "cap dl-name", x: n1(x), y: n1(y + outside), "text-anchor": "middle" },
        packer ? `${stand.id}  ${packer}` : stand.id,
      ),
    );
    g.addEventListener("pointerdown", (event) => {
      taken(event);
      hold(this.viewport.svg, event, {
        move: (moving) => this.#put(stand, this.viewport.mm(...this.viewport.at(moving))),
      });
    });
    g.addEventListener("keydown", (event) => {
      const by = way(event),
        step = KEY_STEP_MM * (event.shiftKey ? WIDER : 1);
      if (!by) return;
      taken(event);
      this.#put(stand, [place[0] + by[0] * step, place[1] + by[1] * step]);
    });
    return g;
  }
}

mount("[data-stands-board]", StandsBoard);
onChoice();
