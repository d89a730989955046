/** A photo as a board: the card's corners, the hole, two points of the metal. One unit of the world is one pixel. */
import { ask, errorBox, lastOnly } from "frame/ask.js";
import { Corners } from "frame/corners.js";
import { el, n1, pageData } from "frame/svg.js";
import { Viewport } from "frame/viewport.js";

const MOST = { reference: 4, trace: 2000, marks: 2 };

export function mount(svg, form) {
  const viewport = new Viewport(svg, { bounds: JSON.parse(svg.dataset.bounds), rulers: false, mostZoom: 12 });
  const data = pageData("photo-data"),
    errors = form.querySelector("[data-errors]"),
    use = form.querySelector("[data-use]");
  const labels = viewport.overlay.appendChild(el("g", { class: "photo-labels", "aria-hidden": "true" }));
  let mode = "reference";
  const editors = Object.fromEntries(
    Object.keys(MOST).map((name) => {
      const editor = new Corners(
        viewport,
        data[name].map((c) => viewport.shell(c)),
        {
          mayAdd: false,
          changed: (corners) => {
            if (corners.length > MOST[name]) {
              editor.corners = corners.slice(-MOST[name]);
              editor.draw();
            }
            work();
          },
        },
      );
      editor.shape.classList.add(`photo-${name}`);
      return [name, editor];
    }),
  );
  const switchTo = (name) => {
    mode = name;
    for (const [each, editor] of Object.entries(editors)) {
      editor.mayAdd = each === name;
      editor.handles.toggleAttribute("hidden", each !== name);
      editor.handles.style.display = each === name ? "" : "none";
    }
    for (const button of document.querySelectorAll("[data-mode]"))
      button.setAttribute("aria-pressed", button.dataset.mode === name);
  };
  for (const button of document.querySelectorAll("[data-mode]"))
    button.addEventListener("click", () => switchTo(button.dataset.mode));

  const values = () => {
    const all = (name) => [...form.querySelectorAll(`[name="${name}"]`)].map((input) => input.value);
    const points = Object.fromEntries(
      Object.entries(editors).map(([name, editor]) => [
        name,
        editor.corners.map((c) => viewport.shell(c).map(n1)),
      ]),
    );
    return {
      ...points,
      by: form.elements.by.checked ? "distances" : "size",
      size: all("size"),
      distances: all("distances"),
      on_panel: all("on_panel"),
      seen_from: form.elements.seen_from.value,
    };
  };
  const put = (name, text) => {
    form.querySelector(`[data-${name}]`).textContent = text;
  };
  const work = lastOnly(async (current) => {
    const sent = values(),
      kept = await ask(svg.dataset.keep, sent);
    if (!current()) return;
    errors.replaceChildren();
    if (!kept.ok) {
      errors.append(errorBox(kept.data.error));
      return;
    }
    if (editors.reference.corners.length < 4 && mode === "reference") return;
    if (editors.reference.corners.length === 4 && mode === "reference" && !editors.trace.corners.length)
      switchTo("trace");
    if (editors.trace.corners.length < 3) return;
    const answer = await ask(svg.dataset.check, sent);
    if (!current()) return;
    use.setAttribute("aria-disabled", !answer.ok || !answer.data.placed);
    if (!answer.ok) {
      errors.append(errorBox(answer.data.error));
      return;
    }
    const { size, area, error_pct: error, remarks } = answer.data;
    put("size", size);
    put("area", area);
    put("error-pct", error);
    form
      .querySelector("[data-remarks]")
      .replaceChildren(
        ...remarks.map((text) => Object.assign(document.createElement("li"), { textContent: text })),
      );
  }, 250);
  const showFields = () => {
    for (const part of form.querySelectorAll("[data-for]"))
      part.hidden = part.dataset.for !== (form.elements.by.checked ? "distances" : "size");
  };
  const label = () => {
    labels.replaceChildren();
    for (const name of ["reference", "marks"])
      editors[name].corners.forEach((corner, i) => {
        const [x, y] = viewport.px(...corner).map(n1);
        labels.append(
          el("circle", { cx: x, cy: y, r: 3 }),
          el("text", { x: x + 9, y: y - 9 }, `${name === "marks" ? "point " : ""}${i + 1}`),
        );
      });
  };
  viewport.onChange(label);
  for (const editor of Object.values(editors)) {
    const drawn = editor.draw.bind(editor);
    editor.draw = () => {
      drawn();
      label();
    };
  }
  form.addEventListener("input", () => {
    showFields();
    work();
  });
  form.addEventListener("submit", (event) => event.preventDefault());
  use.addEventListener("click", (event) => {
    if (use.getAttribute("aria-disabled") !== "true") return;
    event.preventDefault();
    errors.replaceChildren(
      errorBox({
        what: "It is not known yet where the hole lies on the panel.",
        mend: "Click two points of the metal, type where they are, and say which side the photo shows.",
      }),
    );
  });
  document.querySelector("[data-undo]").addEventListener("click", () => editors[mode].undo());
  document.querySelector("[data-remove]").addEventListener("click", () => editors[mode].remove());
  showFields();
  switchTo(
    editors.reference.corners.length < 4 ? "reference" : editors.trace.corners.length < 3 ? "trace" : "marks",
  );
  if (editors.trace.corners.length >= 3) work();
}

const svg = document.querySelector("[data-photo-board]"),
  form = document.querySelector("[data-photo-form]");
if (svg && form) mount(svg, form);
