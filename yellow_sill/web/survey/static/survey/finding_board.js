/** Drawing a finding: the board, the typed corners and the core's answer kept in step. */
import { ask, errorBox, lastOnly } from "frame/ask.js";
import { Corners } from "frame/board/handles.js";
import { all, field, mount, one, onPress, told } from "frame/board/page.js";
import { boundsOf, el, n1, pageData, pathD, widened } from "frame/board/svg.js";
import { area, areaUnit, figure, typedCorners, unit, writtenCorners } from "frame/board/units.js";
import { Viewport } from "frame/board/viewport.js";
import { Draft } from "survey/draft.js";
import { FirstPanel } from "survey/first_panel.js";

/** @typedef {import("frame/board/svg.js").Point} Point */
/**
 * What the core says of a finding that is drawn.
 * @typedef {{ size_mm: Point | null, area_mm2: number, grade: string, word: string, why: string }} Judged
 */

/** Round a finding that is shown, and round a panel: a share of the longer side. */
const ROUND_FINDING = 0.7,
  ROUND_PANEL = 0.06;

class FindingBoard {
  /** @type {Point | null} */
  #faultAt = null;

  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    this.svg = svg;
    this.form = one(document, "[data-finding-form]", HTMLFormElement);
    /** @type {Record<string, { outline: Point[], holes: Point[][] }>} */
    this.rings = pageData("panel-rings");
    this.text = field(this.form, "corners");
    this.panel = one(this.form, "[name=panel]", HTMLSelectElement);
    this.errors = one(this.form, "[data-errors]", HTMLElement);
    this.viewport = new Viewport(svg, { bounds: told(svg, "bounds") });
    this.panelLine = this.viewport.world.appendChild(el("path", { class: "panel-chosen" }));
    this.fault = this.viewport.overlay.appendChild(el("g", { class: "fault-mark" }));
    this.judge = lastOnly((/** @type {() => boolean} */ current) => this.#ask(current));
    this.editor = new Corners(this.viewport, this.#typed(), {
      rings: () => this.#panelRings(),
      changed: (corners) => {
        this.text.value = writtenCorners(corners.map((corner) => this.viewport.shell(corner)));
        this.#changed();
      },
    });
    this.draft = new Draft(this.form, svg.dataset.draft ?? "", () => {
      this.editor.set(this.#typed(), false);
      this.#showPanel();
      this.judge();
    });
    this.first = new FirstPanel(this.form, this.panel, (code) => {
      this.panel.value = code;
      this.#showPanel();
      this.#changed();
    });
    this.#listen();
    this.viewport.onChange(() => this.#showFault());
    this.draft.begin();
    this.#showPanel();
    this.#showFirst();
    this.judge();
  }

  #listen() {
    this.svg.addEventListener("click", (event) => this.#firstCorner(event));
    this.panel.addEventListener("change", () => {
      this.first.say("");
      this.#showPanel();
      const panel = this.rings[this.panel.value];
      if (panel && !this.editor.corners.length)
        this.viewport.show(widened(boundsOf(panel.outline), ROUND_PANEL));
      this.judge();
    });
    this.text.addEventListener("input", () => {
      this.editor.set(this.#typed());
      this.#changed();
    });
    this.form.addEventListener("input", (event) => {
      this.draft.keep();
      if (event.target instanceof Element && event.target.closest(".evrow")) this.judge();
    });
    onPress("[data-undo]", () => this.editor.undo());
    onPress("[data-remove]", () => this.editor.remove());
  }

  #typed() {
    return typedCorners(this.text.value).map((corner) => this.viewport.shell(corner));
  }

  #changed() {
    this.draft.keep();
    this.judge();
  }

  #panelRings() {
    const panel = this.rings[this.panel.value];
    return panel ? [panel.outline, ...panel.holes] : [];
  }

  #showPanel() {
    this.panelLine.setAttribute(
      "d",
      this.#panelRings()
        .map((ring) => pathD(ring))
        .join(""),
    );
  }

  /** Where the page begins: the finding, or the panel that was asked for. */
  #showFirst() {
    const focus = told(this.svg, "focus"),
      panel = this.rings[this.panel.value];
    if (focus) this.viewport.show(widened(focus, ROUND_FINDING));
    else if (panel && new URLSearchParams(location.search).has("panel"))
      this.viewport.show(widened(boundsOf(panel.outline), ROUND_PANEL));
  }

  /** @param {MouseEvent} event */
  #firstCorner(event) {
    const on = /** @type {Element} */ (event.target);
    if (this.editor.corners.length !== 1 || on.closest("[data-handle]")) return;
    const codes = document
      .elementsFromPoint(event.clientX, event.clientY)
      .map((each) => /** @type {SVGElement | null} */ (each.closest("[data-panel]"))?.dataset.panel);
    this.first.tapped(codes.find((code) => code && this.rings[code]));
  }

  /** What was looked at, row by row, as the core takes it. */
  #evidence() {
    const number = (/** @type {string} */ name) => {
      const value = field(this.form, name)?.value.replace(",", ".");
      return value ? Number(value) : null;
    };
    return all(this.form, ".evrow select", HTMLSelectElement)
      .filter((select) => select.value)
      .map((select) => {
        const row = select.name.replace("_result", ""),
          method = row.replace("_also", "");
        return {
          method,
          result: select.value,
          hits: number(`${row}_hits`),
          tries: number(`${method}_tries`),
          thickness_mm: row === "gauge" ? number("gauge_mm") : null,
        };
      });
  }

  /** @param {() => boolean} current */
  async #ask(current) {
    if (!this.panel.value) return;
    const { check = "", view } = this.svg.dataset,
      asked = { view, panel: this.panel.value, corners: this.#typed(), evidence: this.#evidence() },
      answer = await ask(check, asked);
    if (!current()) return;
    this.errors.replaceChildren();
    this.#faultAt = answer.ok ? null : (answer.data.error.at ?? null);
    if (answer.ok) this.#say(answer.data);
    else this.errors.append(errorBox(answer.data.error));
    this.#showFault();
  }

  /** @param {Judged} judged */
  #say({ size_mm: size, area_mm2: spread, grade, word, why }) {
    const put = (/** @type {string} */ name, /** @type {string} */ words) =>
      (one(this.form, `[data-${name}]`, HTMLElement).textContent = words);
    put(
      "size",
      size
        ? `${figure(size[0])} × ${figure(size[1])} ${unit}, ${area(spread)} ${areaUnit}`
        : `${typedCorners(this.text.value).length} of at least 3 corners`,
    );
    put("grade-letter", grade || "?");
    put("grade-word", word);
    put("why", why.replace(`${word}: `, ""));
    this.editor.shape.setAttribute("class", `draft fd fd-${grade || "X"} is-sel`);
  }

  #showFault() {
    this.fault.replaceChildren();
    if (!this.#faultAt) return;
    const [x, y] = this.viewport.px(...this.#faultAt).map(n1);
    this.fault.append(
      el("circle", { cx: x, cy: y, r: 13 }),
      el("path", { d: `M${n1(x - 5)} ${n1(y - 5)}l10 10M${n1(x + 5)} ${n1(y - 5)}l-10 10` }),
    );
  }
}

mount("[data-finding-board]", FindingBoard);
