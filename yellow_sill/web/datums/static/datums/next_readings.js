/** Readings beside the plan: those a person names, and those that help most. */
import { ask, errorBox } from "frame/ask.js";
import { made, one } from "frame/board/page.js";
import { pageData } from "frame/board/svg.js";

export class NextReadings {
  /** @param {HTMLElement} root @param {(kind: string, points: string[]) => void} measure */
  constructor(root, measure) {
    this.root = root;
    this.measure = measure;
    /** @type {string[]} */
    this.codes = pageData("codes");
    one(root, "[data-other]", HTMLElement).addEventListener("click", () => this.#other());
    one(root, "[data-ask-next]", HTMLElement).addEventListener("click", () => this.#ask());
  }

  /** What a person named. */
  #other() {
    const { value } = one(this.root, "#o-points", HTMLInputElement),
      points = value
        .trim()
        .split(/[\s,;–-]+/)
        .filter(Boolean),
      unknown = points.find((code) => !this.codes.includes(code)),
      errors = one(this.root, "[data-errors]", HTMLElement);
    errors.replaceChildren();
    if (points.length && !unknown) {
      this.measure(one(this.root, "#o-kind", HTMLSelectElement).value, points);
      return;
    }
    const what = unknown ? `There is no point ${unknown} in the book.` : "Which points?",
      mend = "Write their names with a space between, such as 2L 8R.";
    errors.append(errorBox({ what, mend, where: "points" }));
  }

  /** What would help most now. */
  async #ask() {
    const { ok, data } = await ask(this.root.dataset.next ?? ""),
      words = ok ? data.worst : `${data.error.what} ${data.error.mend}`;
    /** @type {{ kind: string, points: string[], text: string }[]} */
    const readings = data.readings ?? [];
    one(this.root, "[data-next-worst]", HTMLElement).textContent = words;
    one(this.root, "[data-next-list]", HTMLElement).replaceChildren(
      ...readings.map(({ kind, points, text }) => {
        const button = made("button", { type: "button", className: "link", textContent: text });
        button.addEventListener("click", () => this.measure(kind, points));
        return made("li", {}, button);
      }),
    );
  }
}
