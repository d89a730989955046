/** How what waits is told. */

/** @typedef {import("./store.js").Waiting} Waiting */

/** @type {Record<string, string>} */
const KINDS = { note: "Note", work: "Hours", photo: "Photo", change: "Note changed" };

/** @param {Waiting} entry @param {string} ending of a field's name */
export const field = (entry, ending) =>
  entry.fields.find(([name]) => name === ending || name.endsWith(`-${ending}`))?.[1];

/** What was written, as it was. @param {Waiting} entry */
export function written(entry) {
  const names = { note: ["text"], change: ["text"], work: ["typed", "note"], photo: ["caption"] }[entry.kind];
  return (names ?? [])
    .map((name) => field(entry, name) ?? "")
    .join(" ")
    .trim();
}

/** @param {Waiting} entry */
export const kindOf = (entry) => KINDS[entry.kind] ?? "Entry";

/** @param {string} at */
export const since = (at) =>
  new Date(at).toLocaleString("en-GB", {
    day: "numeric",
    month: "short",
    hour: "2-digit",
    minute: "2-digit",
  });

/** @param {number} count */
export const waitingWords = (count) => (count === 1 ? "One entry waits here" : `${count} entries wait here`);
