/**
 * The person's unit, as the page's body says it: figures on drawings, and typed corners for drawing
 * along. The server reads them again.
 */

/** @typedef {import("frame/board/svg.js").Point} Point */

export const inches = globalThis.document?.body?.dataset.unit === "in";
export const unit = inches ? "in" : "mm";
export const INCH_MM = 25.4;
export const perUnit = inches ? INCH_MM : 1;
const SQUARE_INCH_MM2 = 645.16,
  PARTS = 64;

/** A length on a drawing: 158, or 6.23 in. @param {number} mm @param {number} [digits] */
export const figure = (mm, digits = 0) => (inches ? (mm / INCH_MM).toFixed(digits + 2) : mm.toFixed(digits));

/** A reading, or by how much a place is off: 4.3, or 11/64 as a rule shows it. @param {number} mm */
export const reading = (mm) => (inches ? fraction(mm / INCH_MM) : mm.toFixed(1));

/** Inches to the nearest 64th: 2 11/64. @param {number} value */
export function fraction(value) {
  const parts = Math.round(Math.abs(value) * PARTS),
    whole = Math.floor(parts / PARTS);
  let over = parts % PARTS,
    under = PARTS;
  while (over && over % 2 === 0) {
    over /= 2;
    under /= 2;
  }
  const told = [whole || !over ? String(whole) : "", over ? `${over}/${under}` : ""];
  return (value < 0 && parts ? "-" : "") + told.filter(Boolean).join(" ");
}

/** An area on a sheet: cm², or in². @param {number} mm2 */
export const area = (mm2) => (mm2 / (inches ? SQUARE_INCH_MM2 : 100)).toFixed(1);
export const areaUnit = inches ? "in²" : "cm²";

/** A length for a field that is read back. @param {number} mm */
export const written = (mm) =>
  inches ? String(+(mm / INCH_MM).toFixed(4)) : String(Math.round(mm * 10) / 10);

/** A typed length in mm; NaN for what only the server can make sense of. @param {string} text */
export function typed(text) {
  const words = text.trim().replace(",", "."),
    parts = words.match(/^(-?)(?:(\d+)[ -])?(\d+)\/(\d+)\s*"?$/);
  if (parts) {
    const [, minus, whole = "0", over, under] = parts;
    return (minus ? -1 : 1) * (Number(whole) + Number(over) / Number(under)) * INCH_MM;
  }
  const plain = words.match(/^(-?\d*\.?\d+)\s*(mm|"|in)?$/);
  return plain ? Number(plain[1]) * (plain[2] ? (plain[2] === "mm" ? 1 : INCH_MM) : perUnit) : NaN;
}

/** The two lengths of a typed place, as text. @param {string} line */
function halves(line) {
  if (line.includes(";")) return line.split(";");
  if (/,\s/.test(line)) return line.split(/,\s+/);
  const words = line.split(/\s+/);
  return words.length === 2 ? words : line.split(",");
}

/**
 * A typed place, mm; null for what only the server can make sense of.
 * @param {string} line
 * @returns {Point | null}
 */
export function typedPlace(line) {
  const [u, v, ...more] = halves(line.trim()).map(typed);
  return more.length === 0 && Number.isFinite(u) && Number.isFinite(v) ? [u, v] : null;
}

/**
 * Corners from typed lines, mm; lines that cannot be read are left to the server to refuse.
 * @param {string} text
 */
export const typedCorners = (text) =>
  text
    .split("\n")
    .map(typedPlace)
    .filter((place) => place !== null);

/** @param {number[]} place */
export const writtenPlace = (place) => place.map(written).join(", ");

/** @param {number[][]} corners */
export const writtenCorners = (corners) => corners.map(writtenPlace).join("\n");
