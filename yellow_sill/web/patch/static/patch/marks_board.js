/**
 * Transfer marks: two marks that stay and about where the lost thing is, tapped on the board; the
 * fields are the truth.
 */
import { mount, one, told } from "frame/board/page.js";
import { TAP_PX } from "frame/board/pointer.js";
import { el, lineD, n1, pageData } from "frame/board/svg.js";
import { typedPlace, writtenPlace } from "frame/board/units.js";
import { Viewport } from "frame/board/viewport.js";

/** @typedef {import("frame/board/svg.js").Point} Point */
/**
 * A stored mark: its name, where it is, and the two marks it was taken from.
 * @typedef {{ n: string, at: Point, first: Point, second: Point, chosen: boolean }} Mark
 */

/** The fields of a new one, in order, with what stands beside each on the drawing. */
const FIELDS = { first_at: "1", second_at: "2", near: "?" };

class MarksBoard {
  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    const form = one(document, "[data-marks-form]", HTMLFormElement);
    /** @type {Mark[]} */
    this.marks = pageData("board-data").marks;
    this.fields = new Map(
      Object.keys(FIELDS).map((name) => [name, one(form, `#id_${name}`, HTMLInputElement)]),
    );
    this.viewport = new Viewport(svg, { bounds: told(svg, "bounds"), pad: [14, 20, 14, 110] });
    this.layer = this.viewport.overlay.appendChild(el("g"));
    this.chosen = this.#open() ?? "near";
    for (const [name, field] of this.fields)
      field.addEventListener("focus", () => {
        this.chosen = name;
        this.#draw();
      });
    svg.addEventListener("click", (event) => this.#tap(event));
    form.addEventListener("input", () => this.#draw());
    this.viewport.onChange(() => this.#draw());
  }

  /** The first field that is not filled in. */
  #open() {
    return [...this.fields.keys()].find((name) => !this.fields.get(name)?.value);
  }

  /** @param {string} name @returns {Point | null} */
  #place(name) {
    const typed = typedPlace(this.fields.get(name)?.value ?? "");
    return typed && this.viewport.shell(typed);
  }

  /** @param {MouseEvent} event */
  #tap(event) {
    const field = this.fields.get(this.chosen);
    if (this.viewport.moved > TAP_PX || !field) return;
    field.value = writtenPlace(this.viewport.shell(this.viewport.mm(...this.viewport.at(event))));
    this.chosen = this.#open() ?? this.chosen;
    this.#draw();
  }

  #draw() {
    const px = (/** @type {Point} */ place) => this.viewport.px(...place);
    this.layer.replaceChildren();
    for (const { n, at, first, second, chosen } of this.marks)
      this.layer.append(
        el("path", { class: "dm-l", d: lineD(px(first), px(at), px(second)) }),
        this.#cross(at, n, `tmark${chosen ? " is-chosen" : ""}`),
      );
    const near = this.#place("near");
    for (const [name, words] of Object.entries(FIELDS)) {
      const at = this.#place(name);
      if (!at) continue;
      this.layer.append(this.#cross(at, words, `tmark is-new${name === this.chosen ? " is-chosen" : ""}`));
      if (near && name !== "near")
        this.layer.append(
          el("path", { class: "dm-l", "stroke-dasharray": "4 3", d: lineD(px(at), px(near)) }),
        );
    }
  }

  /** @param {Point} at @param {string} name @param {string} cls */
  #cross(at, name, cls) {
    const [x, y] = this.viewport.px(...at).map(n1);
    return el(
      "g",
      { class: cls },
      el("circle", { cx: x, cy: y, r: 9 }),
      el("path", { d: `M${x - 14} ${y}h28M${x} ${y - 14}v28` }),
      el("text", { class: "cap dl-name", x: x + 14, y: y - 10 }, name),
    );
  }
}

mount("[data-marks-board]", MarksBoard);
