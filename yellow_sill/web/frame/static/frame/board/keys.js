/** Keys: what each does on a board, and when a key is meant for something else. */

/** @param {KeyboardEvent} event */
export const plain = (event) => !(event.ctrlKey || event.metaKey || event.altKey);

/** Whether somebody is typing. @param {Event} event */
export const typing = (event) =>
  event.target instanceof Element && event.target.closest("input, select, textarea") !== null;

/** A press that does what a tap does. @param {KeyboardEvent} event */
export const pressed = (event) => event.key === "Enter" || event.key === " ";

/** @type {Record<string, [number, number]>} */
const WAYS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };

/**
 * Which way an arrow key points, up being 1; null for other keys.
 * @param {KeyboardEvent} event
 * @returns {[number, number] | null}
 */
export const way = (event) => WAYS[event.key] ?? null;

/**
 * A key that a board has taken: nobody else does anything by it.
 * @param {Event} event
 */
export function taken(event) {
  event.preventDefault();
  event.stopPropagation();
}

/**
 * Moving and zooming a field by keys, and by the buttons of its board.
 * @param {SVGSVGElement} svg
 * @param {{
 *   move: (right: number, up: number, wide: boolean) => void,
 *   zoom: (factor: number) => void,
 *   fit: () => void,
 *   own?: (event: KeyboardEvent) => boolean,
 *   buttons?: boolean,
 * }} deeds wide: with shift; own: whether a key is meant for the field; buttons: whether those of its board are
 * its own.
 */
export function fieldKeys(svg, { move, zoom, fit, own = () => true, buttons = true }) {
  svg.addEventListener("keydown", (event) => {
    if (!plain(event) || !own(event)) return;
    const by = way(event),
      factor = { "+": 1.25, "=": 1.25, "-": 0.8 }[event.key];
    if (by) move(...by, event.shiftKey);
    else if (factor) zoom(factor);
    else if (event.key === "0") fit();
    else return;
    event.preventDefault();
  });
  if (!buttons) return;
  for (const button of svg.closest(".ys-board")?.querySelectorAll("[data-zoom]") ?? [])
    button.addEventListener("click", () => {
      const by = /** @type {HTMLElement} */ (button).dataset.zoom;
      if (by === "fit") fit();
      else zoom(Number(by));
    });
}

/**
 * Ctrl or Command with Z and Y, while nobody types.
 * @param {{ undo: () => void, redo: () => void }} editor
 */
export function undoKeys(editor) {
  addEventListener("keydown", (event) => {
    if (!(event.ctrlKey || event.metaKey) || typing(event)) return;
    const key = event.key.toLowerCase();
    if (key !== "z" && key !== "y") return;
    event.preventDefault();
    if (key === "y" || event.shiftKey) editor.redo();
    else editor.undo();
  });
}
