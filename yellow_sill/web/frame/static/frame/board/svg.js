/**
 * Small helpers for drawing: elements, numbers, paths. u right and v up in millimetres; y runs down on screen.
 */

/** A place on a drawing, mm, or on screen, px. @typedef {[number, number]} Point */
/**
 * A part of a drawing: least u, least v, most u, most v, mm.
 * @typedef {[number, number, number, number]} Bounds
 */
/** @typedef {Record<string, string | number | boolean>} Attributes */

const NS = "http://www.w3.org/2000/svg";

/**
 * @template {keyof SVGElementTagNameMap} K
 * @param {K} name
 * @param {Attributes} [attributes]
 * @param {...(Node | string)} children
 * @returns {SVGElementTagNameMap[K]}
 */
export function el(name, attributes = {}, ...children) {
  const node = document.createElementNS(NS, name);
  for (const [key, value] of Object.entries(attributes)) node.setAttribute(key, String(value));
  node.append(...children);
  return node;
}

/** To a tenth. @param {number} value */
export const n1 = (value) => Math.round(value * 10) / 10;

/** A place in px for path data. @param {number[]} place */
export const pt = ([x, y]) => `${n1(x)} ${n1(y)}`;

/** Straight from place to place, px. @param {...number[]} places */
export const lineD = (...places) => `M${places.map(pt).join("L")}`;

/**
 * The place that lies so far off along a direction.
 * @param {Point} place
 * @param {Point} direction
 * @param {number} by
 * @returns {Point}
 */
export const off = ([x, y], [dx, dy], by) => [x + dx * by, y + dy * by];

/**
 * Path data of points in mm in a drawing whose v is turned down.
 * @param {number[][]} points
 * @param {boolean} [closed]
 */
export const pathD = (points, closed = true) =>
  points.length
    ? "M" + points.map(([u, v]) => `${+u.toFixed(3)} ${+(-v).toFixed(3)}`).join("L") + (closed ? "Z" : "")
    : "";

/**
 * @param {number[][]} points
 * @returns {Bounds}
 */
export const boundsOf = (points) => {
  const us = points.map((p) => p[0]),
    vs = points.map((p) => p[1]);
  return [Math.min(...us), Math.min(...vs), Math.max(...us), Math.max(...vs)];
};

/**
 * Bounds with an edge all round, a share of the longer side but at least so many mm.
 * @param {Bounds} bounds
 * @param {number} share
 * @param {number} [least]
 * @returns {Bounds}
 */
export const widened = ([u0, v0, u1, v1], share, least = 0) => {
  const edge = Math.max(least, share * Math.max(u1 - u0, v1 - v0));
  return [u0 - edge, v0 - edge, u1 + edge, v1 + edge];
};

/**
 * Data that the page carries beside a widget, by the id of its json_script.
 * @param {string | undefined} id
 */
export const pageData = (id) => JSON.parse(document.getElementById(id ?? "")?.textContent ?? "null");
