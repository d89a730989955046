/** Leaving a page with something written on it that nobody has stored: the browser asks first. */

/** Forms that look after themselves: a drawing that is offered again, a line that is compared with the stored one. */
const OWN = "[data-finding-form], [data-cut-form]";
let sent = null;

const differs = (field) => {
  if (!field.name || field.disabled || ["hidden", "submit", "button"].includes(field.type)) return false;
  if (field.type === "checkbox" || field.type === "radio") return field.checked !== field.defaultChecked;
  if (field.type === "file") return field.files.length > 0;
  if (field instanceof HTMLSelectElement) return chosen(field) !== atFirst(field);
  return field.value !== field.defaultValue;
};
const chosen = (select) =>
  [...select.options]
    .filter((option) => option.selected)
    .map((option) => option.value)
    .join("\n");
const atFirst = (select) => {
  const marked = [...select.options].filter((option) => option.defaultSelected).map((option) => option.value);
  return marked.length || select.multiple ? marked.join("\n") : (select.options[0]?.value ?? "");
};
/** What was refused stands in its form as typed, and is not stored either. */
const unsaved = (form) =>
  form !== sent &&
  form.method === "post" &&
  !form.matches(OWN) &&
  !form.querySelector("[type=password]") &&
  (form.querySelector(".fault, [data-conflict]") !== null || [...form.elements].some(differs));

addEventListener("submit", (event) => {
  if (!event.defaultPrevented) sent = event.target;
});
addEventListener("pageshow", () => {
  sent = null;
});
addEventListener("beforeunload", (event) => {
  if ([...document.forms].some(unsaved)) event.preventDefault();
});
