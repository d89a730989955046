/** A glass beside the finger while it drags a corner: what lies under it, larger. */
import { el, n1 } from "frame/board/svg.js";

/** The glass: how wide, how far over the finger, how much larger. */
const RADIUS = 62,
  OVER = 104,
  TIMES = 3;
let glasses = 0;

export class Magnifier {
  /** @type {SVGGElement | null} */
  #glass = null;

  /** @param {import("frame/board/viewport.js").Viewport} viewport */
  constructor(viewport) {
    this.viewport = viewport;
  }

  /** @param {[number, number]} at where the finger is, px */
  show([x, y]) {
    const { viewport } = this,
      up = y > OVER + RADIUS ? -OVER : OVER,
      cx = Math.min(Math.max(x, RADIUS + viewport.left), viewport.width - RADIUS),
      cy = y + up;
    this.#glass ??= this.#made();
    const [clip, ring, seen] = /** @type {SVGElement[]} */ ([...this.#glass.querySelectorAll("[data-part]")]);
    for (const circle of [clip, ring]) {
      circle.setAttribute("cx", String(n1(cx)));
      circle.setAttribute("cy", String(n1(cy)));
    }
    seen.setAttribute("transform", `translate(${n1(cx - TIMES * x)} ${n1(cy - TIMES * y)}) scale(${TIMES})`);
    const cross = this.#glass.querySelector("[data-cross]");
    cross?.setAttribute("d", `M${n1(cx - 12)} ${n1(cy)}h24M${n1(cx)} ${n1(cy - 12)}v24`);
  }

  hide() {
    this.#glass?.remove();
    this.#glass = null;
  }

  #made() {
    const { viewport } = this,
      id = `glass-${++glasses}`;
    viewport.world.id ||= `${id}-world`;
    return viewport.svg.appendChild(
      el(
        "g",
        { class: "glass", "aria-hidden": "true" },
        el("clipPath", { id }, el("circle", { "data-part": "clip", r: RADIUS })),
        el("circle", { "data-part": "ring", class: "glass-ground", r: RADIUS }),
        el(
          "g",
          { "clip-path": `url(#${id})` },
          el("use", { "data-part": "seen", href: `#${viewport.world.id}` }),
        ),
        el("path", { "data-cross": "", class: "glass-cross" }),
      ),
    );
  }
}
