/** A new vehicle's side view, drawn anew by the core as dimensions are typed. */
import { ask, errorBox, lastOnly } from "frame/ask.js";
import { el } from "frame/svg.js";
import { Viewport } from "frame/viewport.js";

const svg = document.querySelector("[data-shell-preview]"),
  form = document.querySelector("[data-vehicle-form]");
if (svg && form) {
  let viewport = null;
  const errors = form.querySelector("[data-errors]");
  const draw = lastOnly(async (current) => {
    const answer = await ask(svg.dataset.url, new FormData(form));
    if (!current()) return;
    errors.replaceChildren();
    for (const [name, said] of Object.entries(answer.data.ranges ?? {}))
      form.querySelector(`[data-range="${name}"]`).textContent = said;
    for (const field of form.querySelectorAll(".field.is-wrong")) field.classList.remove("is-wrong");
    if (!answer.ok) {
      errors.append(errorBox(answer.data.error));
      form.elements[answer.data.error.where]?.closest?.(".field")?.classList.add("is-wrong");
      return;
    }
    const { bounds, panels, lines, outline } = answer.data,
      world = svg.querySelector("[data-world]");
    world.replaceChildren(
      ...panels.map((p) => el("path", { class: `sh-panel sh-t${p.tone}`, "fill-rule": "evenodd", d: p.d })),
      ...lines.map((line) => el("path", { class: `sh-${line.kind}`, d: line.d })),
      el("path", { class: "sh-out", d: outline }),
    );
    viewport ??= new Viewport(svg, { bounds });
    viewport.bounds = bounds;
    viewport.fit();
  }, 150);
  form.addEventListener("input", draw);
  draw();
}
