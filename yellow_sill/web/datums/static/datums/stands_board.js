/** Stands on the underside: dragged to where they are; the fields in the sheet are the truth. */
import { el, n1, pageData } from "frame/svg.js";
import { typed, written } from "frame/units.js";
import { Viewport } from "frame/viewport.js";
import { target } from "datums/marks.js";

const KEY_STEP_MM = 10;

export function mount(svg) {
  const board = pageData("datum-board"),
    viewport = new Viewport(svg, { bounds: JSON.parse(svg.dataset.bounds), pad: [14, 40, 14, 120] }),
    layer = viewport.overlay.appendChild(el("g"));
  const field = (i, name) => document.getElementById(`id_s-${i}-${name}`),
    added = new Map(board.stands.map((stand) => [stand.id, stand]));
  const stands = () =>
    [0, 1, 2, 3]
      .filter((i) => field(i, "id")?.value.trim())
      .map((i) => ({
        i,
        id: field(i, "id").value.trim(),
        x: typed(field(i, "x_mm").value),
        y: typed(field(i, "y_mm").value),
      }))
      .filter((s) => Number.isFinite(s.x) && Number.isFinite(s.y));
  // the fields follow the shell, x aft and y right; the drawing may run against it
  const [, sv] = viewport.signs,
    put = (s, [u, v]) => {
      field(s.i, "x_mm").value = written(Math.round(u * viewport.signs[0]));
      field(s.i, "y_mm").value = written(Math.round(v * sv));
      draw();
    };

  const draw = () => {
    const focused = layer.contains(document.activeElement) ? document.activeElement.dataset.handle : null;
    layer.replaceChildren();
    for (const point of board.points) {
      const [x, y] = viewport.px(...point.at);
      layer.append(
        target(x, y, 6, true),
        el("text", { class: "numb", x: n1(x + 11), y: n1(y - 8) }, point.code),
      );
    }
    for (const s of stands()) {
      const place = [s.x * viewport.signs[0], s.y * sv],
        [x, y] = viewport.px(...place),
        told = added.get(s.id);
      const g = el("g", {
        class: `stand${told?.light ? " is-light" : ""}`,
        "data-handle": s.id,
        tabindex: "0",
        role: "button",
        "aria-label": `Stand ${s.id} at ${written(s.x)}, ${written(s.y)}. Arrow keys move it.`,
      });
      g.append(
        el("circle", { class: "hit", cx: n1(x), cy: n1(y), r: 24 }),
        el("rect", { class: told?.add ? "pk" : "sq", x: n1(x - 13), y: n1(y - 13), width: 26, height: 26 }),
        el("path", {
          class: "sqx",
          d: `M${n1(x - 13)} ${n1(y - 13)}l26 26M${n1(x + 13)} ${n1(y - 13)}l-26 26`,
        }),
      );
      const text = told?.add
        ? `${told.add > 0 ? "+" : "−"}${Math.abs(told.add)} mm`
        : told?.light
          ? "light"
          : "";
      const above = place[1] > 0; // its words stand outside the row of stands
      g.append(
        el(
          "text",
          { class: "cap dl-name", x: n1(x), y: n1(y + (above ? -20 : 31)), "text-anchor": "middle" },
          text ? `${s.id}  ${text}` : s.id,
        ),
      );
      g.addEventListener("pointerdown", (event) => grab(event, s));
      g.addEventListener("keydown", (event) => {
        const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key],
          step = event.shiftKey ? KEY_STEP_MM * 5 : KEY_STEP_MM;
        if (!by) return;
        event.preventDefault();
        event.stopPropagation();
        put(s, [place[0] + by[0] * step, place[1] + by[1] * step]);
      });
      layer.append(g);
      if (focused === s.id) g.focus();
    }
  };
  const grab = (event, s) => {
    event.preventDefault();
    event.stopPropagation();
    svg.setPointerCapture(event.pointerId);
    const move = (moving) => {
      if (moving.pointerId === event.pointerId) put(s, viewport.mm(...viewport.at(moving)));
    };
    const lift = () => {
      for (const [type, listener] of [
        ["pointermove", move],
        ["pointerup", lift],
        ["pointercancel", lift],
      ])
        svg.removeEventListener(type, listener);
    };
    for (const [type, listener] of [
      ["pointermove", move],
      ["pointerup", lift],
      ["pointercancel", lift],
    ])
      svg.addEventListener(type, listener);
  };
  for (const select of document.querySelectorAll("[data-go]"))
    select.addEventListener("change", () => select.form.submit());
  document.getElementById("stands-form").addEventListener("input", draw);
  viewport.onChange(draw);
}

for (const svg of document.querySelectorAll("[data-stands-board]")) mount(svg);
