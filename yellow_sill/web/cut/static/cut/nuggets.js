/**
 * Old spot welds: a ring each, crossed once it is drilled; tapping it ticks it off while the line is the stored
 * one.
 */
import { ask, errorBox } from "frame/ask.js";
import { pressed, taken } from "frame/board/keys.js";
import { focusAgain, focusedIn } from "frame/board/page.js";
import { TAP_PX } from "frame/board/pointer.js";
import { el, n1 } from "frame/board/svg.js";

/** @typedef {{ n: number, at: import("frame/board/svg.js").Point, done: boolean, tick: string }} Nugget */

export class Nuggets {
  /**
   * @param {import("frame/board/viewport.js").Viewport} viewport
   * @param {Nugget[]} nuggets
   * @param {Element} errors where a refusal is told
   */
  constructor(viewport, nuggets, errors) {
    this.viewport = viewport;
    this.nuggets = nuggets;
    this.errors = errors;
    this.layer = viewport.overlay.appendChild(el("g", { class: "nugs" }));
    viewport.onChange(() => this.draw());
  }

  /** While the line is not the stored one, nothing is ticked off. @param {boolean} stale */
  stale(stale) {
    this.layer.classList.toggle("is-stale", stale);
  }

  draw() {
    const drilled = document.querySelector("[data-drilled]"),
      focused = focusedIn(this.layer, "n");
    if (drilled) drilled.textContent = String(this.nuggets.filter((each) => each.done).length);
    this.layer.replaceChildren(...this.nuggets.map((each) => this.#drawn(each)));
    focusAgain(this.layer, "n", focused);
  }

  /** @param {Nugget} nugget */
  #drawn(nugget) {
    const [x, y] = this.viewport.px(...nugget.at).map(n1);
    const g = el(
      "g",
      {
        class: `nugget${nugget.done ? " is-done" : ""}`,
        "data-n": nugget.n,
        tabindex: "0",
        role: "checkbox",
        "aria-checked": nugget.done,
        "aria-label": `Spot weld ${nugget.n}`,
      },
      el("circle", { class: "hit", cx: x, cy: y, r: 22 }),
      el("circle", { class: "ring", cx: x, cy: y, r: 10 }),
    );
    if (nugget.done) g.append(el("path", { d: `M${x - 15} ${y}h5m20 0h5M${x} ${y - 15}v5m0 20v5` }));
    g.append(el("text", { class: "num", x, y: y + 4, "text-anchor": "middle" }, String(nugget.n)));
    g.addEventListener("click", (event) => {
      event.stopPropagation();
      if (this.viewport.moved <= TAP_PX) this.#toggle(nugget);
    });
    g.addEventListener("keydown", (event) => {
      if (!pressed(event)) return;
      taken(event);
      this.#toggle(nugget);
    });
    return g;
  }

  /** @param {Nugget} nugget */
  async #toggle(nugget) {
    const body = new FormData();
    if (nugget.done) body.set("undo", "1");
    const answer = await ask(nugget.tick, body);
    this.errors.replaceChildren();
    if (answer.ok) nugget.done = answer.data.done;
    else this.errors.append(errorBox(answer.data.error));
    this.draw();
  }
}
