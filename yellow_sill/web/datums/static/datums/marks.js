/**
 * Marks of the datum boards: quartered targets, deviation arrows, ellipses, stands, label rows. Draws;
 * judges nothing.
 */
import { el, n1 } from "frame/svg.js";

/** A quartered target at a px place. */
export function target(x, y, r = 6, trusted = false) {
  const g = el("g", { class: `dp${trusted ? " is-trusted" : ""}` });
  g.append(el("circle", { class: "dp-c", cx: n1(x), cy: n1(y), r }));
  g.append(
    el("path", {
      class: "dp-q",
      d: `M${n1(x)} ${n1(y)}v${-r}a${r} ${r} 0 0 1 ${r} ${r}zM${n1(x)} ${n1(y)}v${r}a${r} ${r} 0 0 1 ${-r} ${-r}z`,
    }),
  );
  if (trusted) g.append(el("circle", { class: "dp-t", cx: n1(x), cy: n1(y), r: r + 3 }));
  return g;
}

/** An arrow from a to b in px; flag names its colour and weight. */
export function arrow([x0, y0], [x1, y1], flag) {
  const dx = x1 - x0,
    dy = y1 - y0,
    length = Math.hypot(dx, dy),
    g = el("g", { class: `dv dv-${flag}` });
  if (length < 3) return g;
  const u = [dx / length, dy / length],
    head = Math.min(8, length * 0.6),
    bx = x1 - u[0] * head,
    by = y1 - u[1] * head,
    w = head * 0.5;
  g.append(el("path", { class: "dv-l", d: `M${n1(x0)} ${n1(y0)}L${n1(bx)} ${n1(by)}` }));
  g.append(
    el("path", {
      class: "dv-h",
      d: `M${n1(x1)} ${n1(y1)}L${n1(bx - u[1] * w)} ${n1(by + u[0] * w)}L${n1(bx + u[1] * w)} ${n1(by - u[0] * w)}Z`,
    }),
  );
  return g;
}

/** A trestle stand standing at (x, y), its head there. */
export function trestle(x, y) {
  const g = el("g", { class: "trestle" });
  g.append(
    el("path", {
      class: "st-l",
      d: `M${n1(x - 4)} ${y + 5}L${n1(x - 13)} ${y + 22}M${n1(x + 4)} ${y + 5}L${n1(x + 13)} ${y + 22}`,
    }),
  );
  g.append(
    el("path", { class: "st-b", d: `M${n1(x - 17)} ${y + 22}h34` }),
    el("rect", { class: "st-h", x: n1(x - 12), y, width: 24, height: 5 }),
  );
  return g;
}
