/**
 * A photo as a board: the card's corners, the hole, two points of the metal. One unit of the world is one pixel.
 */
import { ask, errorBox, lastOnly } from "frame/ask.js";
import { Corners } from "frame/board/handles.js";
import { all, field, made, mount, one, onPress, told } from "frame/board/page.js";
import { el, n1, pageData } from "frame/board/svg.js";
import { Viewport } from "frame/board/viewport.js";

/** @typedef {import("frame/board/svg.js").Point} Point */
/** What is marked on a photo. @typedef {"reference" | "trace" | "marks"} Kind */

/** Most points of each. @type {Record<Kind, number>} */
const MOST = { reference: 4, trace: 2000, marks: 2 };
const KINDS = /** @type {Kind[]} */ (Object.keys(MOST));

const NO_PLACE = {
  what: "It is not known yet where the hole lies on the panel.",
  mend: "Click two points of the metal, type where they are, and say which side the photo shows.",
  where: "on_panel",
};

/**
 * @param {HTMLFormElement} form
 * @param {{ size: string, area: string, error_pct: string, remarks: string[] }} told
 */
function sayMeasured(form, { size, area, error_pct: error, remarks }) {
  for (const [name, words] of Object.entries({ size, area, "error-pct": error }))
    one(form, `[data-${name}]`, HTMLElement).textContent = words;
  const items = remarks.map((textContent) => made("li", { textContent }));
  one(form, "[data-remarks]", HTMLElement).replaceChildren(...items);
}

const byDistances = (/** @type {HTMLFormElement} */ form) => field(form, "by").checked;

/** What the card is known by. @param {HTMLFormElement} form */
function showFields(form) {
  const wanted = byDistances(form) ? "distances" : "size";
  for (const part of all(form, "[data-for]", HTMLElement)) part.hidden = part.dataset.for !== wanted;
}

/** What was typed beside the photo. @param {HTMLFormElement} form */
function typedOn(form) {
  const typed = (/** @type {string} */ name) =>
    all(form, `[name="${name}"]`, HTMLInputElement).map((input) => input.value);
  return {
    by: byDistances(form) ? "distances" : "size",
    size: typed("size"),
    distances: typed("distances"),
    on_panel: typed("on_panel"),
    seen_from: field(form, "seen_from").value,
  };
}

/** Points with their numbers. @param {Point[]} points px @param {string} [word] before each number */
const numbered = (points, word = "") =>
  points.flatMap((point, i) => {
    const [x, y] = point.map(n1);
    return [el("circle", { cx: x, cy: y, r: 3 }), el("text", { x: x + 9, y: y - 9 }, `${word}${i + 1}`)];
  });

class PhotoBoard {
  /** @type {Kind} */
  mode = "reference";

  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    this.svg = svg;
    this.form = one(document, "[data-photo-form]", HTMLFormElement);
    this.errors = one(this.form, "[data-errors]", HTMLElement);
    this.use = one(this.form, "[data-use]", HTMLAnchorElement);
    this.viewport = new Viewport(svg, { bounds: told(svg, "bounds"), rulers: false, mostZoom: 12 });
    this.labels = this.viewport.overlay.appendChild(
      el("g", { class: "photo-labels", "aria-hidden": "true" }),
    );
    this.work = lastOnly((/** @type {() => boolean} */ current) => this.#work(current), 250);
    /** @type {Record<Kind, Point[]>} */
    const page = pageData("photo-data");
    this.editors = /** @type {Record<Kind, Corners>} */ (
      Object.fromEntries(KINDS.map((kind) => [kind, this.#editor(kind, page[kind])]))
    );
    this.viewport.onChange(() => this.#label());
    this.#listen();
    showFields(this.form);
    const { reference, trace } = this.editors;
    this.#switch(
      reference.corners.length < MOST.reference ? "reference" : trace.corners.length < 3 ? "trace" : "marks",
    );
    if (trace.corners.length >= 3) this.work();
  }

  #listen() {
    this.form.addEventListener("input", () => {
      showFields(this.form);
      this.work();
    });
    this.form.addEventListener("submit", (event) => event.preventDefault());
    this.use.addEventListener("click", (event) => this.#refuse(event));
    for (const button of all(document, "[data-mode]", HTMLElement))
      button.addEventListener("click", () => this.#switch(/** @type {Kind} */ (button.dataset.mode)));
    onPress("[data-undo]", () => this.editors[this.mode].undo());
    onPress("[data-remove]", () => this.editors[this.mode].remove());
  }

  /** @param {Kind} kind @param {Point[]} corners */
  #editor(kind, corners) {
    const shown = corners.map((corner) => this.viewport.shell(corner));
    const editor = new Corners(this.viewport, shown, {
      mayAdd: false,
      changed: (now) => {
        if (now.length > MOST[kind]) {
          editor.outline.corners = now.slice(-MOST[kind]);
          editor.draw();
        }
        this.#label();
        this.work();
      },
    });
    editor.shape.classList.add(`photo-${kind}`);
    return editor;
  }

  /** @param {Kind} kind */
  #switch(kind) {
    this.mode = kind;
    for (const each of KINDS) {
      this.editors[each].mayAdd = each === kind;
      this.editors[each].handles.style.display = each === kind ? "" : "none";
    }
    for (const button of all(document, "[data-mode]", HTMLElement))
      button.setAttribute("aria-pressed", String(button.dataset.mode === kind));
  }

  /** All that is marked and typed, as the server takes it. */
  #values() {
    const points = (/** @type {Kind} */ kind) =>
      this.editors[kind].corners.map((corner) => this.viewport.shell(corner).map(n1));
    return {
      reference: points("reference"),
      trace: points("trace"),
      marks: points("marks"),
      ...typedOn(this.form),
    };
  }

  /** Keep what is marked; once there is enough, ask what it measures. @param {() => boolean} current */
  async #work(current) {
    const sent = this.#values(),
      kept = await ask(this.svg.dataset.keep ?? "", sent);
    if (!current()) return;
    this.errors.replaceChildren();
    if (!kept.ok) {
      this.errors.append(errorBox(kept.data.error));
      return;
    }
    const { reference, trace } = this.editors,
      whole = reference.corners.length === MOST.reference;
    if (this.mode === "reference" && !whole) return;
    if (this.mode === "reference" && !trace.corners.length) this.#switch("trace");
    if (trace.corners.length < 3) return;
    const answer = await ask(this.svg.dataset.check ?? "", sent);
    if (!current()) return;
    this.use.setAttribute("aria-disabled", String(!answer.ok || !answer.data.placed));
    if (answer.ok) sayMeasured(this.form, answer.data);
    else this.errors.append(errorBox(answer.data.error));
  }

  /** An outline without a place is none yet. @param {MouseEvent} event */
  #refuse(event) {
    if (this.use.getAttribute("aria-disabled") !== "true") return;
    event.preventDefault();
    this.errors.replaceChildren(errorBox(NO_PLACE));
  }

  #label() {
    if (!this.editors) return;
    const px = (/** @type {Kind} */ kind) =>
      this.editors[kind].corners.map((corner) => this.viewport.px(...corner));
    this.labels.replaceChildren(...numbered(px("reference")), ...numbered(px("marks"), "point "));
  }
}

mount("[data-photo-board]", PhotoBoard);
