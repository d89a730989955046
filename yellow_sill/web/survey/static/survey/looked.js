/** Marking a region as looked at: press the button, drag across the metal; one gesture, one question to the server. */
import { ask } from "frame/ask.js";
import { el } from "frame/svg.js";

/** Two corners in mm from two places on the screen, by the world group's own transform. */
export function worldPoint(svg, event) {
  const matrix = svg.querySelector("[data-world]").getScreenCTM().inverse(),
    p = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix);
  return [p.x, -p.y];
}

export function mount(button) {
  const svg = document.querySelector("[data-look-url]"),
    sheet = document.querySelector("[data-cover]"),
    said = sheet.querySelector("[data-look-said]");
  const method = sheet.querySelector("[data-look-method]"),
    box = el("rect", { class: "looked-box" });
  let start = null;
  const on = () => button.getAttribute("aria-pressed") === "true";
  const press = (state) => {
    button.setAttribute("aria-pressed", state);
    svg.classList.toggle("is-marking", state);
  };
  button.addEventListener("click", () => {
    press(!on());
    said.textContent = on() ? "Drag a box across what you looked at." : "Dots are what nobody has looked at.";
    if (on()) svg.scrollIntoView({ block: "center" });
  });

  // capture: while marking, the board does not pan
  svg.addEventListener(
    "pointerdown",
    (event) => {
      if (!on() || event.button > 0 || !event.isPrimary) return;
      event.stopPropagation();
      event.preventDefault();
      start = worldPoint(svg, event);
      svg.setPointerCapture(event.pointerId);
      svg.querySelector("[data-world]").append(box);
    },
    true,
  );
  svg.addEventListener(
    "pointermove",
    (event) => {
      if (!start || !event.isPrimary) return;
      event.stopPropagation();
      const [u, v] = worldPoint(svg, event);
      for (const [name, value] of Object.entries({
        x: Math.min(u, start[0]),
        y: Math.min(-v, -start[1]),
        width: Math.abs(u - start[0]),
        height: Math.abs(v - start[1]),
      }))
        box.setAttribute(name, value);
    },
    true,
  );
  svg.addEventListener(
    "pointercancel",
    () => {
      start = null;
      box.remove();
    },
    true,
  );
  svg.addEventListener(
    "pointerup",
    async (event) => {
      if (!start) return;
      event.stopPropagation();
      const corners = [start, worldPoint(svg, event)];
      start = null;
      box.remove();
      if (Math.abs(corners[0][0] - corners[1][0]) < 3 || Math.abs(corners[0][1] - corners[1][1]) < 3) {
        said.textContent = "That was a tap. Drag a box across the metal.";
        return;
      }
      const answer = await ask(svg.dataset.lookUrl, { corners, method: method.value });
      if (!answer.ok) {
        said.textContent = `${answer.data.error.what} ${answer.data.error.mend}`;
        return;
      }
      let unknown = svg.querySelector("[data-unknown]");
      if (!unknown) {
        unknown = el("path", { class: "sh-stip", "data-unknown": "", "fill-rule": "evenodd" });
        svg.querySelector("[data-world]").append(unknown);
      }
      unknown.setAttribute("d", answer.data.unknown);
      for (const [name, share] of Object.entries(answer.data.shares))
        for (const b of sheet.querySelectorAll(`[data-share="${name}"]`))
          b.textContent = `${Math.round(share * 100)}\u202f%`;
      sheet.querySelector(".cov-d").setAttribute("width", (answer.data.shares.whole * 200).toFixed(1));
      const how = method.selectedOptions[0].textContent.toLowerCase(),
        share = Math.round(answer.data.shares.whole * 100);
      said.textContent = `Marked as looked at: ${how}. The whole shell stands at ${share} %.`;
    },
    true,
  );
}

for (const button of document.querySelectorAll("[data-mark]")) mount(button);
