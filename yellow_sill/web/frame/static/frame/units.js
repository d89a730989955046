/**
 * The person's unit, as the page's body says it: figures on drawings, and typed corners for drawing
 * along. The server reads them again.
 */
export const inches = globalThis.document?.body?.dataset.unit === "in";
export const unit = inches ? "in" : "mm";
export const perUnit = inches ? 25.4 : 1;

/** A length on a drawing: 158, or 6.23 in. */
export const figure = (mm, digits = 0) => (inches ? (mm / 25.4).toFixed(digits + 2) : mm.toFixed(digits));

/** A reading, or by how much a place is off: 4.3, or 11/64 in as a rule shows it. */
export function reading(mm) {
  if (!inches) return mm.toFixed(1);
  const parts = Math.round((Math.abs(mm) / 25.4) * 64),
    whole = Math.floor(parts / 64);
  let over = parts % 64,
    under = 64;
  while (over && over % 2 === 0) {
    over /= 2;
    under /= 2;
  }
  return (
    (mm < 0 && parts ? "-" : "") +
    [whole || !over ? whole : "", over ? `${over}/${under}` : ""].filter((part) => part !== "").join(" ")
  );
}

/** An area on a sheet: cm², or in². */
export const area = (mm2) => (mm2 / (inches ? 645.16 : 100)).toFixed(1);
export const areaUnit = inches ? "in²" : "cm²";

/** A length for a field that is read back. */
export const written = (mm) => (inches ? String(+(mm / 25.4).toFixed(4)) : String(Math.round(mm * 10) / 10));

/** A typed length in mm; NaN for what only the server can make sense of. */
export function typed(text) {
  const words = text.trim().replace(",", "."),
    fraction = words.match(/^(-?)(?:(\d+)[ -])?(\d+)\/(\d+)\s*"?$/);
  if (fraction) return (fraction[1] ? -1 : 1) * (Number(fraction[2] ?? 0) + fraction[3] / fraction[4]) * 25.4;
  const plain = words.match(/^(-?\d*\.?\d+)\s*(mm|"|in)?$/);
  return plain ? Number(plain[1]) * (plain[2] ? (plain[2] === "mm" ? 1 : 25.4) : perUnit) : NaN;
}

/** Corners from typed lines, mm; lines that cannot be read are left to the server to refuse. */
export const typedCorners = (text) =>
  text
    .split("\n")
    .map((line) => line.trim())
    .filter(Boolean)
    .map((line) => {
      const parts = line.includes(";")
        ? line.split(";")
        : /,\s/.test(line)
          ? line.split(/,\s+/)
          : line.split(/\s+/).length === 2
            ? line.split(/\s+/)
            : line.split(",");
      return parts.map(typed);
    })
    .filter((pair) => pair.length === 2 && pair.every(Number.isFinite));

export const writtenCorners = (corners) => corners.map((c) => c.map(written).join(", ")).join("\n");
