/** What a board finds on its page: parts it cannot do without, told by name where one is lacking. */

/**
 * The part of a page that a selector finds.
 * @template {Element} T
 * @param {ParentNode} root
 * @param {string} selector
 * @param {{ new (): T, name: string }} kind
 * @returns {T}
 */
export function one(root, selector, kind) {
  const found = root.querySelector(selector);
  if (!(found instanceof kind)) throw new Error(`This page lacks ${selector}.`);
  return found;
}

/**
 * What puts words into the parts of a sheet by their data names.
 * @param {ParentNode} root
 */
export const saying = (root) => (/** @type {string} */ name, /** @type {string} */ words) => {
  one(root, `[data-${name}]`, HTMLElement).textContent = words;
};

/**
 * All parts of a page that a selector finds.
 * @template {Element} T
 * @param {ParentNode} root
 * @param {string} selector
 * @param {{ new (): T }} kind
 * @returns {T[]}
 */
export const all = (root, selector, kind) =>
  [...root.querySelectorAll(selector)].flatMap((each) => (each instanceof kind ? [each] : []));

/**
 * A field of a form by its name.
 * @param {HTMLFormElement} form
 * @param {string} name
 * @returns {HTMLInputElement}
 */
export const field = (form, name) => /** @type {HTMLInputElement} */ (form.elements.namedItem(name));

/**
 * Something of a page: a tag with its text and attributes.
 * @template {keyof HTMLElementTagNameMap} K
 * @param {K} tag
 * @param {Partial<HTMLElementTagNameMap[K]>} [values]
 * @param {...(Node | string)} children
 * @returns {HTMLElementTagNameMap[K]}
 */
export function made(tag, values = {}, ...children) {
  const node = Object.assign(document.createElement(tag), values);
  node.append(...children);
  return node;
}

/**
 * Do something when any part is pressed; a page without it goes without.
 * @param {string} selector
 * @param {(event: MouseEvent) => void} act
 */
export function onPress(selector, act) {
  for (const button of all(document, selector, HTMLElement)) button.addEventListener("click", act);
}

/** Selects that lead to another page as soon as something is chosen. */
export function onChoice() {
  for (const select of all(document, "[data-go]", HTMLSelectElement))
    select.addEventListener("change", () => select.form?.submit());
}

/**
 * Mount a board on each of its drawings.
 * @param {string} selector
 * @param {new (svg: SVGSVGElement) => unknown} Board
 */
export function mount(selector, Board) {
  for (const svg of all(document, selector, SVGSVGElement)) new Board(svg);
}

/**
 * What a drawing's attribute tells, as JSON.
 * @param {SVGSVGElement | HTMLElement} node
 * @param {string} name
 */
export const told = (node, name) => JSON.parse(node.dataset[name] ?? "null");

/**
 * What tells the focused part of a layer from its others, before they are drawn anew; null where the focus is
 * elsewhere.
 * @param {SVGElement} layer
 * @param {string} name of the data attribute
 */
export function focusedIn(layer, name) {
  const { activeElement } = document;
  return activeElement instanceof SVGElement && layer.contains(activeElement)
    ? (activeElement.dataset[name] ?? null)
    : null;
}

/**
 * Give the focus back to a part that was drawn anew.
 * @param {SVGElement} layer
 * @param {string} name of the data attribute
 * @param {string | null} value
 */
export function focusAgain(layer, name, value) {
  if (value === null) return;
  const part = layer.querySelector(`[data-${name}="${CSS.escape(value)}"]`);
  if (part instanceof SVGElement) part.focus();
}
