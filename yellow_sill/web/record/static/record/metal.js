/** A sheet that is tapped on the drawing is chosen in the form. */
import { one } from "frame/board/page.js";

document.addEventListener("panel-tapped", (event) => {
  const { code } = /** @type {CustomEvent<{ code: string }>} */ (event).detail,
    select = one(document, "[data-sheet-form] select[name=code]", HTMLSelectElement);
  if ([...select.options].some((option) => option.text === code)) select.value = code;
});
