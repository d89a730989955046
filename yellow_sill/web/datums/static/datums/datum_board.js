/**
 * The datum board: points with deviations, ellipses and labels, the long diagonals, height strips with
 * the stands in them.
 */
import { ring } from "frame/pen.js";
import { el, n1, pageData } from "frame/svg.js";
import { inches, reading } from "frame/units.js";
import { Viewport } from "frame/viewport.js";
import { dimension } from "survey/detail.js";
import { spread } from "frame/tags.js";
import { arrow, target, trestle } from "datums/marks.js";

const STEP = 46,
  KEY_MM = 3;
const signed = (mm) => `${mm < 0 ? "−" : "+"}${reading(Math.abs(mm))}`;

export function mount(svg) {
  const board = pageData("datum-board"),
    lower = board.strips.length > 0;
  const [u0, v0, u1, v1] = JSON.parse(svg.dataset.bounds),
    k = board.exaggeration;
  const height = svg.getBoundingClientRect().height,
    pad = lower ? [14, 56, 14, Math.max(250, height * 0.44)] : [14, 56, 14, 150];
  const viewport = new Viewport(svg, { bounds: [u0, v0, u1, v1], pad });
  const layer = viewport.overlay.appendChild(el("g", { "data-datum-layer": "" }));

  const marks = () => {
    for (const stand of board.plan ? board.stands : []) {
      const [x, y] = viewport.px(...stand.at);
      layer.append(
        el("rect", { class: "sq", x: n1(x - 8), y: n1(y - 8), width: 16, height: 16 }),
        el("path", { class: "sqx", d: `M${n1(x - 8)} ${n1(y - 8)}l16 16M${n1(x + 8)} ${n1(y - 8)}l-16 16` }),
      );
    }
    if (board.diagonals)
      for (const line of board.diagonals.lines)
        layer.append(
          dimension(viewport.px(...line.ends[0]), viewport.px(...line.ends[1]), 0, reading(line.mm)),
        );
    for (const point of board.points) {
      const [x, y] = viewport.px(...point.at);
      if (point.ellipse) {
        const [a, b, turn] = point.ellipse,
          [x, y] = viewport.px(point.at[0] + point.off[0] * k, point.at[1] + point.off[1] * k); // where it is now
        layer.append(
          el("ellipse", {
            class: "ell",
            cx: n1(x),
            cy: n1(y),
            rx: n1(a * k * viewport.k),
            ry: n1(b * k * viewport.k),
            transform: `rotate(${-turn} ${n1(x)} ${n1(y)})`,
          }),
        );
      }
      layer.append(target(x, y, 6, point.trusted));
      if (point.off)
        layer.append(
          arrow(
            [x, y],
            viewport.px(point.at[0] + point.off[0] * k, point.at[1] + point.off[1] * k),
            point.flag,
          ),
        );
      if (point.selected) layer.append(ring(x, y, 20, 18, point.code.length * 7 + point.code.charCodeAt(0)));
    }
  };

  const labels = () => {
    const focused = layer.contains(document.activeElement) ? document.activeElement.dataset.code : null;
    const mid = (v0 + v1) / 2,
      sided = board.points.length > 14,
      rows = [[], []];
    for (const point of board.points) {
      const at = viewport.px(...point.at);
      if (at[0] > viewport.left && at[0] < viewport.width && at[1] > viewport.top)
        rows[sided && point.at[1] < mid ? 1 : 0].push({ ...point, px: at });
    }
    const top = Math.max(viewport.top + 16, viewport.px(u0, v1)[1] - 38),
      low = viewport.px(u0, v0)[1] + 22;
    rows.forEach((group, row) => {
      group.sort((a, b) => a.px[0] - b.px[0]);
      const room = Math.floor((viewport.width - viewport.left - 20) / STEP);
      if (group.length > room)
        group.splice(
          0,
          group.length,
          ...group
            .sort((a, b) => b.selected - a.selected || (b.length ?? 0) - (a.length ?? 0))
            .slice(0, room)
            .sort((a, b) => a.px[0] - b.px[0]),
        );
      const xs = spread(
          group.map((point) => point.px[0]),
          viewport.left + 26,
          viewport.width - 26,
          STEP,
        ),
        y = row ? low : top;
      group.forEach((point, i) => {
        const [x, yp] = point.px,
          told = point.length === undefined ? "" : reading(point.length);
        const link = el(point.href ? "a" : "g", {
          ...(point.href ? { href: point.href } : {}),
          class: `dlab is-${point.flag}${point.selected ? " is-sel" : ""}`,
          "data-code": point.code,
          "aria-label": `Datum ${point.code}, ${point.name}${told ? `, ${told} off` : ""}`,
          ...(point.selected ? { "aria-current": "true" } : {}),
        });
        link.append(
          el("path", {
            class: "dp-l",
            d: `M${n1(x)} ${n1(yp + (row ? 7 : -7))}L${n1(xs[i])} ${n1(row ? y - 14 : y + (told ? 20 : 6))}`,
          }),
        );
        if (point.selected)
          link.append(
            el("rect", { class: "dl-b", x: n1(xs[i] - 21), y: y - 14, width: 42, height: told ? 33 : 18 }),
          );
        link.append(el("text", { class: "numb", x: n1(xs[i]), y: y, "text-anchor": "middle" }, point.code));
        if (told)
          link.append(el("text", { class: "num", x: n1(xs[i]), y: y + 15, "text-anchor": "middle" }, told));
        link.append(el("rect", { class: "hit", x: n1(xs[i] - 22), y: y - 20, width: 44, height: 44 }));
        layer.append(link);
        if (focused === point.code) link.focus();
      });
    });
    return low;
  };

  const stripes = (below) => {
    const bottom = viewport.height - 118,
      free = bottom - below - 24,
      each = free / board.strips.length;
    if (each < 46) return;
    const scale = Math.min(
        k * viewport.k,
        (each - 30) / 2 / Math.max(3, ...board.strips.flatMap((s) => s.points.map((p) => Math.abs(p.dz)))),
      ),
      times = Math.round(scale / viewport.k);
    board.strips.forEach((strip, i) => {
      const y = below + 40 + each * i + each * 0.35,
        xs = strip.points.map((p) => viewport.px(p.u, 0)[0]);
      layer.append(
        el("path", {
          class: "zline",
          d: `M${n1(viewport.px(u0, 0)[0])} ${n1(y)}H${n1(viewport.px(u1, 0)[0])}`,
        }),
      );
      layer.append(
        el(
          "text",
          { class: "cap dl-name", x: n1(viewport.px(u1, 0)[0] - 4), y: n1(y - 10), "text-anchor": "end" },
          `${strip.title}, height ×${times}`,
        ),
      );
      const at = strip.points.map((p, j) => [xs[j], y - p.dz * scale]);
      for (const stand of board.stands.filter((s) => board.strips.length < 2 || s.left === (i === 0))) {
        const x = viewport.px(...stand.at)[0],
          head = y + 26;
        if (stand.add)
          layer.append(el("rect", { class: "pk", x: n1(x - 16), y: head - 7, width: 32, height: 7 }));
        layer.append(
          trestle(x, head),
          el("text", { class: "lab", x: n1(x - 20), y: head + 18, "text-anchor": "end" }, stand.id),
        );
      }
      layer.append(
        el("path", { class: "zpoly", d: `M${at.map(([x, yy]) => `${n1(x)} ${n1(yy)}`).join("L")}` }),
      );
      let last = -99;
      strip.points.forEach((p, j) => {
        const [x, yy] = at[j];
        layer.append(
          el("path", { class: `zs z-${p.flag}`, d: `M${n1(x)} ${n1(y)}V${n1(yy)}` }),
          el("rect", { class: `zd z-${p.flag}`, x: n1(x - 3), y: n1(yy - 3), width: 6, height: 6 }),
        );
        if (x - last < 40 || Math.abs(p.dz) < (p.flag === "ok" ? 0.8 : 0.3)) return;
        last = x;
        layer.append(
          el(
            "text",
            {
              class: `num z-${p.flag}`,
              x: n1(x),
              y: n1(p.dz < 0 ? yy + 16 : yy - 8),
              "text-anchor": "middle",
            },
            signed(p.dz),
          ),
        );
      });
    });
  };

  const key = () => {
    if (!board.points.some((p) => p.off)) return;
    const y = viewport.height - 22,
      x = viewport.left + 190;
    layer.append(
      arrow([x, y], [x + Math.max(10, KEY_MM * k * viewport.k), y], "out"),
      el(
        "text",
        { class: "lab", x: n1(x + Math.max(10, KEY_MM * k * viewport.k) + 8), y: y + 5 },
        `${inches ? reading(KEY_MM) + " in" : "3 mm"} ${board.moves ? "moved" : "off"}, drawn ×${k}` +
          (board.moves ? "" : "; dashed: 95 % sure"),
      ),
    );
  };

  viewport.onChange(() => {
    layer.replaceChildren();
    marks();
    const low = labels();
    if (lower) stripes(low);
    key();
  });
}

for (const svg of document.querySelectorAll("[data-datum-board]")) mount(svg);
for (const select of document.querySelectorAll("[data-go]"))
  select.addEventListener("change", () => select.form.submit());
