/** A turntable: points and lines in space, turned by drag or arrow keys. Plain projection, no perspective: lengths stay comparable. */
import { el, n1, pageData } from "frame/svg.js";
import { figure } from "frame/units.js";
import { arrow, target } from "datums/marks.js";

const START = [-0.62, 0.42], STEP = Math.PI / 36;

export function mount(svg) {
  const table = pageData("turntable"), { points, lines, body, exaggeration } = table, by = new Map(points.map((p) => [p.code, p]));
  const all = [...points.map((p) => p.at), ...body.flat()];
  const middle = [0, 1, 2].map((i) => (Math.min(...all.map((p) => p[i])) + Math.max(...all.map((p) => p[i]))) / 2);
  const reach = Math.max(...all.map((p) => Math.hypot(...p.map((v, i) => v - middle[i])))) || 1;
  let [turn, tilt] = START, zoom = 1, shift = [0, 0], dragged = 0;
  const layer = svg.appendChild(el("g"));

  const project = ([x, y, z], k, cx, cy) => {
    const a = x - middle[0], b = y - middle[1], c = z - middle[2], s = Math.sin(turn), t = Math.cos(turn);
    const right = a * t - b * s, deep = a * s + b * t;
    return [cx + right * k, cy - (c * Math.cos(tilt) + deep * Math.sin(tilt)) * k, deep * Math.cos(tilt) - c * Math.sin(tilt)];
  };
  const draw = () => {
    const { width, height } = svg.getBoundingClientRect();
    if (!width) return;
    const k = (Math.min(width, height * 1.35) / 2 / reach) * 1.04 * zoom, cx = width / 2 + shift[0], cy = height * 0.46 + shift[1], at = (p) => project(p, k, cx, cy);
    const focused = layer.contains(document.activeElement) ? document.activeElement.dataset.code : null;
    layer.replaceChildren();
    // the side that faces away is drawn fainter
    const far = body.map((line) => ({ line: line.map(at), depth: (line.reduce((sum, p) => sum + p[1], 0) / line.length) * Math.cos(turn) })).sort((a, b) => b.depth - a.depth);
    for (const { line, depth } of far) layer.append(el("path", { class: depth > 0 ? "tt-far" : "tt-near", d: `M${line.map((p) => `${n1(p[0])} ${n1(p[1])}`).join("L")}` }));
    layer.append(el("path", { class: "tt-line", d: lines.map(([a, b]) => [by.get(a), by.get(b)]).filter(([a, b]) => a && b).map(([a, b]) => `M${at(a.at).slice(0, 2).map(n1).join(" ")}L${at(b.at).slice(0, 2).map(n1).join(" ")}`).join("") }));
    for (const point of points) {
      const p = at(point.at), link = el("a", { href: point.href, class: `dlab is-${point.flag}${point.selected ? " is-sel" : ""}`, "data-code": point.code, "aria-label": `Datum ${point.code}, ${point.name}${point.length == null ? "" : `, ${figure(point.length, 1)} off`}` });
      link.append(target(p[0], p[1], 5, point.trusted));
      if (point.off) link.append(arrow(p, at(point.at.map((v, i) => v + point.off[i] * exaggeration)), point.flag));
      if (point.selected) link.append(el("rect", { class: "dl-b", x: n1(p[0] + 7), y: n1(p[1] - 19), width: 30, height: 18 }));
      link.append(el("text", { class: "numb", x: n1(p[0] + 10), y: n1(p[1] - 6) }, point.code), el("rect", { class: "hit", x: n1(p[0] - 22), y: n1(p[1] - 22), width: 44, height: 44 }));
      layer.append(link);
      if (focused === point.code) link.focus();
    }
    axes(width, height);
    svg.dataset.turn = `${turn.toFixed(3)} ${tilt.toFixed(3)}`;
    svg.dataset.ready = "";
  };
  const axes = (width, height) => {
    const x = 56, y = height - 56, g = el("g", { class: "tt-axes" });
    for (const [name, way] of [["aft", [1, 0, 0]], ["right", [0, 1, 0]], ["up", [0, 0, 1]]]) {
      const p = project(way.map((v, i) => v + middle[i]), 34, 0, 0);
      g.append(arrow([x, y], [x + p[0], y + p[1]], "ok"), el("text", { class: "lab", x: n1(x + p[0] * 1.25), y: n1(y + p[1] * 1.25 + 5), "text-anchor": "middle" }, name));
    }
    layer.append(g);
  };
  const turned = (dx, dy) => { turn += dx; tilt = Math.max(-Math.PI / 2, Math.min(Math.PI / 2, tilt + dy)); draw(); };

  const down = new Map();
  let gap = 0;
  svg.addEventListener("pointerdown", (event) => { down.set(event.pointerId, [event.clientX, event.clientY]); dragged = 0; });
  svg.addEventListener("pointermove", (event) => {
    const before = down.get(event.pointerId);
    if (!before) return;
    const here = [event.clientX, event.clientY];
    dragged += Math.hypot(here[0] - before[0], here[1] - before[1]);
    down.set(event.pointerId, here);
    if (dragged > 4 && !svg.hasPointerCapture(event.pointerId)) svg.setPointerCapture(event.pointerId);
    if (down.size === 2) {
      const [a, b] = [...down.values()], now = Math.hypot(a[0] - b[0], a[1] - b[1]);
      if (gap) { zoom = Math.max(0.5, Math.min(8, zoom * (now / gap))); draw(); }
      gap = now;
    } else if (event.shiftKey || event.buttons === 4) { shift = [shift[0] + here[0] - before[0], shift[1] + here[1] - before[1]]; draw(); }
    else if (dragged > 4) turned((here[0] - before[0]) / 160, (here[1] - before[1]) / 160);
  });
  for (const type of ["pointerup", "pointercancel"]) svg.addEventListener(type, (event) => { down.delete(event.pointerId); gap = 0; });
  svg.addEventListener("click", (event) => { if (dragged > 6) event.preventDefault(); }, true);
  svg.addEventListener("wheel", (event) => { event.preventDefault(); zoom = Math.max(0.5, Math.min(8, zoom * Math.exp(-event.deltaY * 0.0016))); draw(); }, { passive: false });
  const set = (factor) => { if (factor) zoom = Math.max(0.5, Math.min(8, zoom * factor)); else { [turn, tilt] = START; zoom = 1; shift = [0, 0]; } draw(); };
  svg.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const keys = { ArrowLeft: () => turned(-STEP, 0), ArrowRight: () => turned(STEP, 0), ArrowUp: () => turned(0, -STEP), ArrowDown: () => turned(0, STEP), "+": () => set(1.25), "=": () => set(1.25), "-": () => set(0.8), 0: () => set() };
    if (keys[event.key]) { event.preventDefault(); keys[event.key](); }
  });
  for (const button of svg.closest(".ys-board").querySelectorAll("[data-zoom]")) button.addEventListener("click", () => set(button.dataset.zoom === "fit" ? 0 : Number(button.dataset.zoom)));
  new ResizeObserver(draw).observe(svg);
  draw();
}

for (const svg of document.querySelectorAll("[data-turntable]")) mount(svg);
for (const select of document.querySelectorAll("[data-go]")) select.addEventListener("change", () => select.form.submit());
