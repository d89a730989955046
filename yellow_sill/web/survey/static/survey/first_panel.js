/**
 * The first corner says which panel it lies on: it is taken where none was chosen, and offered where another was.
 * Where several sheets lie there, which one is meant is asked.
 */
import { one } from "frame/board/page.js";

export class FirstPanel {
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
    this.choices = one(this.box, "[data-choices]", HTMLElement);
  }

  /**
   * Where the first corner was put.
   * @param {string[]} codes of the panels under it, the uppermost first
   */
  tapped(codes) {
    if (!codes.length || codes.includes(this.panel.value)) this.say("");
    else if (this.panel.value) this.say(`The first corner lies on ${this.#named(codes[0])}.`, codes);
    else if (codes.length > 1) this.say("Several sheets lie there. Which one is it?", codes);
    else {
      this.take(codes[0]);
      this.say(
        `Taken from the first corner: ${this.#named(codes[0])}. Choose another above if that is not it.`,
      );
    }
  }

  /** @param {string} words @param {string[]} [codes] panels that are offered */
  say(words, codes = []) {
    this.words.textContent = words;
    this.choices.replaceChildren(...codes.map((code) => this.#choice(code)));
    this.box.hidden = !words;
  }

  /** @param {string} code */
  #choice(code) {
    const button = document.createElement("button");
    button.type = "button";
    button.className = "btn btn-ink";
    button.textContent = `Take ${this.#named(code)}`;
    button.addEventListener("click", () => {
      this.take(code);
      this.say("");
    });
    return button;
  }

  /** @param {string} code */
  #named(code) {
    return [...this.panel.options].find((option) => option.value === code)?.textContent?.trim() ?? code;
  }
}
