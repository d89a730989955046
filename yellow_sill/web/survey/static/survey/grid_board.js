/** Thickness readings in a grid: cells to tap, typed or taken from the gauge. */
import { ask, errorBox } from "frame/ask.js";
import { el, n1, pageData } from "frame/svg.js";
import { Viewport } from "frame/viewport.js";

export function mount(svg) {
  const sheet = document.querySelector(".ys-sheet"),
    form = sheet.querySelector("[data-reading]"),
    input = form.querySelector("input"),
    errors = sheet.querySelector("[data-errors]");
  const [a, b, c, d] = JSON.parse(svg.dataset.focus),
    edge = Math.max(c - a, d - b, 60) * 0.1;
  const viewport = new Viewport(svg, { bounds: [a - edge, b - edge, c + edge, d + edge], mostZoom: 60 });
  const layer = viewport.overlay.appendChild(el("g"));
  let cells = pageData("grid-cells"),
    chosen = 0,
    busy = false,
    again = false;
  const name = (cell) => {
    const [u, v] = viewport.shell([
      (cell.square[0] + cell.square[2]) / 2,
      (cell.square[1] + cell.square[3]) / 2,
    ]);
    return `${n1(u)}, ${n1(v)} mm`;
  };

  const draw = () => {
    const held = layer.contains(document.activeElement);
    layer.replaceChildren();
    cells.forEach((cell, i) => {
      const [x0, y1] = viewport.px(cell.square[0], cell.square[1]),
        [x1, y0] = viewport.px(cell.square[2], cell.square[3]),
        w = x1 - x0;
      const told = cell.mm === null ? "not read" : `${cell.mm.toFixed(2)} mm, ${cell.loss.toFixed(0)} % lost`;
      const g = el("g", {
        class: `gcell${i === chosen ? " is-on" : ""}${cell.mm === null ? "" : ` is-${cell.grade}`}`,
        role: "button",
        tabindex: i === chosen ? "0" : "-1",
        "aria-label": `Cell at ${name(cell)}, ${told}`,
      });
      g.append(el("rect", { x: n1(x0), y: n1(y0), width: n1(w), height: n1(y1 - y0) }));
      if (cell.mm !== null && w > 34) {
        g.append(
          el(
            "text",
            {
              x: n1(x0 + w / 2),
              y: n1((y0 + y1) / 2 + (w > 46 ? -2 : 5)),
              "text-anchor": "middle",
              class: "num",
            },
            cell.mm.toFixed(2),
          ),
        );
        if (w > 46)
          g.append(
            el(
              "text",
              { x: n1(x0 + w / 2), y: n1((y0 + y1) / 2 + 14), "text-anchor": "middle", class: "loss" },
              `${cell.loss > 0 ? "−" : "+"}${Math.abs(cell.loss).toFixed(0)} %`,
            ),
          );
      }
      g.addEventListener("click", () => {
        if (viewport.moved <= 6) choose(i);
      });
      layer.append(g);
      if (held && i === chosen) g.focus();
    });
  };
  const rows = () => {
    const body = sheet.querySelector("[data-rows] tbody");
    body.replaceChildren(
      ...cells
        .filter((cell) => cell.mm !== null)
        .map((cell) => {
          const row = document.createElement("tr");
          for (const [tag, text] of [
            ["th", name(cell)],
            ["td", cell.mm.toFixed(2)],
            ["td", cell.loss.toFixed(0)],
          ])
            row.append(Object.assign(document.createElement(tag), { textContent: text, className: "mm" }));
          return row;
        }),
    );
  };
  const choose = (i, typed = "") => {
    chosen = i;
    input.value = typed || (cells[i].mm ?? "");
    form.querySelector("[data-cell-name]").textContent =
      `Cell ${i + 1} of ${cells.length}, at ${name(cells[i])}`;
    draw();
    if (!typed && matchMedia("(hover: hover)").matches) input.select();
  };
  const send = async (more) => {
    if (busy) {
      again = !more.gauge;
      return;
    }
    busy = true;
    const sent = input.value;
    sheet.querySelector("[data-gauge]").disabled = true;
    const cell = cells[chosen],
      answer = await ask(svg.dataset.url, { column: cell.column, row: cell.row, ...more });
    busy = false;
    sheet.querySelector("[data-gauge]").disabled = false;
    errors.replaceChildren();
    if (!answer.ok) {
      again = false;
      errors.append(errorBox(answer.data.error));
      return;
    }
    cells = answer.data.grid;
    for (const slot of sheet.querySelectorAll("[data-sum]"))
      slot.textContent = answer.data.summary?.[slot.dataset.sum] ?? "–";
    sheet.querySelector("[data-grade]").textContent = answer.data.grade;
    rows();
    const next = cells.findIndex((c, i) => i > chosen && c.mm === null);
    choose(
      next >= 0 ? next : chosen,
      input.value === sent ? "" : input.value.startsWith(sent) ? input.value.slice(sent.length) : input.value,
    ); // half typed already
    if (again) {
      again = false;
      form.requestSubmit();
    }
  };
  form.addEventListener("submit", (event) => {
    event.preventDefault();
    send({ mm: input.value });
  });
  sheet.querySelector("[data-gauge]").addEventListener("click", () => send({ gauge: true }));
  svg.addEventListener("keydown", (event) => {
    if (!event.target.closest(".gcell")) return;
    const [du, dv] = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[
      event.key
    ] ?? [0, 0];
    if (event.key === "Enter" || event.key === " ") {
      input.focus();
      event.preventDefault();
      return;
    }
    if (!du && !dv) return;
    const to = cells.findIndex(
      (cell) => cell.column === cells[chosen].column + du && cell.row === cells[chosen].row + dv,
    );
    if (to >= 0) {
      choose(to);
      layer.children[to].focus();
    }
    event.preventDefault();
    event.stopPropagation();
  });
  viewport.onChange(draw);
  rows();
  choose(
    Math.max(
      0,
      cells.findIndex((cell) => cell.mm === null),
    ),
    input.value,
  );
}

for (const svg of document.querySelectorAll("[data-grid-board]")) mount(svg);
