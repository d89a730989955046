/** The order of removal: steps dragged to another place, and a search that tells how far it is. */
import { ask } from "frame/ask.js";
import { all, one } from "frame/board/page.js";

const POLL_MS = 500;

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

/** Asks how far a search is until it is done. @param {HTMLElement} box */
function follow(box) {
  const bar = one(box, "progress", HTMLProgressElement),
    said = one(box, "[data-said]", HTMLElement);
  const look = async () => {
    const { ok, status, data } = await ask(box.dataset.progress ?? "");
    if (status === 404 || (ok && data.done)) {
      location.reload();
      return;
    }
    if (ok) bar.value = data.share;
    else said.textContent = data.error.what;
    setTimeout(look, POLL_MS);
  };
  setTimeout(look, POLL_MS);
}

for (const list of all(document, "[data-order].is-live", HTMLElement)) new OrderList(list);
for (const box of all(document, "[data-progress]", HTMLElement)) follow(box);
