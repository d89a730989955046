/**
 * What is tried is the form's content, changed a little, as an address: back, reload and a second tab work.
 */
import { one } from "frame/board/page.js";

export class Trying {
  /** @param {Record<string, { panels: string[] }>} parts the drawn panels of each part */
  constructor(parts) {
    this.parts = parts;
  }

  /** @param {string} part */
  out(part) {
    this.#go(part, (query) => query.append("out", part));
  }

  /** @param {string} part */
  renewed(part) {
    this.#go(part, (query) => query.append("new", part));
  }

  /**
   * A panel of a part cut at a place of its view, mm.
   * @param {string} part
   * @param {string} view
   * @param {string} panel
   * @param {number[]} place
   */
  cut(part, view, panel, [u, v]) {
    this.#go(part, (query) => query.append("cut", `${view}:${panel}:${Math.round(u)}:${Math.round(v)}`));
  }

  /** @param {string} part */
  asFound(part) {
    this.#go(part);
  }

  /** @param {string} from @param {string} to nodes */
  brace(from, to) {
    this.#go("", (query) => query.append("brace", `${from}-${to}`));
  }

  /**
   * @param {string} part what is tried of it otherwise is dropped
   * @param {(query: URLSearchParams) => void} [change]
   */
  #go(part, change = () => {}) {
    const form = new FormData(one(document, "#try-form", HTMLFormElement)),
      query = new URLSearchParams([...form].map(([name, value]) => [name, String(value)]));
    query.delete("from");
    query.delete("to");
    if (part) {
      const drop = (/** @type {string} */ name, /** @type {(value: string) => boolean} */ one) => {
        const rest = query.getAll(name).filter((value) => !one(value));
        query.delete(name);
        for (const value of rest) query.append(name, value);
      };
      drop("out", (value) => value === part);
      drop("new", (value) => value === part);
      drop("cut", (value) => this.parts[part].panels.includes(value.split(":")[1]));
    }
    change(query);
    location.assign(`?${query}`);
  }
}
