/** A new vehicle's side view, drawn anew by the core as dimensions are typed. */
import { ask, errorBox, lastOnly } from "frame/ask.js";
import { all, mount, one } from "frame/board/page.js";
import { el } from "frame/board/svg.js";
import { Viewport } from "frame/board/viewport.js";

/**
 * @typedef {{ bounds: import("frame/board/svg.js").Bounds, panels: { tone: number, d: string }[], lines: { kind:
 *   string, d: string }[], outline: string }} Drawn
 */

class Preview {
  /** @type {Viewport | undefined} */
  #viewport;

  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    this.svg = svg;
    this.form = one(document, "[data-vehicle-form]", HTMLFormElement);
    this.errors = one(this.form, "[data-errors]", HTMLElement);
    const look = lastOnly(async (/** @type {() => boolean} */ current) => {
      const answer = await ask(svg.dataset.url ?? "", new FormData(this.form));
      if (current()) this.#show(answer);
    }, 150);
    this.form.addEventListener("input", () => look());
    look();
  }

  /** @param {import("frame/ask.js").Answer} answer */
  #show({ ok, data }) {
    this.errors.replaceChildren();
    for (const [name, words] of Object.entries(data.ranges ?? {}))
      one(this.form, `[data-range="${name}"]`, HTMLElement).textContent = words;
    for (const field of all(this.form, ".field.is-wrong", HTMLElement)) field.classList.remove("is-wrong");
    if (ok) {
      this.#draw(data);
      return;
    }
    this.errors.append(errorBox(data.error));
    const wrong = this.form.elements.namedItem(data.error.where);
    if (wrong instanceof Element) wrong.closest(".field")?.classList.add("is-wrong");
  }

  /** @param {Drawn} drawn */
  #draw({ bounds, panels, lines, outline }) {
    one(this.svg, "[data-world]", SVGGElement).replaceChildren(
      ...panels.map(({ tone, d }) =>
        el("path", { class: `sh-panel sh-t${tone}`, "fill-rule": "evenodd", d }),
      ),
      ...lines.map(({ kind, d }) => el("path", { class: `sh-${kind}`, d })),
      el("path", { class: "sh-out", d: outline }),
    );
    this.#viewport ??= new Viewport(this.svg, { bounds });
    this.#viewport.bounds = bounds;
    this.#viewport.fit();
  }
}

mount("[data-shell-preview]", Preview);
