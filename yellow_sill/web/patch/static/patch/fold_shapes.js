/** A folding part as outlines: between two pictures of the core, and drawn from the far side to the near one. */
import { el, n1 } from "frame/board/svg.js";

/** @typedef {import("frame/board/turn.js").Place} Place */
/** @typedef {import("frame/board/turn.js").Projected} Projected */
/** @typedef {{ face: string, bend: boolean, hole: boolean, outline: Place[] }} Shape */
/** @typedef {{ flat: Shape[], stages: { bend: string, words: string, pictures: Shape[][] }[] }} FoldPage */

/** A face has one of so many tones, by how it looks at the light. */
const TONES = 4,
  NEARER = 0.01;
/** Where the light comes from. @type {Place} */
const FROM = [-0.35, -0.5, 0.79];

/**
 * The outlines at a place of the play, in bends made: each corner lies between where it is in two pictures.
 * @param {FoldPage} page
 * @param {number} made
 * @returns {Shape[]}
 */
export function shapesAt({ flat, stages }, made) {
  const pictures = [flat, ...stages.flatMap((stage) => stage.pictures)],
    place = stages.length ? (made / stages.length) * (pictures.length - 1) : 0,
    before = Math.min(Math.floor(place), pictures.length - 1),
    after = Math.min(before + 1, pictures.length - 1),
    share = place - before;
  return pictures[before].map((shape, i) => ({
    ...shape,
    outline: shape.outline.map((p, j) => {
      const q = pictures[after][i].outline[j];
      return /** @type {Place} */ (p.map((v, k) => v + (q[k] - v) * share));
    }),
  }));
}

/**
 * What lies on the far side of the base first, then the base, then what stands on the near side.
 * @param {SVGGElement} layer
 * @param {Shape[]} shapes the base first
 * @param {(place: Place) => Projected} at
 * @param {(v: Place) => Projected} way
 */
export function paint(layer, shapes, at, way) {
  const above = way(across(shapes[0].outline))[2] < 0 ? 1 : -1; // which side of the base is looked at
  const seen = shapes.map(({ face, bend, hole, outline }) => {
    const places = outline.map(at),
      normal = across(outline),
      facing = Math.abs(normal.reduce((sum, v, i) => sum + v * FROM[i], 0)),
      high = outline.reduce((sum, p) => sum + p[2], 0) / outline.length;
    const tone = Math.min(TONES - 1, Math.floor(TONES * facing)),
      under = way(normal)[2] > 0;
    return {
      d: `M${places.map(([x, y]) => `${n1(x)} ${n1(y)}`).join("L")}Z`,
      face,
      deep: places.reduce((sum, p) => sum + p[2], 0) / places.length,
      over: Math.sign(Math.round(above * high)),
      look: hole
        ? "fold-hole"
        : `fold-face is-tone-${tone}${bend ? " is-bend" : ""}${under ? " is-under" : ""}`,
    };
  });
  let last = seen[0];
  for (const shape of seen) {
    if (shape.look !== "fold-hole") last = shape;
    else [shape.over, shape.deep] = [last.over, last.deep - NEARER]; // a hole goes with the face that it is in
  }
  for (const { d, face, look } of seen.sort((a, b) => a.over - b.over || b.deep - a.deep))
    layer.append(el("path", { class: look, "data-face": face, d }));
}

/**
 * The unit normal of a flat outline (Newell).
 * @param {Place[]} outline
 * @returns {Place}
 */
function across(outline) {
  const sum = [0, 0, 0];
  outline.forEach((p, i) => {
    const q = outline[(i + 1) % outline.length];
    for (const k of [0, 1, 2])
      sum[k] += (p[(k + 1) % 3] - q[(k + 1) % 3]) * (p[(k + 2) % 3] + q[(k + 2) % 3]);
  });
  const length = Math.hypot(...sum) || 1;
  return /** @type {Place} */ (sum.map((v) => v / length));
}
