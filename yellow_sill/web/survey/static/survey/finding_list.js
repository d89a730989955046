/** Arrow keys go from finding to finding in the list; Enter opens one, as a link does. */
export function mount(root) {
  root.addEventListener("keydown", (event) => {
    const by = { ArrowDown: 1, ArrowUp: -1, j: 1, k: -1 }[event.key];
    if (!by || event.target.closest("input, select, textarea")) return;
    const links = [...root.querySelectorAll("tbody td:first-child a")],
      at = links.indexOf(document.activeElement);
    const to = links[Math.min(links.length - 1, Math.max(0, at + by))];
    if (to) {
      to.focus();
      event.preventDefault();
    }
  });
}

for (const root of document.querySelectorAll("[data-finding-list]")) mount(root);
