/** Arrow keys go from finding to finding in the list; Enter opens one, as a link does. */
import { typing } from "frame/board/keys.js";
import { all } from "frame/board/page.js";

/** @type {Record<string, number>} */
const WAYS = { ArrowDown: 1, ArrowUp: -1, j: 1, k: -1 };

for (const root of all(document, "[data-finding-list]", HTMLElement))
  root.addEventListener("keydown", (event) => {
    const by = WAYS[event.key];
    if (!by || typing(event)) return;
    const links = all(root, "tbody td:first-child a", HTMLAnchorElement),
      at = links.findIndex((link) => link === document.activeElement),
      to = links[Math.min(links.length - 1, Math.max(0, at + by))];
    if (!to) return;
    to.focus();
    event.preventDefault();
  });
