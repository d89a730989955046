/** The sheet beside the walk: what is measured now, what was read of it so far, and the large keys. */
import { all, made, one, saying } from "frame/board/page.js";

/** @typedef {import("datums/walk.js").Step} Step */

const FROM_DEVICES = ["height", "distance", "plumb"];
const NOT_READ = "Not read yet. A second reading of the same pair is averaged with the first.";

/**
 * @param {HTMLElement} root
 * @param {Step[]} steps
 * @param {number} at
 * @param {(pk: number, back: boolean) => void} strike
 */
export function sayStep(root, steps, at, strike) {
  const step = steps[at],
    part = (/** @type {string} */ name) => one(root, `[data-${name}]`, HTMLElement),
    put = saying(root);
  put("number", String(at + 1));
  put("what", `${step.word} ${step.points.join(" – ")}`);
  put("where", [...new Set(step.names)].join(" to "));
  put("how", step.points.flatMap((code, i) => (step.how[i] ? `${code}: ${step.how[i]}` : [])).join("; "));
  put("device", step.kind === "height" ? "From the level" : "From the tape");
  put("spread", [step.mean_told, step.spread].filter(Boolean).join(" "));
  put("progress", `${steps.filter((each) => each.mean).length} of ${steps.length} read`);
  part("device").hidden = !FROM_DEVICES.includes(step.kind);
  const none = () => made("li", {}, made("small", { textContent: NOT_READ })),
    values = step.values.map((value) => valueItem(value, strike));
  part("values").replaceChildren(...(values.length ? values : [none()]));
}

/**
 * @param {import("datums/walk.js").ReadValue} value
 * @param {(pk: number, back: boolean) => void} strike
 */
function valueItem({ pk, shown, told, struck }, strike) {
  const words = struck ? "Take back in" : "Strike",
    button = made("button", { type: "button", className: "link", textContent: words });
  button.addEventListener("click", () => strike(pk, Boolean(struck)));
  return made(
    "li",
    { className: struck ? "is-struck" : "" },
    made("span", { className: "mm", textContent: shown }),
    made("small", { textContent: ` ${told}` }),
    button,
  );
}

/**
 * The large keys write into the box.
 * @param {HTMLFormElement} form
 * @param {HTMLInputElement} input
 */
export function keypad(form, input) {
  const press = (/** @type {string} */ key) => {
    const { value } = input;
    if (key === "back") return value.slice(0, -1);
    if (key === "-") return value.startsWith("-") ? value.slice(1) : `-${value}`;
    return value + key;
  };
  for (const key of all(form, "[data-key]", HTMLElement))
    key.addEventListener("click", () => (input.value = press(key.dataset.key ?? "")));
}
