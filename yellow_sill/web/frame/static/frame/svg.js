/** Small helpers for drawing: elements, numbers, paths. u right and v up in millimetres; y runs down on screen. */
const NS = "http://www.w3.org/2000/svg";

export function el(name, attributes = {}, ...children) {
  const node = document.createElementNS(NS, name);
  for (const [key, value] of Object.entries(attributes)) node.setAttribute(key, value);
  node.append(...children);
  return node;
}

export const n1 = (value) => Math.round(value * 10) / 10;

/** A place in px for path data, and the place that lies so far off it along a direction. */
export const pt = ([x, y]) => `${n1(x)} ${n1(y)}`;
export const off = ([x, y], [dx, dy], by) => [x + dx * by, y + dy * by];

/** Path data of points in mm in a drawing whose v is turned down. */
export const pathD = (points, closed = true) =>
  points.length
    ? "M" + points.map(([u, v]) => `${+u.toFixed(3)} ${+(-v).toFixed(3)}`).join("L") + (closed ? "Z" : "")
    : "";

export const boundsOf = (points) => {
  const us = points.map((p) => p[0]),
    vs = points.map((p) => p[1]);
  return [Math.min(...us), Math.min(...vs), Math.max(...us), Math.max(...vs)];
};

/** Data that the page carries beside a widget, by the id of its json_script. */
export const pageData = (id) => JSON.parse(document.getElementById(id)?.textContent ?? "null");
