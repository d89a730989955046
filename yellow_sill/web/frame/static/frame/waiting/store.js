/** What waits in this browser, and the places it can be written for: in the browser's own database. */

/**
 * Why it was not stored when it was sent; `stored`: what somebody else stored meanwhile.
 * @typedef {{ what: string, mend: string, status: number, stored?: Record<string, string> }} Trouble
 */
/**
 * What a person wrote: a note, hours or a photo, under a key of its own; where it goes (`url`), what it is (`kind`) and
 * for which repair (`label`), by whom, since when; `page`: where it is seen once it is stored.
 * @typedef {{ key: string, url: string, kind: string, label: string, by: string, at: string, page: string,
 *   fields: [string, string | File][], trouble?: Trouble }} Waiting
 */
/** @typedef {{ url: string, label: string, by: string, at: string }} Place */

const VERSION = 1;
/** Places that are kept, the latest first. */
export const MOST_PLACES = 12;

/** @returns {Promise<IDBDatabase>} */
function opened() {
  return new Promise((found, failed) => {
    const asked = indexedDB.open("yellow-sill", VERSION);
    asked.onupgradeneeded = () => {
      asked.result.createObjectStore("waiting", { keyPath: "key" });
      asked.result.createObjectStore("places", { keyPath: "url" });
    };
    asked.onsuccess = () => found(asked.result);
    asked.onerror = () => failed(asked.error);
  });
}

/**
 * @template T
 * @param {"waiting" | "places"} name @param {IDBTransactionMode} mode
 * @param {(kept: IDBObjectStore) => IDBRequest<T>} work @returns {Promise<T>}
 */
async function within(name, mode, work) {
  const base = await opened();
  try {
    return await new Promise((done, failed) => {
      const change = base.transaction(name, mode),
        asked = work(change.objectStore(name));
      change.oncomplete = () => done(asked.result);
      change.onerror = change.onabort = () => failed(change.error ?? asked.error);
    });
  } finally {
    base.close();
  }
}

/** A key that no other browser makes; also where the page came by plain http. */
export const newKey = () =>
  [...crypto.getRandomValues(new Uint8Array(16))].map((byte) => byte.toString(16).padStart(2, "0")).join("");

/** @returns {Promise<Waiting[]>} the oldest first */
export async function allWaiting() {
  const all = /** @type {Waiting[]} */ (await within("waiting", "readonly", (kept) => kept.getAll()));
  return all.sort((a, b) => a.at.localeCompare(b.at));
}

/** @param {Waiting} entry */
export const keep = (entry) => within("waiting", "readwrite", (kept) => kept.put(entry));

/** @param {string} key */
export const drop = (key) => within("waiting", "readwrite", (kept) => kept.delete(key));

/** @returns {Promise<Place[]>} the latest first */
export async function places() {
  const all = /** @type {Place[]} */ (await within("places", "readonly", (kept) => kept.getAll()));
  return all.sort((a, b) => b.at.localeCompare(a.at)).slice(0, MOST_PLACES);
}

/** @param {Place} place */
export const keepPlace = (place) => within("places", "readwrite", (kept) => kept.put(place));

/** Where work was written for is nobody's business after signing out; what still waits stays. */
export const forgetPlaces = () => within("places", "readwrite", (kept) => kept.clear());
