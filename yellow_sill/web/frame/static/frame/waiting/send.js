/** Sending what waits, each once: the server knows its key. */

import { allWaiting, drop, keep } from "./store.js";

/** @typedef {import("./store.js").Waiting} Waiting */
/** @typedef {"stored" | "waits" | "refused"} Outcome */

const PATIENCE_MS = 20000,
  PATIENCE_PHOTO_MS = 120000;

/**
 * Who is signed in in this browser; null where nothing answers.
 * @returns {Promise<{ user: string, token: string } | null>}
 */
export async function who() {
  try {
    const response = await fetch("/waiting/who/", {
      credentials: "same-origin",
      cache: "no-store",
      signal: AbortSignal.timeout(PATIENCE_MS),
    });
    return response.ok ? await response.json() : null;
  } catch {
    return null;
  }
}

/** @param {Waiting} entry @param {string} token @returns {Promise<Outcome>} */
export async function send(entry, token) {
  const body = new FormData();
  for (const [name, value] of entry.fields) body.append(name, value);
  body.set("key", entry.key);
  const patience = entry.kind === "photo" ? PATIENCE_PHOTO_MS : PATIENCE_MS;
  let response, told;
  try {
    response = await fetch(entry.url, {
      method: "POST",
      body,
      headers: { Accept: "application/json", "X-CSRFToken": token },
      credentials: "same-origin",
      signal: AbortSignal.timeout(patience),
    });
    told = await response.json();
  } catch {
    return "waits";
  }
  if (response.ok && told.stored === true) return "stored";
  const { what = "It could not be stored.", mend = "" } = told.error ?? {};
  entry.trouble = { what, mend, status: response.status, stored: told.stored };
  return response.status >= 500 ? "waits" : "refused";
}

/**
 * Sends what this person has waiting. What was refused is sent again only when they ask for it.
 * @param {{ again?: string }} [asked] the key of one that shall be tried again
 * @returns {Promise<{ stored: Waiting[], user: string | null }>} user: null where nothing answers
 */
export async function sendAll(asked = {}) {
  const waiting = await allWaiting();
  const due = waiting.filter(({ key, trouble }) => key === asked.again || !trouble || trouble.status >= 500);
  if (due.length === 0) return { stored: [], user: null };
  const now = await who();
  const stored = [];
  for (const entry of now?.user ? due.filter(({ by }) => by === now.user) : []) {
    delete entry.trouble;
    const outcome = await send(entry, now?.token ?? "");
    if (outcome === "stored") {
      await drop(entry.key);
      stored.push(entry);
    } else await keep(entry);
  }
  return { stored, user: now?.user ?? null };
}
