/** The readings of a round in walking order, each to be gone to. */
import { made } from "frame/board/page.js";

/**
 * One value that was read.
 * @typedef {{ pk: number, shown: string, told: string, struck: string }} ReadValue
 */
/**
 * One reading of a walk, as the server has it; added: by this page, and not stored yet.
 * @typedef {{ key: string, kind: string, word: string, points: string[], names: string[], how: string[], values:
 *   ReadValue[],
 *   mean: string, mean_told: string, spread: string, added?: boolean }} Step
 */

/** Below the last step that is seen whole, px. */
const MORE_PX = 40;

/**
 * Draw the list anew, with the step in hand in sight.
 * @param {HTMLElement} walk
 * @param {Step[]} steps
 * @param {number} at
 * @param {(i: number) => void} go
 */
export function layWalk(walk, steps, at, go) {
  const box = made("ol"),
    scroll = walk.scrollTop;
  steps.forEach((step, i) => {
    const button = made(
      "button",
      { type: "button" },
      made("b", { textContent: String(i + 1) }),
      made("span", { textContent: step.points.join(" – ") }),
      made("em", { textContent: step.mean }),
    );
    if (i === at) button.setAttribute("aria-current", "step");
    button.addEventListener("click", () => go(i));
    box.append(made("li", {}, button));
  });
  walk.replaceChildren(box);
  walk.scrollTop = scroll;
  const now = /** @type {HTMLElement | null} */ (box.querySelector("[aria-current]"));
  if (now && (now.offsetTop < scroll || now.offsetTop > scroll + walk.clientHeight - MORE_PX))
    walk.scrollTop = now.offsetTop - walk.clientHeight / 2;
}

/**
 * The first step from a place on that is not read, else the first of all; -1 where all are.
 * @param {Step[]} steps
 * @param {number} [from]
 */
export function firstOpen(steps, from = 0) {
  const later = steps.findIndex((step, i) => i >= from && !step.mean);
  return later >= 0 ? later : steps.findIndex((step) => !step.mean);
}

/**
 * The step that measures a kind between points, whichever way round where that does not matter; -1 for none.
 * @param {Step[]} steps
 * @param {string} kind
 * @param {string[]} points
 */
export function stepOf(steps, kind, points) {
  const told = (/** @type {string[]} */ codes) => (kind === "angle" ? codes : [...codes].sort()).join(" ");
  return steps.findIndex((step) => step.kind === kind && told(step.points) === told(points));
}

/** What changes when somebody else enters. @param {Step[]} steps */
export const countOf = (steps) =>
  steps
    .flatMap((step) => step.values)
    .map((value) => `${value.pk}${value.struck}`)
    .join(" ");
