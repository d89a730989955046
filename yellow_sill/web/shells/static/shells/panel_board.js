/**
 * Correcting a panel: its corners on the board and in the sheet kept in step; a tap on another panel
 * opens that one.
 */
import { CornersField } from "frame/board/corners_field.js";
import { Corners } from "frame/board/handles.js";
import { field, mount, one, onPress, told } from "frame/board/page.js";
import { TAP_PX } from "frame/board/pointer.js";
import { pageData, widened } from "frame/board/svg.js";
import { Viewport } from "frame/board/viewport.js";

const EDGE_SHARE = 0.12;

class PanelBoard {
  #drawing = false;

  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    this.svg = svg;
    this.viewport = new Viewport(svg, { bounds: told(svg, "bounds") });
    const form = one(document, "[data-panel-form]", HTMLFormElement);
    this.text = new CornersField(field(form, "corners"), this.viewport);
    /** @type {import("frame/board/svg.js").Point[][]} */
    const rings = pageData("panel-rings");
    this.editor = new Corners(this.viewport, this.text.corners, {
      rings: () => rings,
      changed: (corners) => {
        this.text.corners = corners;
      },
    });
    this.text.onTyped(() => this.editor.set(this.text.corners));
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

  /** Before anything is drawn, a tap opens the panel under it. @param {MouseEvent} event */
  #open(event) {
    const panel = /** @type {Element} */ (event.target).closest("[data-panel]"),
      code = panel instanceof SVGElement ? panel.dataset.panel : undefined;
    if (!code || this.viewport.moved > TAP_PX || this.editor.corners.length > 1 || this.#drawing) return;
    location.assign(`${this.svg.dataset.here}&panel=${encodeURIComponent(code)}`);
  }
}

mount("[data-panel-board]", PanelBoard);
