/** What can be done with what was tapped: a small sheet beside the place, closed by Escape. */
import { made } from "frame/board/page.js";

/** Between the place and the sheet, and between the sheet and the field's edge, px. */
const BESIDE_PX = 10,
  EDGE_PX = 8;

export class Popover {
  /** @param {HTMLElement} sheet @param {() => void} [closed] what else closing it ends */
  constructor(sheet, closed = () => {}) {
    this.sheet = sheet;
    document.addEventListener("keydown", (event) => {
      if (event.key !== "Escape") return;
      this.close();
      closed();
    });
  }

  close() {
    this.sheet.hidden = true;
  }

  /** Say something in the upper left corner. @param {string} words */
  tell(words) {
    this.sheet.replaceChildren(made("p", { textContent: words }));
    this.sheet.style.cssText = "left:12px;top:64px";
    this.sheet.hidden = false;
  }

  /**
   * Offer deeds beside a place, px.
   * @param {import("frame/board/svg.js").Point} place
   * @param {Node[]} rows
   */
  offer([x, y], rows) {
    this.sheet.replaceChildren(
      ...rows,
      deed("Close", () => this.close()),
    );
    this.sheet.hidden = false;
    const field = this.sheet.parentElement?.getBoundingClientRect() ?? new DOMRect();
    const inside = (/** @type {number} */ at, /** @type {number} */ room) =>
      `${Math.max(EDGE_PX, Math.min(at + BESIDE_PX, room - EDGE_PX))}px`;
    this.sheet.style.left = inside(x, field.width - this.sheet.offsetWidth);
    this.sheet.style.top = inside(y, field.height - this.sheet.offsetHeight);
    this.sheet.querySelector("button")?.focus();
  }
}

/**
 * A button that does something; ``on`` where that is how it is already.
 * @param {string} words
 * @param {() => void} act
 * @param {boolean} [on]
 */
export function deed(words, act, on = false) {
  const node = made("button", {
    type: "button",
    className: on ? "btn btn-ink is-on" : "btn btn-ink",
    textContent: words,
  });
  node.addEventListener("click", act);
  return node;
}
