/**
 * Transfer marks: two marks that stay and about where the lost thing is, tapped on the board; the
 * fields are the truth.
 */
import { el, n1, pageData } from "frame/svg.js";
import { typed, written } from "frame/units.js";
import { Viewport } from "frame/viewport.js";

const FIELDS = ["first_at", "second_at", "near"],
  NAMES = ["1", "2", "?"];

export function mount(svg, form) {
  const viewport = new Viewport(svg, { bounds: JSON.parse(svg.dataset.bounds), pad: [14, 20, 14, 110] }),
    layer = viewport.overlay.appendChild(el("g")),
    { marks } = pageData("board-data");
  const field = (name) => form.querySelector(`#id_${name}`);
  const place = (name) => {
    const pair = field(name)
      .value.split(/[,;]\s*|\s+/)
      .filter(Boolean)
      .map(typed);
    return pair.length === 2 && pair.every(Number.isFinite) ? viewport.shell(pair) : null;
  };
  let chosen = FIELDS.find((name) => !field(name).value) ?? "near";
  for (const name of FIELDS)
    field(name).addEventListener("focus", () => {
      chosen = name;
      draw();
    });

  const cross = (at, name, cls) => {
    const [x, y] = viewport.px(...at).map(n1),
      g = el("g", { class: cls });
    g.append(
      el("circle", { cx: x, cy: y, r: 9 }),
      el("path", { d: `M${x - 14} ${y}h28M${x} ${y - 14}v28` }),
      el("text", { class: "cap dl-name", x: x + 14, y: y - 10 }, name),
    );
    return g;
  };
  const draw = () => {
    layer.replaceChildren();
    for (const mark of marks) {
      const lines = [mark.first, mark.second]
        .map(
          (end) =>
            `M${viewport
              .px(...end)
              .map(n1)
              .join(" ")}L${viewport
              .px(...mark.at)
              .map(n1)
              .join(" ")}`,
        )
        .join("");
      layer.append(
        el("path", { class: "dm-l", d: lines }),
        cross(mark.at, mark.n, `tmark${mark.chosen ? " is-chosen" : ""}`),
      );
    }
    FIELDS.forEach((name, i) => {
      const at = place(name);
      if (at) layer.append(cross(at, NAMES[i], `tmark is-new${name === chosen ? " is-chosen" : ""}`));
    });
    const near = place("near");
    for (const name of FIELDS.slice(0, 2)) {
      const at = place(name);
      if (at && near)
        layer.append(
          el("path", {
            class: "dm-l",
            "stroke-dasharray": "4 3",
            d: `M${viewport
              .px(...at)
              .map(n1)
              .join(" ")}L${viewport
              .px(...near)
              .map(n1)
              .join(" ")}`,
          }),
        );
    }
  };
  svg.addEventListener("click", (event) => {
    if (viewport.moved > 6) return;
    field(chosen).value = viewport
      .shell(viewport.mm(...viewport.at(event)))
      .map(written)
      .join(", ");
    chosen = FIELDS.find((name) => !field(name).value) ?? chosen;
    draw();
  });
  form.addEventListener("input", draw);
  viewport.onChange(draw);
}

for (const svg of document.querySelectorAll("[data-marks-board]"))
  mount(svg, document.querySelector("[data-marks-form]"));
