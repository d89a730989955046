/** Corners of an outline that a person adds, moves and deletes: by pointer, touch and keys. Draws; judges nothing. */
import { el, n1, pathD } from "frame/svg.js";

/** A corner snaps to an edge this near: on screen, but never farther on the metal than a thumb is wide. */
const SNAP_PX = 10,
  SNAP_MM = 12;
/** A press this near to a handle's middle means the handle; a hand trembles this far before it drags, px. */
const ON_PX = 8,
  TREMBLE_PX = 4;

/**
 * Nearest point on closed rings and open lines to [u, v], within reach mm; else null. A drawing aid
 * only: the core checks again.
 */
export function snapTo(rings, [u, v], reach, lines = []) {
  let best = null,
    least = reach;
  for (const [ring, open] of [...rings.map((each) => [each, 0]), ...lines.map((each) => [each, 1])])
    for (let i = 0; i < ring.length - open; i++) {
      const [ax, ay] = ring[i],
        [bx, by] = ring[(i + 1) % ring.length],
        dx = bx - ax,
        dy = by - ay;
      const t = Math.min(1, Math.max(0, ((u - ax) * dx + (v - ay) * dy) / (dx * dx + dy * dy || 1)));
      const p = [ax + t * dx, ay + t * dy],
        d = Math.hypot(p[0] - u, p[1] - v);
      if (d < least) [best, least] = [p, d];
    }
  return best;
}

export class Corners {
  /**
   * options: mayAdd: tapping the field adds corners; rings(), lines(): outlines and lines to snap to;
   * changed(corners): called after every change.
   */
  constructor(
    viewport,
    corners,
    { mayAdd = true, rings = () => [], lines = () => [], changed = () => {} } = {},
  ) {
    Object.assign(this, {
      viewport,
      corners: corners.map((c) => [...c]),
      mayAdd,
      rings,
      lines,
      changed,
      chosen: -1,
      past: [],
      future: [],
    });
    this.shape = viewport.world.appendChild(el("path", { class: "draft" }));
    this.handles = viewport.overlay.appendChild(el("g", { class: "handles" }));
    viewport.onChange(() => this.draw());
    viewport.svg.addEventListener("click", (event) => this.#tap(event));
  }

  set(corners, remember = true) {
    if (remember) this.#remember();
    this.corners = corners.map((c) => [...c]);
    this.draw();
  }

  undo() {
    this.#back(this.past, this.future);
  }
  redo() {
    this.#back(this.future, this.past);
  }
  #back(from, to) {
    if (from.length) {
      to.push(this.corners);
      this.corners = from.pop();
      this.chosen = -1;
      this.#done();
    }
  }
  #remember() {
    this.past.push(this.corners);
    this.future = [];
  }
  remove(i = this.chosen) {
    if (i >= 0 && i < this.corners.length) {
      this.set(this.corners.filter((_, j) => j !== i));
      this.chosen = -1;
      this.#done();
    }
  }

  #done() {
    this.draw();
    this.changed(this.corners);
  }

  #snapped(point) {
    return snapTo(this.rings(), point, Math.min(SNAP_PX / this.viewport.k, SNAP_MM), this.lines()) ?? point;
  }

  #tap(event) {
    if (!this.mayAdd || this.viewport.moved > 6 || event.target.closest("[data-handle], a")) return;
    this.#remember();
    this.#add(event);
  }

  #add(event) {
    const place = this.#snapped(this.viewport.mm(...this.viewport.at(event)));
    this.corners = [...this.corners, place.map(n1)];
    this.chosen = this.corners.length - 1;
    this.#done();
  }

  draw() {
    const focused = this.handles.contains(document.activeElement)
      ? document.activeElement.dataset.handle
      : null;
    this.shape.setAttribute("d", pathD(this.corners, this.corners.length > 2));
    this.handles.replaceChildren();
    if (this.corners.length > 1)
      this.corners.forEach(([u, v], i) => {
        if (this.corners.length === 2 && i === 1) return;
        const [u1, v1] = this.corners[(i + 1) % this.corners.length],
          a = this.viewport.px(u, v),
          b = this.viewport.px(u1, v1);
        if (Math.hypot(a[0] - b[0], a[1] - b[1]) > 46)
          this.#handle("middle", i, [(u + u1) / 2, (v + v1) / 2], `Add a corner after corner ${i + 1}`);
      });
    this.corners.forEach((corner, i) =>
      this.#handle(
        "corner",
        i,
        corner,
        `Corner ${i + 1}, ${this.viewport.shell(corner).map(n1).join(", ")} mm. Arrow keys move it, Delete removes it.`,
      ),
    );
    if (focused) this.handles.querySelector(`[data-handle="${focused}"]`)?.focus();
  }

  #handle(kind, i, [u, v], name) {
    const [x, y] = this.viewport.px(u, v).map(n1),
      id = `${kind}-${i}`;
    const g = el("g", {
      class: `handle handle-${kind}${kind === "corner" && i === this.chosen ? " is-chosen" : ""}`,
      "data-handle": id,
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

  #insert(i) {
    const [u, v] = this.corners[i],
      [u1, v1] = this.corners[(i + 1) % this.corners.length];
    this.corners = this.corners.toSpliced(i + 1, 0, [n1((u + u1) / 2), n1((v + v1) / 2)]);
    this.chosen = i + 1;
  }

  #grab(event, kind, i) {
    event.preventDefault();
    event.stopPropagation();
    const svg = this.viewport.svg,
      start = this.viewport.at(event),
      held = this.corners,
      [u, v] = held[i],
      [u1, v1] = held[(i + 1) % held.length];
    const [x, y] = this.viewport.px(...(kind === "middle" ? [(u + u1) / 2, (v + v1) / 2] : [u, v]));
    // in the handle's reach, but not on what is seen of it
    const beside = this.mayAdd && Math.hypot(start[0] - x, start[1] - y) > ON_PX;
    this.#remember();
    this.corners = this.corners.map((c) => [...c]);
    if (kind === "middle") this.#insert(i);
    else this.chosen = i;
    const at = this.chosen;
    let dragged = false;
    svg.setPointerCapture(event.pointerId);
    const move = (moving) => {
      if (moving.pointerId !== event.pointerId) return;
      const here = this.viewport.at(moving),
        place = this.viewport.mm(...here);
      dragged ||= Math.hypot(here[0] - start[0], here[1] - start[1]) > TREMBLE_PX;
      if (!dragged) return;
      this.corners[at] = (moving.altKey ? place : this.#snapped(place)).map(n1);
      this.#done();
    };
    const lift = (up) => {
      if (up.pointerId !== event.pointerId) return;
      for (const [type, listener] of [
        ["pointermove", move],
        ["pointerup", lift],
        ["pointercancel", lift],
      ])
        svg.removeEventListener(type, listener);
      this.viewport.moved = 99; // the click that follows is no tap
      if (!dragged && beside && up.type === "pointerup") {
        this.corners = held;
        this.#add(up);
        return;
      }
      if (!dragged && kind === "corner") this.past.pop();
      this.#done();
      this.handles.querySelector(`[data-handle="corner-${at}"]`)?.focus();
    };
    for (const [type, listener] of [
      ["pointermove", move],
      ["pointerup", lift],
      ["pointercancel", lift],
    ])
      svg.addEventListener(type, listener);
    this.draw();
  }

  #key(event, kind, i) {
    const step = event.shiftKey ? 10 : 1;
    const by = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }[
      event.key
    ];
    if (kind === "middle" && (event.key === "Enter" || event.key === " ")) {
      this.#remember();
      this.#insert(i);
      this.#done();
      this.handles.querySelector(`[data-handle="corner-${i + 1}"]`)?.focus();
    } else if (kind === "corner" && by) {
      this.#remember();
      this.chosen = i;
      this.corners = this.corners.map((c, j) => (j === i ? [n1(c[0] + by[0]), n1(c[1] + by[1])] : c));
      this.#done();
    } else if (kind === "corner" && (event.key === "Delete" || event.key === "Backspace")) {
      this.remove(i);
      this.viewport.svg.focus();
    } else return;
    event.preventDefault();
    event.stopPropagation();
  }
}
