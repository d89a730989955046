/** Leaving a page with something written on it that nobody has stored: the browser asks first. */

/**
 * Forms that look after themselves: a drawing that is offered again, a line that is compared with the stored one.
 */
const OWN = "[data-finding-form], [data-cut-form]";
/** @type {EventTarget | null} */
let sent = null;

/** @param {HTMLSelectElement} select @param {(option: HTMLOptionElement) => boolean} wanted */
const values = (select, wanted) =>
  [...select.options]
    .filter(wanted)
    .map((option) => option.value)
    .join("\n");

/** @param {HTMLSelectElement} select */
function chosenAnew(select) {
  const chosen = values(select, (option) => option.selected),
    marked = values(select, (option) => option.defaultSelected),
    first = marked || select.multiple ? marked : (select.options[0]?.value ?? "");
  return chosen !== first;
}

/** Whether a field says something else than the page came with. @param {Element} field */
function differs(field) {
  if (field instanceof HTMLSelectElement) return field.name !== "" && !field.disabled && chosenAnew(field);
  if (!(field instanceof HTMLInputElement || field instanceof HTMLTextAreaElement)) return false;
  if (!field.name || field.disabled || ["hidden", "submit", "button"].includes(field.type)) return false;
  if (field instanceof HTMLTextAreaElement) return field.value !== field.defaultValue;
  if (field.type === "checkbox" || field.type === "radio") return field.checked !== field.defaultChecked;
  if (field.type === "file") return (field.files?.length ?? 0) > 0;
  return field.value !== field.defaultValue;
}

/** What was refused stands in its form as typed, and is not stored either. @param {HTMLFormElement} form */
const unsaved = (form) =>
  form !== sent &&
  form.method === "post" &&
  !form.matches(OWN) &&
  !form.querySelector("[type=password]") &&
  (form.querySelector(".fault, [data-conflict]") !== null || [...form.elements].some(differs));

/**
 * Leaves a page for good with what is in a form: it is sent, or it is stored already and another page is shown.
 * @param {HTMLFormElement} form @param {string} [page] shown instead of sending the form
 */
export function leave(form, page) {
  sent = form;
  if (page === undefined) form.submit();
  else if (page.split("#")[0] === location.pathname) {
    form.reset();
    location.hash = page.split("#")[1] ?? "";
    location.reload();
  } else location.assign(page);
}

addEventListener("submit", (event) => {
  if (!event.defaultPrevented) sent = event.target;
});
addEventListener("pageshow", () => {
  sent = null;
});
addEventListener("beforeunload", (event) => {
  if ([...document.forms].some(unsaved)) event.preventDefault();
});
