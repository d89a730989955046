/** The stroke leads from any page of a vehicle to where its words are found again. */
import { plain, typing } from "frame/board/keys.js";

document.addEventListener("keydown", (event) => {
  if (event.key !== "/" || !plain(event) || typing(event)) return;
  event.preventDefault();
  const link = document.querySelector("[data-find]");
  if (link instanceof HTMLAnchorElement) link.click();
});
