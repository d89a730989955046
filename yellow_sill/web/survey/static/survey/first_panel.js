/**
 * The first corner says which panel it lies on: it is taken where none was chosen, and offered where another was.
 */
import { one } from "frame/board/page.js";

export class FirstPanel {
  #code = "";

  /**
   * @param {HTMLFormElement} form
   * @param {HTMLSelectElement} panel
   * @param {(code: string) => void} take
   */
  constructor(form, panel, take) {
    this.panel = panel;
    this.take = take;
    this.box = one(form, "[data-tapped]", HTMLElement);
    this.words = one(this.box, "span", HTMLElement);
    this.button = one(this.box, "button", HTMLButtonElement);
    this.button.addEventListener("click", () => {
      take(this.#code);
      this.say("");
    });
  }

  /**
   * Where the first corner was put: codes of the panels under it, the uppermost first.
   * @param {string | undefined} code
   */
  tapped(code) {
    if (!code || code === this.panel.value) this.say("");
    else if (this.panel.value) this.say(`The first corner lies on ${this.#named(code)}.`, code);
    else {
      this.take(code);
      this.say(`Taken from the first corner: ${this.#named(code)}. Choose another above if that is not it.`);
    }
  }

  /** @param {string} words @param {string} [code] a panel that is offered */
  say(words, code = "") {
    this.words.textContent = words;
    this.#code = code;
    this.button.hidden = !code;
    this.button.textContent = code ? `Take ${this.#named(code)}` : "";
    this.box.hidden = !words;
  }

  /** @param {string} code */
  #named(code) {
    return [...this.panel.options].find((option) => option.value === code)?.textContent?.trim() ?? code;
  }
}
