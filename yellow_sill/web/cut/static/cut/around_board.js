/** Something that cuts meet: its places tapped in order; the field of places is the truth. */
import { CornersField } from "frame/board/corners_field.js";
import { Corners } from "frame/board/handles.js";
import { rounded } from "frame/board/outline.js";
import { field, mount, one, onPress, told } from "frame/board/page.js";
import { pageData } from "frame/board/svg.js";
import { Viewport } from "frame/board/viewport.js";

/** @typedef {import("frame/board/svg.js").Point} Point */

class AroundBoard {
  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    const form = one(document, "[data-around-form]", HTMLFormElement);
    /** @type {{ panel: Point[], lines: Point[][], outlines: string[] }} */
    const page = pageData("board-data");
    this.kind = field(form, "kind");
    this.rows = one(form, "[data-row-fields]", HTMLElement);
    this.viewport = new Viewport(svg, { bounds: told(svg, "bounds"), pad: [14, 20, 14, 110] });
    this.text = new CornersField(field(form, "points"), this.viewport);
    this.editor = new Corners(this.viewport, this.text.corners, {
      closed: () => page.outlines.includes(this.kind.value),
      rings: () => [page.panel],
      lines: () => (this.kind.value === "row" ? [] : page.lines),
      changed: (corners) => {
        this.text.corners = corners;
      },
    });
    this.text.onTyped(() => this.editor.set(this.text.corners.map(rounded)));
    this.kind.addEventListener("change", () => this.#show());
    onPress("[data-undo]", () => this.editor.undo());
    onPress("[data-clear]", () => this.editor.clear());
    this.#show();
  }

  #show() {
    this.rows.hidden = this.kind.value !== "row";
    this.editor.draw();
  }
}

mount("[data-around-board]", AroundBoard);
