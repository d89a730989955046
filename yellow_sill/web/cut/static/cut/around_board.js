/** Something that cuts meet: its places tapped in order; the field of places is the truth. */
import { Corners } from "frame/board/handles.js";
import { field, mount, one, onPress, told } from "frame/board/page.js";
import { n1, pageData } from "frame/board/svg.js";
import { typedCorners, writtenCorners } from "frame/board/units.js";
import { Viewport } from "frame/board/viewport.js";

/** @typedef {import("frame/board/svg.js").Point} Point */

class AroundBoard {
  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    const form = one(document, "[data-around-form]", HTMLFormElement);
    /** @type {{ panel: Point[], lines: Point[][], outlines: string[] }} */
    const page = pageData("board-data");
    this.text = field(form, "points");
    this.kind = field(form, "kind");
    this.rows = one(form, "[data-row-fields]", HTMLElement);
    this.viewport = new Viewport(svg, { bounds: told(svg, "bounds"), pad: [14, 20, 14, 110] });
    this.editor = new Corners(this.viewport, this.#typed(), {
      closed: () => page.outlines.includes(this.kind.value),
      rings: () => [page.panel],
      lines: () => (this.kind.value === "row" ? [] : page.lines),
      changed: (corners) => {
        this.text.value = writtenCorners(corners.map((corner) => this.viewport.shell(corner)));
      },
    });
    this.text.addEventListener("input", () =>
      this.editor.set(this.#typed().map(([u, v]) => /** @type {Point} */ ([n1(u), n1(v)]))),
    );
    this.kind.addEventListener("change", () => this.#show());
    onPress("[data-undo]", () => this.editor.undo());
    onPress("[data-clear]", () => this.editor.clear());
    this.#show();
  }

  #typed() {
    return typedCorners(this.text.value).map((corner) => this.viewport.shell(corner));
  }

  #show() {
    this.rows.hidden = this.kind.value !== "row";
    this.editor.draw();
  }
}

mount("[data-around-board]", AroundBoard);
