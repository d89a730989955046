/** Something that cuts meet: its places tapped in order; the field of places is the truth. */
import { Corners } from "frame/corners.js";
import { n1, pageData, pathD } from "frame/svg.js";
import { typedCorners, writtenCorners as written } from "frame/units.js";
import { Viewport } from "frame/viewport.js";

export function mount(svg, form) {
  const viewport = new Viewport(svg, { bounds: JSON.parse(svg.dataset.bounds), pad: [14, 20, 14, 110] }),
    data = pageData("board-data");
  const text = form.elements.points,
    kind = form.elements.kind,
    rows = form.querySelector("[data-row-fields]");
  const typed = () => typedCorners(text.value).map((c) => viewport.shell(c));
  const isOutline = () => data.outlines.includes(kind.value);
  const editor = new Corners(viewport, typed(), {
    rings: () => [data.panel],
    lines: () => (kind.value === "row" ? [] : data.lines),
    changed: () => {
      text.value = written(editor.corners.map((c) => viewport.shell(c)));
      shape();
    },
  });
  const shape = () =>
    editor.shape.setAttribute("d", pathD(editor.corners, isOutline() && editor.corners.length > 2));
  const drawn = editor.draw.bind(editor);
  editor.draw = () => {
    drawn();
    shape();
  };
  text.addEventListener("input", () => editor.set(typed().map(([u, v]) => [n1(u), n1(v)])));
  const show = () => {
    rows.hidden = kind.value !== "row";
    editor.draw();
  };
  kind.addEventListener("change", show);
  document.querySelector("[data-undo]").addEventListener("click", () => editor.undo());
  document.querySelector("[data-clear]").addEventListener("click", () => {
    editor.set([]);
    editor.changed();
  });
  show();
}

for (const svg of document.querySelectorAll("[data-around-board]"))
  mount(svg, document.querySelector("[data-around-form]"));
