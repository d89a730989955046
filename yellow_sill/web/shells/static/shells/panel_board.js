/**
 * Correcting a panel: its corners on the board and in the sheet kept in step; a tap on another panel
 * opens that one.
 */
import { Corners } from "frame/corners.js";
import { pageData } from "frame/svg.js";
import { typedCorners as parse, writtenCorners } from "frame/units.js";
import { Viewport } from "frame/viewport.js";

export function mount(svg, form) {
  const viewport = new Viewport(svg, { bounds: JSON.parse(svg.dataset.bounds) }),
    text = form.elements.corners,
    rings = pageData("panel-rings");
  const typed = () => parse(text.value).map((c) => viewport.shell(c));
  const written = (corners) => {
    text.value = writtenCorners(corners.map((c) => viewport.shell(c)));
  };
  const editor = new Corners(viewport, typed(), { rings: () => rings, changed: written });
  text.addEventListener("input", () => editor.set(typed()));
  document.querySelector("[data-undo]").addEventListener("click", () => editor.undo());
  document.querySelector("[data-remove]").addEventListener("click", () => editor.remove());
  document.querySelector("[data-clear]").addEventListener("click", () => {
    editor.set([]);
    written([]);
  });
  // before anything is drawn, a tap opens the panel under it
  svg.addEventListener(
    "click",
    (event) => {
      const code = event.target.closest("[data-panel]")?.dataset.panel;
      if (!code || viewport.moved > 6 || editor.corners.length > 1 || text.dataset.drawing) return;
      location.assign(`${svg.dataset.here}&panel=${encodeURIComponent(code)}`);
    },
    true,
  );
  document.querySelector("[data-clear]").addEventListener("click", () => {
    text.dataset.drawing = "yes";
  });
  if (svg.dataset.focus) {
    const [a, b, c, d] = JSON.parse(svg.dataset.focus),
      e = Math.max(c - a, d - b) * 0.12;
    viewport.fit([a - e, b - e, c + e, d + e]);
    viewport.fitted = false;
  }
}

const svg = document.querySelector("[data-panel-board]"),
  form = document.querySelector("[data-panel-form]");
if (svg && form) mount(svg, form);
