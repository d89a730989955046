/** A board that shows the shell with tags: Today, Repairs, and the survey when nothing is being drawn. */
import { layTags } from "frame/tags.js";
import { el, pageData, pathD } from "frame/svg.js";
import { Viewport } from "frame/viewport.js";

export function mount(svg) {
  const viewport = new Viewport(svg, { bounds: JSON.parse(svg.dataset.bounds) });
  const tags = pageData(svg.dataset.tags) ?? [];
  viewport.onChange(() => layTags(viewport, tags));
  if (svg.dataset.ring)
    viewport.world.append(el("path", { class: "panel-chosen", d: pathD(pageData(svg.dataset.ring)) }));
  // N and P go from finding to finding, in the order of their numbers
  document.addEventListener("keydown", (event) => {
    const by = { n: 1, N: 1, p: -1, P: -1 }[event.key];
    if (
      !by ||
      !tags.length ||
      event.ctrlKey ||
      event.metaKey ||
      event.altKey ||
      event.target.closest("input, select, textarea")
    )
      return;
    const ordered = tags.filter((tag) => tag.href),
      at = ordered.findIndex((tag) => tag.selected);
    const to = at < 0 ? (by > 0 ? 0 : ordered.length - 1) : at + by;
    if (ordered[to]) location.assign(ordered[to].href);
  });
  return viewport;
}

for (const svg of document.querySelectorAll("[data-shell-board]")) mount(svg);
