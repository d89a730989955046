/** A board that shows the shell with tags: Today, Repairs, and the survey when nothing is being drawn. */
import { layTags } from "frame/tags.js";
import { pageData } from "frame/svg.js";
import { Viewport } from "frame/viewport.js";

export function mount(svg) {
  const viewport = new Viewport(svg, { bounds: JSON.parse(svg.dataset.bounds) });
  const tags = pageData(svg.dataset.tags) ?? [];
  viewport.onChange(() => layTags(viewport, tags));
  return viewport;
}

for (const svg of document.querySelectorAll("[data-shell-board]")) mount(svg);
