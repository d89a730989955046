/** The enlarged detail of the chosen finding, with its width and height. */
import { boundsOf, el, n1, off, pageData, pt } from "frame/svg.js";
import { figure } from "frame/units.js";
import { Viewport } from "frame/viewport.js";

/** A dimension between two px places, offset sideways; the figure sits on a paper patch in the line. */
export function dimension(a, b, offset, figure) {
  const length = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1,
    u = [(b[0] - a[0]) / length, (b[1] - a[1]) / length],
    n = [-u[1], u[0]];
  const p = [a[0] + n[0] * offset, a[1] + n[1] * offset],
    q = [b[0] + n[0] * offset, b[1] + n[1] * offset],
    s = Math.sign(offset);
  const g = el("g", { class: "dim" });
  for (const [from, to] of [
    [a, p],
    [b, q],
  ])
    g.append(
      el("path", {
        class: "dm-e",
        d: `M${pt(off(from, n, 3 * s))}L${pt(off(to, n, 5 * s))}`,
      }),
    );
  g.append(el("path", { class: "dm-l", d: `M${n1(p[0])} ${n1(p[1])}L${n1(q[0])} ${n1(q[1])}` }));
  for (const [tip, way] of [
    [p, 1],
    [q, -1],
  ]) {
    const c = [tip[0] + u[0] * way * 8, tip[1] + u[1] * way * 8];
    g.append(
      el("path", {
        class: "dm-a",
        d: `M${pt(tip)}L${pt(off(c, n, 2.2))}L${pt(off(c, n, -2.2))}Z`,
      }),
    );
  }
  const w = figure.length * 7.6 + 6,
    x = (p[0] + q[0]) / 2,
    y = (p[1] + q[1]) / 2,
    turned = Math.abs(u[1]) > 0.7 ? ` rotate(-90 ${n1(x)} ${n1(y)})` : "";
  g.append(
    el("rect", {
      class: "dm-bg",
      x: n1(x - w / 2),
      y: n1(y - 8),
      width: n1(w),
      height: 16,
      transform: turned,
    }),
  );
  g.append(
    el(
      "text",
      { class: "dm-t", x: n1(x), y: n1(y + 4.4), "text-anchor": "middle", transform: turned },
      figure,
    ),
  );
  return g;
}

export function mount(svg) {
  const [u0, v0, u1, v1] = boundsOf(pageData(svg.dataset.outline)),
    edge = Math.max(30, 0.35 * Math.max(u1 - u0, v1 - v0));
  const viewport = new Viewport(svg, {
    bounds: [u0 - edge, v0 - edge, u1 + edge, v1 + edge],
    rulers: false,
    pad: [4, 4, 4, 4],
  });
  viewport.onChange(() => {
    const a = viewport.px(u0, v0),
      b = viewport.px(u1, v0),
      c = viewport.px(u1, v1);
    viewport.overlay.replaceChildren(
      dimension(a, b, 26, figure(u1 - u0)),
      dimension(b, c, 26, figure(v1 - v0)),
    );
  });
}

for (const svg of document.querySelectorAll("[data-detail]")) mount(svg);

// this page shows what is stored: the draft that led here is done with
const sent = sessionStorage.getItem("yellow-sill-sent");
if (sent) for (const key of [sent, "yellow-sill-sent"]) sessionStorage.removeItem(key);
