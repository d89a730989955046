/**
 * Paint-pen strokes: two passes that disagree slightly, a pooled edge beneath, round ends. Seeded, so
 * they do not wriggle.
 */
import { el } from "frame/svg.js";

function seeded(seed) {
  // mulberry32
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

const smooth = (p) => {
  let d = `M${p[0][0].toFixed(1)} ${p[0][1].toFixed(1)}`;
  for (let i = 1; i < p.length - 1; i++) {
    const [x, y] = p[i],
      [x1, y1] = p[i + 1],
      middle = `${((x + x1) / 2).toFixed(1)} ${((y + y1) / 2).toFixed(1)}`;
    d += `Q${x.toFixed(1)} ${y.toFixed(1)} ${middle}`;
  }
  return d + `L${p.at(-1)[0].toFixed(1)} ${p.at(-1)[1].toFixed(1)}`;
};

/** A stroke through px points. */
export function stroke(points, { width = 6.5, seed = 1, wobble = 1 } = {}) {
  const rng = seeded(seed),
    either = () => rng() * 2 - 1;
  let x = 0,
    y = 0;
  const first = points.map(([a, b]) => {
    x = x * 0.72 + either() * wobble * 0.5;
    y = y * 0.72 + either() * wobble * 0.5;
    return [a + x, b + y];
  });
  x = y = 0;
  const second = first.map(([a, b]) => {
    x = x * 0.8 + either() * width * 0.11;
    y = y * 0.8 + either() * width * 0.11;
    return [a + x, b + y];
  });
  const w = width * 0.82,
    group = el("g", { class: "pen", "aria-hidden": "true" });
  for (const [cls, wide] of [
    ["pen-e", w + 1.8],
    ["pen-f", w],
  ])
    for (const p of [first, second])
      group.append(el("path", { class: cls, "stroke-width": wide.toFixed(1), d: smooth(p) }));
  return group;
}

/** A hand-laid ring that overshoots its start. */
export function ring(cx, cy, rx, ry, seed = 1) {
  const points = [];
  for (let i = 0; i <= 43; i++) {
    const a = ((-18 + i * 9) * Math.PI) / 180,
      k =
        1 +
        0.035 * Math.sin(2 * a + seed) +
        0.02 * Math.sin(3 * a + 1.3 * seed) +
        (i > 40 ? 0.03 * (i - 40) : 0);
    points.push([cx + rx * k * Math.cos(a), cy + ry * k * Math.sin(a)]);
  }
  const group = stroke(points, { seed, width: 6.5 });
  group.classList.add("pen-ring");
  return group;
}

/** A straight-sided stroke along a closed outline, sampled so that the pen has something to disagree about. */
export function along(points, closed, options) {
  const all = closed ? [...points, points[0]] : points,
    out = [all[0]];
  for (let i = 1; i < all.length; i++) {
    const [a, b] = [all[i - 1], all[i]],
      pieces = Math.max(1, Math.round(Math.hypot(b[0] - a[0], b[1] - a[1]) / 9));
    for (let j = 1; j <= pieces; j++)
      out.push([a[0] + ((b[0] - a[0]) * j) / pieces, a[1] + ((b[1] - a[1]) * j) / pieces]);
  }
  return stroke(out, options);
}
