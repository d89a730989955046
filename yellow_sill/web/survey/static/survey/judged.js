/**
 * What a finding's evidence says, as the core judges it: what was looked at, row by row, and the grade beside it.
 */
import { all, field, saying } from "frame/board/page.js";
import { area, areaUnit, figure, unit } from "frame/board/units.js";

/**
 * What the core says of a finding that is drawn.
 * @typedef {{ size_mm: import("frame/board/svg.js").Point | null, area_mm2: number, grade: string, word: string,
 *   why: string }} Judged
 */

/**
 * What was looked at, as the core takes it.
 * @param {HTMLFormElement} form
 */
export function evidenceOf(form) {
  const number = (/** @type {string} */ name) => {
    const value = field(form, name)?.value.replace(",", ".");
    return value ? Number(value) : null;
  };
  const signs = all(form, "input[name=signs]:checked", HTMLInputElement).map(({ value }) => ({
    method: "sign",
    result: value,
  }));
  const looks = all(form, ".evrow select", HTMLSelectElement)
    .filter((select) => select.value)
    .map((select) => {
      const row = select.name.replace("_result", ""),
        method = row.replace("_also", "");
      return {
        method,
        result: select.value,
        hits: number(`${row}_hits`),
        tries: number(`${method}_tries`),
        thickness_mm: row === "gauge" ? number("gauge_mm") : null,
      };
    });
  return [...looks, ...signs];
}

/**
 * @param {HTMLFormElement} form
 * @param {Judged} judged
 * @param {number} corners how many are drawn so far
 */
export function sayJudged(form, { size_mm: size, area_mm2: spread, grade, word, why }, corners) {
  const put = saying(form);
  const drawn = size && `${figure(size[0])} × ${figure(size[1])} ${unit}, ${area(spread)} ${areaUnit}`;
  put("size", drawn ?? `${corners} of at least 3 corners`);
  put("grade-letter", grade || "?");
  put("grade-word", word);
  put("why", why.replace(`${word}: `, ""));
}
