/** Number tags beside the metal: two rows, above and below the shell, leaders that do not cross. */
import { focusAgain, focusedIn } from "frame/board/page.js";
import { ring } from "frame/board/pen.js";
import { el, n1 } from "frame/board/svg.js";

/** @typedef {import("frame/board/svg.js").Point} Point */
/** @typedef {import("frame/board/viewport.js").Viewport} Viewport */
/**
 * A tag of a finding or cut: its number, grade letter if any, its middle and bounds on the metal.
 * @typedef {{ n: string | number, letter?: string, at: Point, bounds: import("frame/board/svg.js").Bounds,
 *   selected?: boolean, href?: string, name: string }} Tag
 */

const WIDE = 44,
  HIGH = 24,
  STEP = 50,
  HIT = 44;
const WORST_FIRST = "HTPFSO";
/**
 * Between a row and the shell, and between a row and the field's edge, px; what the scale bar takes of the lower
 * row.
 */
const ABOVE_PX = 24,
  BELOW_PX = 26,
  EDGE_PX = 18,
  BAR_PX = 250,
  BAR_HIGH_PX = 46;
/** A chosen finding is ringed at least so wide and high, px. */
const RING_PX = [18, 16];

/**
 * One tag as SVG at a px place.
 * @param {number} x
 * @param {number} y
 * @param {Pick<Tag, "n" | "letter" | "selected">} tag
 */
export function tagShape(x, y, { n, letter, selected }) {
  const x0 = x - WIDE / 2,
    y0 = y - HIGH / 2,
    split = letter ? WIDE / 2 : WIDE,
    words = { y: y + 5, "text-anchor": "middle" };
  const g = el(
    "g",
    { class: `tag${selected ? " is-sel" : ""}` },
    el("rect", { class: "tag-n", x: x0, y: y0, width: split, height: HIGH }),
    el("text", { class: "tag-t", x: x0 + split / 2, ...words }, String(n)),
  );
  if (letter)
    g.append(
      el("rect", { class: "tag-g", x: x0 + split, y: y0, width: WIDE / 2, height: HIGH }),
      el("text", { class: "tag-t tag-gt", x: x0 + WIDE * 0.75, ...words }, letter),
    );
  g.append(el("rect", { class: "tag-o", x: x0, y: y0, width: WIDE, height: HIGH }));
  return g;
}

/**
 * Places along one row so that neighbours keep their distance and stay in the field; rows are sorted by anchor.
 * @param {number[]} anchors
 * @param {number} low
 * @param {number} high
 * @param {number} [step]
 */
export function spread(anchors, low, high, step = STEP) {
  const xs = anchors.map((a) => Math.min(high, Math.max(low, a)));
  for (let i = 1; i < xs.length; i++) xs[i] = Math.max(xs[i], xs[i - 1] + step);
  const last = xs.length - 1;
  if (last >= 0 && xs[last] > high) {
    xs[last] = high;
    for (let i = last - 1; i >= 0; i--) xs[i] = Math.min(xs[i], xs[i + 1] - step);
  }
  return xs;
}

/**
 * A thin line from a tag to its place on the metal.
 * @param {Point} place
 * @param {number} x
 * @param {number} y
 */
export const leader = ([x0, y0], x, y) => [
  el("path", { class: "fd-lead", d: `M${n1(x0)} ${n1(y0)}L${n1(x)} ${n1(y)}` }),
  el("circle", { class: "fd-dot", cx: n1(x0), cy: n1(y0), r: 2.2 }),
];

/** The chosen and the worst first. @param {Tag} a @param {Tag} b */
const byWorth = (a, b) =>
  Number(b.selected ?? false) - Number(a.selected ?? false) ||
  WORST_FIRST.indexOf(a.letter ?? "") - WORST_FIRST.indexOf(b.letter ?? "");

/** Draw tags into the viewport's overlay; each is a link. @param {Viewport} viewport @param {Tag[]} tags */
export function layTags(viewport, tags) {
  const layer =
    /** @type {SVGGElement | null} */ (viewport.overlay.querySelector("[data-tags]")) ??
    viewport.overlay.appendChild(el("g", { "data-tags": "" }));
  const focused = focusedIn(layer, "n");
  layer.replaceChildren();
  const { left, top, width, height } = viewport,
    [u0, v0, , v1] = viewport.bounds,
    lower = Math.min(height - EDGE_PX, viewport.px(u0, v0)[1] + BELOW_PX),
    upper = Math.max(top + EDGE_PX, viewport.px(u0, v1)[1] - ABOVE_PX),
    room = Math.floor((width - left - 20) / STEP);
  const seen = tags
    .map((tag) => ({ ...tag, px: viewport.px(...tag.at) }))
    .filter(({ px: [x, y] }) => x > left && x < width && y > top && y < height);
  const above = (/** @type {Tag} */ tag) => tag.at[1] > (v0 + v1) / 2;
  for (const below of [false, true]) {
    const row = seen
      .filter((tag) => above(tag) !== below)
      .sort(byWorth)
      .slice(0, room)
      .sort((a, b) => a.px[0] - b.px[0]);
    const y = below ? lower : upper,
      bar = below && y > height - BAR_HIGH_PX ? BAR_PX : 0, // it stands in the lower left corner
      xs = spread(
        row.map((tag) => tag.px[0]),
        left + 28 + bar,
        width - BELOW_PX,
      );
    row.forEach((tag, i) => {
      if (tag.selected) layer.append(ringed(viewport, tag));
      const link = tagLink(tag, tag.px, xs[i], y, y + (below ? -HIGH / 2 : HIGH / 2));
      layer.append(link);
    });
  }
  focusAgain(layer, "n", focused);
}

/**
 * @param {Tag} tag
 * @param {Point} px
 * @param {number} x
 * @param {number} y
 * @param {number} from where its leader begins
 */
function tagLink(tag, px, x, y, from) {
  const link = el("a", { class: "finding", "data-n": tag.n, "aria-label": tag.name });
  if (tag.href) link.setAttribute("href", tag.href);
  if (tag.selected) link.setAttribute("aria-current", "true");
  link.append(
    ...leader(px, x, from),
    tagShape(n1(x), n1(y), tag),
    el("rect", { class: "hit", x: n1(x - HIT / 2), y: n1(y - HIT / 2), width: HIT, height: HIT }),
  );
  return link;
}

/** @param {Viewport} viewport @param {Tag} tag */
function ringed(viewport, tag) {
  const [u0, v0, u1, v1] = tag.bounds,
    [x0, y0] = viewport.px(u0, v1),
    [x1, y1] = viewport.px(u1, v0);
  return ring(
    (x0 + x1) / 2,
    (y0 + y1) / 2,
    Math.max(RING_PX[0], (x1 - x0) * 0.72),
    Math.max(RING_PX[1], (y1 - y0) * 0.76),
    Number(String(tag.n).replace(/\D/g, "")) || 1,
  );
}
