/**
 * What the sheet says of a step: the next tack and how far it is, what is done, and the button that ticks it off.
 */
import { all, one, saying } from "frame/board/page.js";
import { figure, unit } from "frame/board/units.js";

/** @typedef {import("weld/tacks.js").Tack} Tack */

const clock = (/** @type {number} */ seconds) =>
  seconds >= 60
    ? `${Math.floor(seconds / 60)}:${String(Math.round(seconds % 60)).padStart(2, "0")} min`
    : `${seconds.toFixed(0)} s`;
export const find = (/** @type {string} */ name) => one(document, `[data-${name}]`, HTMLElement);

/**
 * @param {Tack[]} tacks
 * @param {number} step tacks that are done
 */
export function sayStep(tacks, step) {
  const put = saying(document),
    [next, last] = [tacks[step], tacks[step - 1]];
  put("step", String(step));
  put("next-n", next ? String(next.n) : "✓");
  put("next-head", next ? `Next: tack ${next.n}` : "The seam is closed");
  put("next-lead", lead(next, last));
  put("plate", next ? next.plate_shown : "–");
  put("when", last ? `1 s after tack ${last.n}, ${clock(last.start_s)} into the work` : "Nothing welded yet");
  for (const node of all(document, "[data-pass], [data-segs] span", HTMLElement)) {
    const [first, end] = [Number(node.dataset.first), Number(node.dataset.last)];
    node.classList.toggle("d", end <= step);
    node.classList.toggle("now", first <= step + 1 && step + 1 <= end);
  }
}

/**
 * @param {Tack | undefined} next
 * @param {Tack | undefined} last
 */
function lead(next, last) {
  if (!next) return "Look for pinholes with a lamp behind it";
  if (!last) return "Start here";
  const far = Math.hypot(next.at[0] - last.at[0], next.at[1] - last.at[1]);
  return `${figure(far)} ${unit} from tack ${last.n}, pass ${next.pass}`;
}

/**
 * The button that ticks the next tack off, once every caution is ticked.
 * @param {HTMLButtonElement} button
 * @param {Tack | undefined} next
 * @param {boolean} ready
 * @param {number} [ahead] how far the work is ahead of the step that is looked at
 */
export function sayReady(button, next, ready, ahead = 0) {
  const can = ready && (Boolean(next) || ahead !== 0);
  button.disabled = !can;
  button.classList.toggle("btn-next", can);
  button.classList.toggle("btn-wait", !can);
  if (!ready) button.textContent = "First tick every hot-work caution";
  else if (ahead) button.textContent = "To where the work is";
  else button.textContent = next ? `Tack ${next.n} is done` : "All tacks are done";
}
