/** What a form has said so far: a step back and one forward. */

/** A pause of so long ends a step: typing 120 is one, not three, ms. */
const PAUSE_MS = 500;

/**
 * Whether a field says something else than the page was made with: a quick hand, or a browser that fills it in again.
 * @param {HTMLFormElement} form
 */
export function touched(form) {
  return [...form.elements].some((field) => {
    if (field instanceof HTMLSelectElement)
      return [...field.options].some(
        (each) => each.selected !== each.defaultSelected && !each.defaultSelected,
      );
    if (!(field instanceof HTMLInputElement) || field.type === "hidden") return false;
    return field.value !== field.defaultValue || field.checked !== field.defaultChecked;
  });
}

export class FormSteps {
  /** @type {string[][]} */
  #before = [];
  /** @type {string[][]} */
  #after = [];
  #timer = 0;

  /**
   * @param {HTMLFormElement} form
   * @param {() => void} changed after a step back or forward
   */
  constructor(form, changed) {
    this.form = form;
    this.changed = changed;
    this.now = this.#read();
    form.addEventListener("input", () => {
      clearTimeout(this.#timer);
      this.#timer = setTimeout(() => this.#keep(), PAUSE_MS);
    });
  }

  undo() {
    this.#keep();
    this.#step(this.#before, this.#after);
  }

  redo() {
    this.#step(this.#after, this.#before);
  }

  /** The fields that a hand changes; where the board looks and the version are none of them. */
  get #fields() {
    return [...this.form.elements].filter(
      (field) =>
        (field instanceof HTMLInputElement && field.type !== "hidden") || field instanceof HTMLSelectElement,
    );
  }

  #read() {
    return this.#fields.map((field) =>
      field instanceof HTMLInputElement && field.type === "checkbox"
        ? String(field.checked)
        : /** @type {HTMLInputElement | HTMLSelectElement} */ (field).value,
    );
  }

  #keep() {
    clearTimeout(this.#timer);
    const said = this.#read();
    if (said.every((value, i) => value === this.now[i])) return;
    this.#before.push(this.now);
    this.#after = [];
    this.now = said;
  }

  /** @param {string[][]} from @param {string[][]} to */
  #step(from, to) {
    const said = from.pop();
    if (!said) return;
    to.push(this.now);
    this.now = said;
    this.#fields.forEach((field, i) => {
      if (field instanceof HTMLInputElement && field.type === "checkbox") field.checked = said[i] === "true";
      else /** @type {HTMLInputElement | HTMLSelectElement} */ (field).value = said[i];
    });
    this.changed();
  }
}
