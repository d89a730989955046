/**
 * Corners of an outline that a person adds, moves and deletes: by pointer, touch and keys. Draws; judges nothing.
 */
import { pressed, taken, way } from "frame/board/keys.js";
import { Magnifier } from "frame/board/magnifier.js";
import { focusAgain, focusedIn } from "frame/board/page.js";
import { Outline, snapTo } from "frame/board/outline.js";
import { hold, TAP_PX, TREMBLE_PX } from "frame/board/pointer.js";
import { el, n1, pathD } from "frame/board/svg.js";

/** @typedef {import("frame/board/svg.js").Point} Point */

/** A corner snaps to an edge this near: on screen, but never farther on the metal than a thumb is wide. */
const SNAP_PX = 10,
  SNAP_MM = 12;
/**
 * A press this near to a handle's middle means the handle, px; edges shorter than this on screen have no handle
 * between.
 */
const ON_PX = 8,
  ROOM_PX = 46;

export class Corners {
  /**
   * @param {import("frame/board/viewport.js").Viewport} viewport
   * @param {Point[]} corners mm
   * @param {{ mayAdd?: boolean, closed?: () => boolean, rings?: () => Point[][], lines?: () => Point[][],
   *   changed?: (corners: Point[]) => void }} [options]
   *   mayAdd: tapping the field adds corners; closed: whether its end is joined to its start; rings, lines:
   * outlines and
   *   lines to snap to; changed: called after every change.
   */
  constructor(viewport, corners, options = {}) {
    const { mayAdd = true, closed = () => true, rings = () => [], lines = () => [] } = options;
    this.viewport = viewport;
    this.mayAdd = mayAdd;
    this.closed = closed;
    this.rings = rings;
    this.lines = lines;
    this.changed = options.changed ?? (() => {});
    this.outline = new Outline(corners);
    this.glass = new Magnifier(viewport);
    this.shape = viewport.world.appendChild(el("path", { class: "draft" }));
    this.handles = viewport.overlay.appendChild(el("g", { class: "handles" }));
    viewport.onChange(() => this.draw());
    viewport.svg.addEventListener("click", (event) => this.#tap(event));
  }

  get corners() {
    return this.outline.corners;
  }

  /** @param {Point[]} corners @param {boolean} [remember] */
  set(corners, remember = true) {
    if (remember) this.outline.remember();
    this.outline.corners = corners.map(([u, v]) => [u, v]);
    this.draw();
  }

  undo() {
    if (this.outline.undo()) this.#done();
  }

  redo() {
    if (this.outline.redo()) this.#done();
  }

  remove(i = this.outline.chosen) {
    if (i < 0 || i >= this.corners.length) return;
    this.outline.remember();
    this.outline.remove(i);
    this.#done();
  }

  clear() {
    this.set([]);
    this.changed(this.corners);
  }

  #done() {
    this.draw();
    this.changed(this.corners);
  }

  /** @param {Point} place @returns {Point} */
  #snapped(place) {
    return snapTo(this.rings(), place, Math.min(SNAP_PX / this.viewport.k, SNAP_MM), this.lines()) ?? place;
  }

  /** @param {MouseEvent} event */
  #tap(event) {
    const on = event.target instanceof Element && event.target.closest("[data-handle], a");
    if (!this.mayAdd || this.viewport.moved > TAP_PX || on) return;
    this.outline.remember();
    this.#add(event);
  }

  /** @param {MouseEvent} event */
  #add(event) {
    this.outline.add(this.#snapped(this.viewport.mm(...this.viewport.at(event))));
    this.#done();
  }

  draw() {
    const focused = focusedIn(this.handles, "handle"),
      { corners } = this.outline,
      { viewport } = this;
    this.shape.setAttribute("d", pathD(corners, this.closed() && corners.length > 2));
    this.handles.replaceChildren();
    const edges = corners.length < 3 ? corners.length - 1 : corners.length;
    for (let i = 0; i < edges; i++) {
      const a = viewport.px(...corners[i]),
        b = viewport.px(...corners[(i + 1) % corners.length]);
      if (Math.hypot(a[0] - b[0], a[1] - b[1]) > ROOM_PX)
        this.#handle("middle", i, this.outline.middle(i), `Add a corner after corner ${i + 1}`);
    }
    corners.forEach((corner, i) => {
      const place = viewport.shell(corner).map(n1).join(", ");
      this.#handle(
        "corner",
        i,
        corner,
        `Corner ${i + 1}, ${place} mm. Arrow keys move it, Delete removes it.`,
      );
    });
    focusAgain(this.handles, "handle", focused);
  }

  /** @param {"corner" | "middle"} kind @param {number} i @param {Point} place @param {string} name */
  #handle(kind, i, place, name) {
    const [x, y] = this.viewport.px(...place).map(n1),
      chosen = kind === "corner" && i === this.outline.chosen;
    const g = el("g", {
      class: `handle handle-${kind}${chosen ? " is-chosen" : ""}`,
      "data-handle": `${kind}-${i}`,
      tabindex: "0",
      role: "button",
      "aria-label": name,
    });
    g.append(
      el("circle", { class: "hit", cx: x, cy: y, r: 20 }),
      el("circle", { class: "dot", cx: x, cy: y, r: kind === "corner" ? 6.5 : 4.5 }),
    );
    if (kind === "middle") g.append(el("path", { class: "plus", d: `M${x - 3} ${y}h6M${x} ${y - 3}v6` }));
    g.addEventListener("pointerdown", (event) => this.#grab(event, kind, i));
    g.addEventListener("keydown", (event) => this.#key(event, kind, i));
    this.handles.append(g);
  }

  /** @param {PointerEvent} event @param {"corner" | "middle"} kind @param {number} i */
  #grab(event, kind, i) {
    taken(event);
    const { viewport, outline } = this,
      held = outline.corners,
      start = viewport.at(event),
      [x, y] = viewport.px(...(kind === "middle" ? outline.middle(i) : held[i]));
    // in the handle's reach, but not on what is seen of it
    const beside = this.mayAdd && Math.hypot(start[0] - x, start[1] - y) > ON_PX;
    outline.remember();
    if (kind === "middle") outline.insert(i);
    else outline.chosen = i;
    const at = outline.chosen;
    let dragged = false;
    hold(viewport.svg, event, {
      move: (moving) => {
        const here = viewport.at(moving),
          place = viewport.mm(...here);
        dragged ||= Math.hypot(here[0] - start[0], here[1] - start[1]) > TREMBLE_PX;
        if (!dragged) return;
        outline.move(at, moving.altKey ? place : this.#snapped(place));
        this.#done();
        if (moving.pointerType !== "mouse") this.glass.show(here);
      },
      lift: (up) => {
        this.glass.hide();
        viewport.moved = 99; // the click that follows is no tap
        if (!dragged && beside && up.type === "pointerup") {
          outline.corners = held;
          this.#add(up);
          return;
        }
        if (!dragged && kind === "corner") outline.forget();
        this.#done();
        focusAgain(this.handles, "handle", `corner-${at}`);
      },
    });
    this.draw();
  }

  /** @param {KeyboardEvent} event @param {"corner" | "middle"} kind @param {number} i */
  #key(event, kind, i) {
    const step = event.shiftKey ? 10 : 1,
      by = way(event);
    if (kind === "middle" && pressed(event)) {
      this.outline.remember();
      this.outline.insert(i);
      this.#done();
      focusAgain(this.handles, "handle", `corner-${i + 1}`);
    } else if (kind === "corner" && by) {
      const [u, v] = this.corners[i];
      this.outline.remember();
      this.outline.move(i, [u + by[0] * step, v + by[1] * step]);
      this.#done();
    } else if (kind === "corner" && (event.key === "Delete" || event.key === "Backspace")) {
      this.remove(i);
      this.viewport.svg.focus();
    } else return;
    taken(event);
  }
}
