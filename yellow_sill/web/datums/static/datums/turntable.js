/** The datum points on a turntable: nominal and adjusted places, what was taped, the body as thin lines. */
import { el, n1, pageData } from "frame/svg.js";
import { bodyLines, turntable } from "frame/turn.js";
import { reading } from "frame/units.js";
import { arrow, target } from "datums/marks.js";

export function mount(svg) {
  const { points, lines, body, exaggeration } = pageData("turntable"),
    by = new Map(points.map((p) => [p.code, p]));
  const flat = (p) => p.slice(0, 2).map(n1).join(" ");
  const axes = (layer, way, height) => {
    const x = 56,
      y = height - 56,
      g = layer.appendChild(el("g", { class: "tt-axes" }));
    for (const [name, along] of [
      ["aft", [1, 0, 0]],
      ["right", [0, 1, 0]],
      ["up", [0, 0, 1]],
    ]) {
      const p = way(along).map((v) => v * 34);
      g.append(
        arrow([x, y], [x + p[0], y + p[1]], "ok"),
        el(
          "text",
          { class: "lab", x: n1(x + p[0] * 1.25), y: n1(y + p[1] * 1.25 + 5), "text-anchor": "middle" },
          name,
        ),
      );
    }
  };
  let focused = null;
  svg.addEventListener("focusin", (event) => {
    focused = event.target.dataset.code ?? null;
  });
  turntable(svg, [...points.map((p) => p.at), ...body.flat()], (layer, at, { height, turn, way }) => {
    bodyLines(layer, body, at, turn);
    layer.append(
      el("path", {
        class: "tt-line",
        d: lines
          .map((pair) => pair.map((code) => by.get(code)))
          .filter(([a, b]) => a && b)
          .map(([a, b]) => `M${flat(at(a.at))}L${flat(at(b.at))}`)
          .join(""),
      }),
    );
    const wanted = focused;
    for (const point of points) {
      const p = at(point.at),
        link = el("a", {
          href: point.href,
          class: `dlab is-${point.flag}${point.selected ? " is-sel" : ""}`,
          "data-code": point.code,
          "aria-label":
            `Datum ${point.code}, ${point.name}` +
            (point.length == null ? "" : `, ${reading(point.length)} off`),
        });
      link.append(target(p[0], p[1], 5, point.trusted));
      if (point.off)
        link.append(arrow(p, at(point.at.map((v, i) => v + point.off[i] * exaggeration)), point.flag));
      if (point.selected)
        link.append(el("rect", { class: "dl-b", x: n1(p[0] + 7), y: n1(p[1] - 19), width: 30, height: 18 }));
      link.append(
        el("text", { class: "numb", x: n1(p[0] + 10), y: n1(p[1] - 6) }, point.code),
        el("rect", { class: "hit", x: n1(p[0] - 22), y: n1(p[1] - 22), width: 44, height: 44 }),
      );
      layer.append(link);
      if (wanted === point.code) link.focus();
    }
    axes(layer, way, height);
  });
}

for (const svg of document.querySelectorAll("[data-turntable]")) mount(svg);
for (const select of document.querySelectorAll("[data-go]"))
  select.addEventListener("change", () => select.form.submit());
