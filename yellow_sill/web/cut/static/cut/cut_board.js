/** The cut line: corners to drag, the core's outline and remarks drawn as they change. */
import { layerNames } from "cut/layer_names.js";
import { lineSizes, lineTags } from "cut/line_marks.js";
import { Nuggets } from "cut/nuggets.js";
import { SetOut } from "cut/set_out.js";
import { ask, errorBox, lastOnly } from "frame/ask.js";
import { CornersField } from "frame/board/corners_field.js";
import { Corners } from "frame/board/handles.js";
import { undoKeys } from "frame/board/keys.js";
import { rounded } from "frame/board/outline.js";
import { field, made, mount, one, onPress, saying, told } from "frame/board/page.js";
import { along } from "frame/board/pen.js";
import { remarkMark } from "frame/board/remarks.js";
import { boundsOf, el, lineD, pageData, widened } from "frame/board/svg.js";
import { area, figure } from "frame/board/units.js";
import { Viewport } from "frame/board/viewport.js";

/** @typedef {import("frame/board/svg.js").Point} Point */
/**
 * @typedef {{ outline: Point[], remarks: import("frame/board/remarks.js").Remark[], set_out: Point[] }} Line
 */
/**
 * @typedef {Line & { corners: Point[], proposed: Point[], panel: Point[], lines: Point[][], check: string, ends:
 *   string[],
 *   layers: { name: string, outline: Point[] }[], tags: import("frame/board/tags.js").Tag[],
 *   nuggets: import("cut/nuggets.js").Nugget[] }} CutPage
 */

const same = (/** @type {Point[]} */ a, /** @type {Point[]} */ b) => JSON.stringify(a) === JSON.stringify(b);

class CutBoard {
  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    this.form = one(document, "[data-cut-form]", HTMLFormElement);
    /** @type {CutPage} */
    this.page = pageData("board-data");
    /** @type {Line} */
    this.line = this.page;
    this.errors = one(this.form, "[data-errors]", HTMLElement);
    this.stored = this.page.corners.map(rounded);
    this.proposed = this.page.proposed.map(rounded);
    this.viewport = new Viewport(svg, {
      bounds: widened(told(svg, "bounds"), 0.32, 40),
      pad: [8, 8, 8, 70],
    });
    this.text = new CornersField(field(this.form, "corners"), this.viewport);
    this.layer = this.viewport.overlay.appendChild(el("g"));
    this.setOut = new SetOut(this.form, this.page.panel, this.page.ends, () => this.#draw());
    this.nuggets = new Nuggets(this.viewport, this.page.nuggets, this.errors);
    this.editor = new Corners(this.viewport, this.stored, {
      mayAdd: false,
      rings: () => [this.page.panel],
      lines: () => this.page.lines,
      changed: () => this.#changed(),
    });
    this.check = lastOnly(async (/** @type {() => boolean} */ current) => {
      const answer = await ask(this.page.check, { corners: this.editor.corners });
      if (!current()) return;
      this.errors.replaceChildren();
      if (answer.ok) this.#say(answer.data);
      else this.errors.append(errorBox(answer.data.error));
    }, 60);
    this.#listen();
    this.viewport.onChange(() => this.#draw());
    const refused = this.text.corners.map(rounded);
    if (refused.length > 2 && !same(refused, this.stored)) this.#take(refused, false);
  }

  #listen() {
    undoKeys(this.editor);
    onPress("[data-undo]", () => this.editor.undo());
    onPress("[data-redo]", () => this.editor.redo());
    onPress("[data-reset]", () => {
      this.editor.set(this.proposed);
      this.#changed();
    });
    this.text.onTyped(() => this.text.corners.length > 2 && this.#take(this.text.corners, true));
    addEventListener("beforeunload", (event) => {
      if (!same(this.editor.corners, this.stored) && !this.form.dataset.sent) event.preventDefault();
    });
    this.form.addEventListener("submit", () => (this.form.dataset.sent = "yes"));
  }

  /** Corners as typed; what was typed stays as it is. @param {Point[]} corners @param {boolean} remember */
  #take(corners, remember) {
    const keep = this.text.input.value;
    this.editor.set(corners, remember);
    this.#changed();
    this.text.input.value = keep;
  }

  #changed() {
    const { corners } = this.editor,
      moved = !same(corners, this.stored);
    this.text.corners = corners;
    one(this.form, "[data-keep]", HTMLElement).hidden = !moved;
    one(this.form, "[data-go]", HTMLElement).hidden = moved;
    one(this.form, "[data-reset]", HTMLElement).hidden = same(corners, this.proposed);
    this.nuggets.stale(moved);
    this.check();
  }

  /**
   * What the core says of the line.
   * @param {Line & { met: string[], weld_length_mm: number, area_mm2: number }} told
   */
  #say(told) {
    this.line = told;
    const put = saying(this.form);
    const [u0, v0, u1, v1] = boundsOf(told.outline);
    put("size", `${figure(u1 - u0)}×${figure(v1 - v0)}`);
    put("weld", figure(told.weld_length_mm));
    put("area", area(told.area_mm2));
    one(this.form, "[data-met]", HTMLElement).replaceChildren(
      ...told.met.map((textContent) => made("li", { textContent })),
    );
    const all = told.remarks.map(({ what, mend }) =>
      made("li", {}, made("b", { textContent: what }), ` ${mend}`),
    );
    const none = () => made("li", { className: "ok" }, "All rust lies inside, with its margin.");
    one(this.form, "[data-remarks]", HTMLElement).replaceChildren(...(all.length ? all : [none()]));
    this.#draw();
  }

  #draw() {
    const { viewport, line, page } = this,
      px = line.outline.map((corner) => viewport.px(...corner));
    this.layer.replaceChildren(
      along(px, true, { width: 8, seed: 11, wobble: 0.7 }),
      el("path", { class: "cutl", d: `${lineD(...px)}Z` }),
      ...(this.setOut.from
        ? this.setOut.draw(viewport, line.set_out)
        : lineSizes(viewport, line.outline, this.editor.corners)),
      ...line.remarks.flatMap((remark) => remarkMark(viewport, remark)),
      el(
        "g",
        { "aria-hidden": "true" },
        ...layerNames(viewport, page.layers),
        ...lineTags(viewport, page.tags),
      ),
    );
  }
}

mount("[data-cut-board]", CutBoard);
