/** Number tags beside the metal: two rows, above and below the shell, leaders that do not cross. */
import { el, n1 } from "frame/svg.js";
import { ring } from "frame/pen.js";

const WIDE = 44,
  HIGH = 24,
  STEP = 50;
const WORST_FIRST = "HTPFSO";

/** One tag as SVG at a px place. tag: {n, letter, selected}. */
export function tagShape(x, y, { n, letter, selected }) {
  const x0 = x - WIDE / 2,
    y0 = y - HIGH / 2,
    g = el("g", { class: `tag${selected ? " is-sel" : ""}` });
  const split = letter ? WIDE / 2 : WIDE;
  g.append(el("rect", { class: "tag-n", x: x0, y: y0, width: split, height: HIGH }));
  if (letter) g.append(el("rect", { class: "tag-g", x: x0 + split, y: y0, width: WIDE / 2, height: HIGH }));
  g.append(el("text", { class: "tag-t", x: x0 + split / 2, y: y + 5, "text-anchor": "middle" }, String(n)));
  if (letter)
    g.append(
      el("text", { class: "tag-t tag-gt", x: x0 + WIDE * 0.75, y: y + 5, "text-anchor": "middle" }, letter),
    );
  g.append(el("rect", { class: "tag-o", x: x0, y: y0, width: WIDE, height: HIGH }));
  return g;
}

/** Places along one row so that neighbours keep their distance and stay in the field; rows are sorted by anchor. */
export function spread(anchors, low, high, step = STEP) {
  const xs = anchors.map((a) => Math.min(high, Math.max(low, a)));
  for (let i = 1; i < xs.length; i++) xs[i] = Math.max(xs[i], xs[i - 1] + step);
  if (xs.length && xs.at(-1) > high) {
    xs[xs.length - 1] = high;
    for (let i = xs.length - 2; i >= 0; i--) xs[i] = Math.min(xs[i], xs[i + 1] - step);
  }
  return xs;
}

/**
 * Draw tags into the viewport's overlay; each is a link.
 * tags: [{n, letter, at: [u, v], bounds: [u0, v0, u1, v1], selected, href, name}].
 */
export function layTags(viewport, tags, { keepOff = [0, 0] } = {}) {
  const layer =
    viewport.overlay.querySelector("[data-tags]") ??
    viewport.overlay.appendChild(el("g", { "data-tags": "" }));
  const focused = layer.contains(document.activeElement) ? document.activeElement.dataset.n : null;
  layer.replaceChildren();
  const { left, top, width, height } = viewport,
    [u0, v0, , v1] = viewport.bounds;
  const yTop = Math.max(top + 18, viewport.px(u0, v1)[1] - 24),
    yLow = Math.min(height - 18, viewport.px(u0, v0)[1] + 26);
  const inField = tags
    .map((tag) => ({ ...tag, px: viewport.px(...tag.at) }))
    .filter(({ px: [x, y] }) => x > left && x < width && y > top && y < height);
  const room = Math.floor((width - left - 20) / STEP);
  const rows = [[], []];
  for (const tag of inField) rows[tag.at[1] > (v0 + v1) / 2 ? 0 : 1].push(tag);
  for (const [row, group] of rows.entries()) {
    const chosen = group
      .sort(
        (a, b) =>
          (b.selected ? 1 : 0) - (a.selected ? 1 : 0) ||
          WORST_FIRST.indexOf(a.letter) - WORST_FIRST.indexOf(b.letter),
      )
      .slice(0, room);
    chosen.sort((a, b) => a.px[0] - b.px[0]);
    const right = width - 26 - (row ? keepOff[0] : 0),
      y = row ? yLow : yTop;
    const scaleBar = row && y > height - 46 ? 250 : 0; // it stands in the lower left corner
    const xs = spread(
      chosen.map((tag) => tag.px[0]),
      left + 28 + scaleBar,
      right,
    );
    for (const [i, tag] of chosen.entries()) {
      const [x, yp] = tag.px,
        link = el("a", {
          href: tag.href,
          class: "finding",
          "data-n": tag.n,
          "aria-label": tag.name,
          ...(tag.selected ? { "aria-current": "true" } : {}),
        });
      link.append(
        el("path", {
          class: "fd-lead",
          d: `M${n1(x)} ${n1(yp)}L${n1(xs[i])} ${n1(y + (row ? -HIGH / 2 : HIGH / 2))}`,
        }),
        el("circle", { class: "fd-dot", cx: n1(x), cy: n1(yp), r: 2.2 }),
      );
      link.append(
        tagShape(n1(xs[i]), n1(y), tag),
        el("rect", { class: "hit", x: n1(xs[i] - 22), y: n1(y - 22), width: 44, height: 44 }),
      );
      if (tag.selected) {
        const [a, b] = [viewport.px(tag.bounds[0], tag.bounds[3]), viewport.px(tag.bounds[2], tag.bounds[1])];
        layer.append(
          ring(
            (a[0] + b[0]) / 2,
            (a[1] + b[1]) / 2,
            Math.max(18, (b[0] - a[0]) * 0.72),
            Math.max(16, (b[1] - a[1]) * 0.76),
            Number(String(tag.n).replace(/\D/g, "")) || 1,
          ),
        );
      }
      layer.append(link);
      if (focused === String(tag.n)) link.focus();
    }
  }
}
