/** The flat pattern, drawn anew by the core whenever a side or a figure changes. */
import { ask, errorBox, lastOnly } from "frame/ask.js";
import { boundsOf, el, n1, pageData, pathD } from "frame/svg.js";
import { figure } from "frame/units.js";
import { Viewport } from "frame/viewport.js";
import { dimension } from "survey/detail.js";

export function mount(svg, form) {
  const viewport = new Viewport(svg, { bounds: JSON.parse(svg.dataset.bounds), pad: [60, 60, 90, 120] });
  let data = pageData("board-data");
  const url = data.preview,
    errors = form.querySelector("[data-errors]"),
    cells = svg.parentElement.querySelectorAll(".tblock dd"),
    labels = viewport.overlay.appendChild(el("g"));

  const draw = () => {
    viewport.world.replaceChildren();
    labels.replaceChildren();
    if (!data.flat) return;
    viewport.zero = boundsOf(data.flat); // a sheet on the bench is measured from its lower left corner
    viewport.world.append(
      el("path", { class: "flat", d: pathD(data.flat) }),
      el("path", { class: "opening", d: pathD(data.opening) }),
      ...(data.holes || []).map((hole) => el("path", { class: "hole", d: pathD(hole) })),
    );
    for (const [cls, lines] of [
      ["bend-line", data.bends],
      ["step-line", data.steps],
    ])
      for (const line of lines) viewport.world.append(el("path", { class: cls, d: pathD(line, false) }));
    place();
  };
  const place = () => {
    labels.replaceChildren();
    if (!data.flat) return;
    const [u0, v0, u1, v1] = boundsOf(data.flat),
      a = viewport.px(u0, v0),
      b = viewport.px(u1, v0),
      c = viewport.px(u1, v1);
    labels.append(dimension(a, b, 30, figure(u1 - u0, 1)), dimension(b, c, 30, figure(v1 - v0, 1)));
    const middle = viewport.px((u0 + u1) / 2, (v0 + v1) / 2);
    for (const { name, at } of data.names) {
      const [x, y] = viewport.px(...at),
        d = Math.hypot(middle[0] - x, middle[1] - y) || 1,
        q = [x + ((middle[0] - x) / d) * 26, y + ((middle[1] - y) / d) * 26].map(n1);
      labels.append(
        el("circle", { class: "side-dot", cx: q[0], cy: q[1], r: 12 }),
        el("text", { class: "side-name", x: q[0], y: q[1] + 5, "text-anchor": "middle" }, name),
      );
    }
    for (const { name, at } of data.transfers ?? []) {
      const [x, y] = viewport.px(...at).map(n1);
      labels.append(
        el("path", { class: "dm-l", d: `M${x - 9} ${y}h18M${x} ${y - 9}v18` }),
        el("text", { class: "side-name", x: x + 11, y: y - 6 }, name),
      );
    }
    for (const { text, at } of data.marks) {
      const [x, y] = viewport.px(...at).map(n1),
        g = el("g", { class: "remark-mark" });
      g.append(
        el("circle", { cx: x, cy: y, r: 11 }),
        el("text", { x, y: y + 5, "text-anchor": "middle" }, "!"),
        el("title", {}, text),
      );
      labels.append(g);
    }
  };
  const showFields = () => {
    for (const side of form.querySelectorAll("[data-side]")) {
      const treatment = side.querySelector("select").value;
      for (const label of side.querySelectorAll("[data-for]"))
        label.hidden = !label.dataset.for.split(" ").includes(treatment);
      side.querySelector(".more").hidden = treatment === "butt";
    }
  };
  const preview = lastOnly(async (current) => {
    const answer = await ask(url, new FormData(form));
    if (!current()) return;
    errors.replaceChildren();
    if (!answer.ok) {
      errors.append(errorBox(answer.data.error));
      return;
    }
    data = answer.data.board;
    form.querySelector("[data-figures]").innerHTML = answer.data.figures;
    cells.forEach((cell, i) => {
      cell.textContent = answer.data.cells[i];
    });
    viewport.bounds = answer.data.bounds;
    draw();
    if (viewport.fitted) viewport.fit();
    else viewport.draw();
  }, 180);
  form.addEventListener("input", () => {
    showFields();
    preview();
  });
  showFields();
  viewport.onChange(place);
  draw();
}

const svg = document.querySelector("[data-pattern-board]"),
  form = document.querySelector("[data-pattern-form]");
if (svg && form) mount(svg, form);
