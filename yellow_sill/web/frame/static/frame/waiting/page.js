/** The page of what waits: as it was written, why it is not stored, what can be done; and a note without signal. */

import { sendAll, who } from "./send.js";
import { allWaiting, drop, keep, newKey, places } from "./store.js";
import { field, kindOf, since, written } from "./words.js";

/** @typedef {import("./store.js").Waiting} Waiting */

const AGAIN_MS = 10000;
const list = /** @type {HTMLElement} */ (document.getElementById("waiting"));
const state = /** @type {HTMLElement} */ (document.getElementById("state"));
const form = /** @type {HTMLFormElement} */ (document.getElementById("write"));
const place = /** @type {HTMLSelectElement} */ (document.getElementById("place"));

/** @param {string} name @param {string} [text] @param {string} [kind] */
function made(name, text = "", kind = "") {
  const element = document.createElement(name);
  element.textContent = text;
  if (kind) element.className = kind;
  return element;
}

/** @param {string} text @param {() => Promise<unknown>} work @param {string} [kind] */
function button(text, work, kind = "btn btn-ink") {
  const element = /** @type {HTMLButtonElement} */ (made("button", text, kind));
  element.type = "button";
  element.addEventListener("click", async () => {
    element.disabled = true;
    await work();
    await show();
  });
  return element;
}

/** A second tap throws away what was written. @param {Waiting} entry */
function away(entry) {
  const first = /** @type {HTMLButtonElement} */ (made("button", "Throw it away", "btn btn-danger"));
  first.type = "button";
  first.addEventListener("click", () => {
    first.replaceWith(button("Yes, throw it away for good", () => drop(entry.key), "btn btn-danger"));
  });
  return first;
}

/** Sets what was written and sends it again. @param {Waiting} entry @param {Record<string, string>} values */
async function sendWith(entry, values) {
  const fields = /** @type {[string, string | File][]} */ (
    entry.fields.map(([name, value]) => [name, values[name.replace(/^.*-/, "")] ?? value])
  );
  const again = { ...entry, fields };
  delete again.trouble;
  await keep(again);
  await sendAll({ again: entry.key });
}

/**
 * Somebody changed the note meanwhile: both are shown, and the person chooses.
 * @param {Waiting} entry @param {Record<string, string>} stored
 */
function both(entry, stored) {
  const box = made("div", "", "ys-both");
  box.append(made("h3", "Stored now"), made("p", stored.text, "ys-words"));
  box.append(made("h3", "Yours"), made("p", written(entry), "ys-words"));
  const acts = made("div", "", "acts");
  acts.append(
    button("Store yours in its place", () => sendWith(entry, { was: stored.was }), "btn btn-next"),
    button("Store both, yours below it", () =>
      sendWith(entry, { was: stored.was, text: `${stored.text}\n\n${written(entry)}` }),
    ),
    away(entry),
  );
  box.append(acts);
  return box;
}

/** @param {Waiting} entry */
function refused(entry) {
  const box = made("div"),
    words = /** @type {HTMLTextAreaElement} */ (made("textarea", written(entry), "form-control"));
  const acts = made("div", "", "acts");
  words.setAttribute("aria-label", "What you wrote");
  if (field(entry, "text") !== undefined) box.append(words);
  acts.append(
    button(
      "Send it again",
      () => (words.isConnected ? sendWith(entry, { text: words.value }) : sendAll({ again: entry.key })),
      "btn btn-next",
    ),
    away(entry),
  );
  box.append(acts);
  return box;
}

/** @param {Waiting} entry */
function shown(entry) {
  const row = made("section", "", "sec"),
    photo = field(entry, "photo"),
    { trouble } = entry;
  row.append(made("h2", `${kindOf(entry)}, ${entry.label}`));
  row.append(made("p", `Written by ${entry.by}, ${since(entry.at)}`, "mut"));
  if (photo instanceof File) {
    const picture = /** @type {HTMLImageElement} */ (made("img", "", "ys-taken"));
    picture.src = URL.createObjectURL(photo);
    picture.alt = photo.name;
    row.append(picture);
  }
  if (!trouble?.stored && !(trouble && trouble.status < 500 && field(entry, "text") !== undefined))
    row.append(made("p", written(entry), "ys-words"));
  if (trouble) row.append(made("p", `${trouble.what} ${trouble.mend}`, "fault"));
  if (trouble?.stored) row.append(both(entry, trouble.stored));
  else if (trouble && trouble.status < 500) row.append(refused(entry));
  else {
    const acts = made("div", "", "acts");
    acts.append(away(entry));
    row.append(acts);
  }
  return row;
}

/** @param {{ user: string } | null} now @param {Waiting[]} waiting */
function stateWords(now, waiting) {
  if (now === null)
    return "Yellow Sill does not answer just now. What you write here is kept in this browser.";
  const others = [...new Set(waiting.map(({ by }) => by).filter((by) => by !== now.user))];
  if (others.length > 0) return `Stored as soon as ${others.join(" or ")} signs in in this browser.`;
  return waiting.length > 0
    ? "Yellow Sill answers again."
    : "Nothing waits. Everything written here is stored.";
}

async function show() {
  const now = await who(),
    waiting = await allWaiting();
  state.textContent = stateWords(now, waiting);
  list.replaceChildren(...waiting.map(shown));
}

async function offerPlaces() {
  const known = await places();
  place.replaceChildren(
    ...known.map(({ url, label }) => {
      const option = /** @type {HTMLOptionElement} */ (made("option", label));
      option.value = url;
      return option;
    }),
  );
  form.hidden = known.length === 0;
  form.addEventListener("submit", async (event) => {
    event.preventDefault();
    const values = new FormData(form),
      chosen = known.find(({ url }) => url === place.value),
      text = String(values.get("text") ?? ""),
      photo = values.get("photo"),
      day = new Date().toLocaleDateString("sv-SE"),
      taken = photo instanceof File && photo.size > 0;
    if (!chosen || (!text.trim() && !taken)) return;
    await keep({
      key: newKey(),
      url: chosen.url,
      kind: taken ? "photo" : "note",
      label: chosen.label,
      by: chosen.by,
      at: new Date().toISOString(),
      page: chosen.url.replace("waited/", ""),
      fields: taken
        ? [
            ["what", "photo"],
            ["photo-photo", photo],
            ["photo-caption", text.slice(0, 200)],
            ["photo-taken_on", day],
          ]
        : [
            ["what", "note"],
            ["note-text", text],
            ["note-written_on", day],
          ],
    });
    form.reset();
    await sendAll();
    await show();
  });
}

/** While somebody answers a question here, what they look at stays. */
const busy = () => list.contains(document.activeElement);

async function again() {
  if (busy()) return;
  await sendAll();
  await show();
}

await offerPlaces();
await again();
addEventListener("online", again);
setInterval(() => !document.hidden && again(), AGAIN_MS);
