/** How an edge is made: offered beside it on the board, its figures on the sheet. */
import { all, one } from "frame/board/page.js";
import { deed, Popover } from "frame/board/popover.js";

/** Each edge asks only what its treatment needs. @param {HTMLFormElement} form */
export function showFields(form) {
  for (const side of all(form, "[data-side]", HTMLElement)) {
    const treatment = one(side, "select", HTMLSelectElement).value;
    for (const label of all(side, "[data-for]", HTMLElement))
      label.hidden = !label.dataset.for?.split(" ").includes(treatment.replace(" ", "-"));
    one(side, ".more", HTMLElement).hidden = ["butt", "free"].includes(treatment);
  }
}

/**
 * A tapped edge offers the ways to make it; its row comes to the front on the sheet.
 * @param {SVGSVGElement} svg
 * @param {HTMLFormElement} form
 */
export function offerEdges(svg, form) {
  const pop = new Popover(one(document, "[data-edge-sheet]", HTMLElement));
  const tapped = (/** @type {EventTarget | null} */ on) => {
    const dot = on instanceof Element ? on.closest("[data-edge]") : null;
    if (!(dot instanceof SVGElement)) return pop.close();
    const side = one(form, `[data-side="${dot.dataset.edge}"]`, HTMLElement),
      select = one(side, "select", HTMLSelectElement),
      box = dot.getBoundingClientRect(),
      field = pop.sheet.parentElement?.getBoundingClientRect() ?? box;
    const choose = (/** @type {string} */ value) => {
      select.value = value;
      pop.close();
      select.dispatchEvent(new Event("input", { bubbles: true }));
      side.scrollIntoView({ block: "nearest" });
    };
    pop.offer(
      [box.right - field.left, box.top - field.top],
      [...select.options].map((each) => deed(each.text, () => choose(each.value), each.selected)),
    );
  };
  svg.addEventListener("click", (event) => tapped(event.target));
  svg.addEventListener("keydown", (event) => {
    if (event.key === "Enter" || event.key === " ") tapped(event.target);
  });
}
