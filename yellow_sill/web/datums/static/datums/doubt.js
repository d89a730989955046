/** A reading that is asked about: it is right, or something else was meant. */
import { one } from "frame/board/page.js";

/**
 * What is asked: of which step, of which reading, and what was meant as it would be typed.
 * @typedef {{ at: number, pk: number, meant: string }} Doubted
 */

export class Doubt {
  /** @type {Doubted | null} */
  #of = null;

  /**
   * @param {HTMLElement} root
   * @param {{ right: () => void, meant: (doubted: Doubted) => void }} deeds
   */
  constructor(root, { right, meant }) {
    this.box = one(root, "[data-asked]", HTMLElement);
    this.question = one(root, "[data-question]", HTMLElement);
    this.right = one(root, "[data-right]", HTMLButtonElement);
    this.meant = one(root, "[data-meant]", HTMLButtonElement);
    this.right.addEventListener("click", () => {
      this.box.hidden = true;
      right();
    });
    this.meant.addEventListener("click", () => {
      this.box.hidden = true;
      if (this.#of) meant(this.#of);
    });
  }

  get open() {
    return !this.box.hidden;
  }

  /**
   * Ask about a reading that was just kept; nothing where there is no question.
   * @param {number} at
   * @param {import("datums/entry.js").Kept} kept
   */
  about(at, { value, question, meant, meant_typed: typed }) {
    this.box.hidden = !question;
    if (!question) return;
    this.#of = { at, pk: value.pk, meant: typed ?? "" };
    this.question.textContent = question;
    this.right.textContent = `It is ${value.shown}`;
    this.meant.hidden = meant === null;
    this.meant.textContent = meant === null ? "" : `${meant} was meant`;
  }
}
