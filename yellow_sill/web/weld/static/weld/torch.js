/**
 * At the torch: the sheet alone with figures that are read at two metres; a tap anywhere is "done", keys do the same.
 * Left by its own button, Escape, or a reload; what was done is stored tack by tack.
 */
import { one } from "frame/board/page.js";

/** After a tap another one counts only so much later, ms: a glove bounces. */
const BOUNCE_MS = 600;
/** @type {Record<string, string>} */
const KEYS = { Enter: "[data-tack]", " ": "[data-tack]", m: "[data-went=missed]", b: "[data-went=blown]" };

const press = (/** @type {string} */ what) => one(document, what, HTMLButtonElement).click();
let last = 0;

/** @param {boolean} on */
function show(on) {
  document.body.classList.toggle("at-torch", on);
  one(document, "[data-torch]", HTMLButtonElement).textContent = on
    ? "Stopped here: back to the page"
    : "At the torch: large figures";
  window.dispatchEvent(new Event("resize"));
}
const isOn = () => document.body.classList.contains("at-torch");

document.querySelector("[data-torch]")?.addEventListener("click", () => show(!isOn()));
document.addEventListener("click", (event) => {
  const on = /** @type {Element} */ (event.target);
  if (!isOn() || on.closest("button, a, input, summary, .tk")) return;
  if (event.timeStamp - last < BOUNCE_MS) return;
  last = event.timeStamp;
  press("[data-tack]");
});
document.addEventListener("keydown", (event) => {
  if (!isOn() || event.repeat) return;
  if (event.key === "Escape") show(false);
  const what = KEYS[event.key];
  if (!what || /** @type {Element} */ (event.target).closest("button")) return;
  event.preventDefault();
  press(what);
});
