/** Drawing a finding: the board, the typed corners and the core's answer kept in step. */
import { ask, errorBox, lastOnly } from "frame/ask.js";
import { CornersField } from "frame/board/corners_field.js";
import { Corners } from "frame/board/handles.js";
import { field, mount, one, onPress, told } from "frame/board/page.js";
import { boundsOf, el, n1, pageData, pathD, widened } from "frame/board/svg.js";
import { Viewport } from "frame/board/viewport.js";
import { Draft } from "survey/draft.js";
import { FirstPanel } from "survey/first_panel.js";
import { evidenceOf, sayJudged } from "survey/judged.js";

/** @typedef {import("frame/board/svg.js").Point} Point */
/** @typedef {{ outline: Point[], holes: Point[][] }} PanelRings */
/** Round a finding that is shown, and round a panel: a share of the longer side. */
const ROUND_FINDING = 0.7,
  ROUND_PANEL = 0.06;

/** Where the core found a fault. @param {Point} at px */
function faultMark(at) {
  const [x, y] = at.map(n1);
  return [
    el("circle", { cx: x, cy: y, r: 13 }),
    el("path", { d: `M${n1(x - 5)} ${n1(y - 5)}l10 10M${n1(x + 5)} ${n1(y - 5)}l-10 10` }),
  ];
}

/** The panel codes under a place of the screen, the uppermost first. @param {MouseEvent} event */
const panelsUnder = (event) =>
  document
    .elementsFromPoint(event.clientX, event.clientY)
    .map((each) => /** @type {SVGElement | null} */ (each.closest("[data-panel]"))?.dataset.panel);

/**
 * Where the page begins: at the finding, or the panel that was asked for.
 * @param {SVGSVGElement} svg
 * @param {PanelRings | undefined} panel
 */
function firstShown(svg, panel) {
  const focus = told(svg, "focus");
  if (focus) return widened(focus, ROUND_FINDING);
  const asked = new URLSearchParams(location.search).has("panel");
  return asked && panel ? widened(boundsOf(panel.outline), ROUND_PANEL) : null;
}

class FindingBoard {
  /** @type {Point | null} */
  #faultAt = null;

  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    this.svg = svg;
    this.form = one(document, "[data-finding-form]", HTMLFormElement);
    /** @type {Record<string, PanelRings>} */
    this.rings = pageData("panel-rings");
    this.panel = one(this.form, "[name=panel]", HTMLSelectElement);
    this.errors = one(this.form, "[data-errors]", HTMLElement);
    this.viewport = new Viewport(svg, { bounds: told(svg, "bounds") });
    this.text = new CornersField(field(this.form, "corners"), this.viewport);
    this.panelLine = this.viewport.world.appendChild(el("path", { class: "panel-chosen" }));
    this.fault = this.viewport.overlay.appendChild(el("g", { class: "fault-mark" }));
    this.judge = lastOnly((/** @type {() => boolean} */ current) => this.#ask(current));
    this.editor = new Corners(this.viewport, this.text.corners, {
      rings: () => this.#panelRings(),
      changed: (corners) => {
        this.text.corners = corners;
        this.#changed();
      },
    });
    this.draft = new Draft(this.form, svg.dataset.draft ?? "", () => {
      this.editor.set(this.text.corners, false);
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
    const first = firstShown(svg, this.rings[this.panel.value]);
    if (first) this.viewport.show(first);
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
    this.text.onTyped(() => {
      this.editor.set(this.text.corners);
      this.#changed();
    });
    this.form.addEventListener("input", (event) => {
      this.draft.keep();
      if (event.target instanceof Element && event.target.closest(".evrow, .signs")) this.judge();
    });
    onPress("[data-undo]", () => this.editor.undo());
    onPress("[data-remove]", () => this.editor.remove());
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

  /** @param {MouseEvent} event */
  #firstCorner(event) {
    const on = /** @type {Element} */ (event.target);
    if (this.editor.corners.length !== 1 || on.closest("[data-handle]")) return;
    const known = panelsUnder(event).filter((code) => code !== undefined && code in this.rings);
    this.first.tapped(/** @type {string[]} */ ([...new Set(known)]));
  }

  /** @param {() => boolean} current */
  async #ask(current) {
    if (!this.panel.value) return;
    const { check = "", view } = this.svg.dataset,
      asked = { view, panel: this.panel.value, corners: this.text.corners, evidence: evidenceOf(this.form) },
      answer = await ask(check, asked);
    if (!current()) return;
    this.errors.replaceChildren();
    this.#faultAt = answer.ok ? null : (answer.data.error.at ?? null);
    if (answer.ok) this.#say(answer.data);
    else this.errors.append(errorBox(answer.data.error));
    this.#showFault();
  }

  /** @param {import("survey/judged.js").Judged} judged */
  #say(judged) {
    sayJudged(this.form, judged, this.text.corners.length);
    this.editor.shape.setAttribute("class", `draft fd fd-${judged.grade || "X"} is-sel`);
  }

  #showFault() {
    this.fault.replaceChildren(...(this.#faultAt ? faultMark(this.viewport.px(...this.#faultAt)) : []));
  }
}

mount("[data-finding-board]", FindingBoard);
