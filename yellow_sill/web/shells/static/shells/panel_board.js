/**
 * Correcting a panel: its corners on the board and in the sheet kept in step; a tap on another panel
 * opens that one.
 */
import { Corners } from "frame/board/handles.js";
import { field, mount, one, onPress, told } from "frame/board/page.js";
import { TAP_PX } from "frame/board/pointer.js";
import { pageData, widened } from "frame/board/svg.js";
import { typedCorners, writtenCorners } from "frame/board/units.js";
import { Viewport } from "frame/board/viewport.js";

const EDGE_SHARE = 0.12;

class PanelBoard {
  #drawing = false;

  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    this.svg = svg;
    this.text = field(one(document, "[data-panel-form]", HTMLFormElement), "corners");
    this.viewport = new Viewport(svg, { bounds: told(svg, "bounds") });
    /** @type {import("frame/board/svg.js").Point[][]} */
    const rings = pageData("panel-rings");
    this.editor = new Corners(this.viewport, this.#typed(), {
      rings: () => rings,
      changed: (corners) => {
        this.text.value = writtenCorners(corners.map((corner) => this.viewport.shell(corner)));
      },
    });
    this.text.addEventListener("input", () => this.editor.set(this.#typed()));
    onPress("[data-undo]", () => this.editor.undo());
    onPress("[data-remove]", () => this.editor.remove());
    onPress("[data-clear]", () => {
      this.#drawing = true;
      this.editor.clear();
    });
    svg.addEventListener("click", (event) => this.#open(event), true);
    const focus = told(svg, "focus");
    if (focus) this.viewport.show(widened(focus, EDGE_SHARE));
  }

  #typed() {
    return typedCorners(this.text.value).map((corner) => this.viewport.shell(corner));
  }

  /** Before anything is drawn, a tap opens the panel under it. @param {MouseEvent} event */
  #open(event) {
    const panel = /** @type {Element} */ (event.target).closest("[data-panel]"),
      code = panel instanceof SVGElement ? panel.dataset.panel : undefined;
    if (!code || this.viewport.moved > TAP_PX || this.editor.corners.length > 1 || this.#drawing) return;
    location.assign(`${this.svg.dataset.here}&panel=${encodeURIComponent(code)}`);
  }
}

mount("[data-panel-board]", PanelBoard);
