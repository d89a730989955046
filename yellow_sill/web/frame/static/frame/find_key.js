/** Keys that lead from any page of a vehicle to where its words are found again, and where some are written down. */
import { plain, typing } from "frame/board/keys.js";

/** @type {Record<string, string>} */
const KEYS = { "/": "[data-find]", l: "[data-quick]" };

document.addEventListener("keydown", (event) => {
  const where = KEYS[event.key];
  if (!where || !plain(event) || typing(event)) return;
  event.preventDefault();
  const link = document.querySelector(where);
  if (link instanceof HTMLAnchorElement) link.click();
});
