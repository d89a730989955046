/** The order of removal: steps dragged to another place, and a search that tells how far it is. */
import { all } from "frame/board/page.js";

class OrderList {
  /** @type {HTMLElement | null} */
  #held = null;

  /** @param {HTMLElement} list */
  constructor(list) {
    this.list = list;
    list.addEventListener("dragstart", (event) => this.#begin(event));
    list.addEventListener("dragover", (event) => this.#over(event));
    list.addEventListener("drop", (event) => event.preventDefault());
    list.addEventListener("dragend", () => this.#end());
  }

  /** @param {Event} event */
  #item(event) {
    return /** @type {HTMLElement | null} */ (/** @type {Element} */ (event.target).closest("li"));
  }

  /** @param {DragEvent} event */
  #begin(event) {
    this.#held = this.#item(event);
    this.#held?.classList.add("is-held");
    if (event.dataTransfer) event.dataTransfer.effectAllowed = "move";
  }

  /** @param {DragEvent} event */
  #over(event) {
    const over = this.#item(event);
    if (!this.#held || !over) return;
    event.preventDefault();
    if (over === this.#held) return;
    const { top, height } = over.getBoundingClientRect();
    over[event.clientY < top + height / 2 ? "before" : "after"](this.#held);
  }

  #end() {
    this.#held?.classList.remove("is-held");
    this.#held = null;
    const query = new URLSearchParams(location.search),
      steps = all(this.list, "li", HTMLElement).map((item) => item.dataset.action ?? "");
    if (steps.join() === query.getAll("step").join()) return;
    query.delete("step");
    for (const step of steps) query.append("step", step);
    location.assign(`?${query}`);
  }
}

for (const list of all(document, "[data-order].is-live", HTMLElement)) new OrderList(list);
