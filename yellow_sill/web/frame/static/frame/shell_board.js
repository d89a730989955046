/** A board that shows the shell with tags: Today, Repairs, and the survey when nothing is being drawn. */
import { plain, typing } from "frame/board/keys.js";
import { mount, told } from "frame/board/page.js";
import { el, pageData, pathD } from "frame/board/svg.js";
import { layTags } from "frame/board/tags.js";
import { Viewport } from "frame/board/viewport.js";

class ShellBoard {
  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    this.viewport = new Viewport(svg, { bounds: told(svg, "bounds") });
    /** @type {import("frame/board/tags.js").Tag[]} */
    this.tags = pageData(svg.dataset.tags) ?? [];
    this.viewport.onChange(() => layTags(this.viewport, this.tags));
    if (svg.dataset.ring)
      this.viewport.world.append(el("path", { class: "panel-chosen", d: pathD(pageData(svg.dataset.ring)) }));
    document.addEventListener("keydown", (event) => this.#key(event));
  }

  /** N and P go from finding to finding, in the order of their numbers. @param {KeyboardEvent} event */
  #key(event) {
    const by = { n: 1, p: -1 }[event.key.toLowerCase()];
    if (!by || !plain(event) || typing(event)) return;
    const ordered = this.tags.filter((tag) => tag.href),
      at = ordered.findIndex((tag) => tag.selected),
      to = ordered[at < 0 ? (by > 0 ? 0 : ordered.length - 1) : at + by];
    if (to?.href) location.assign(to.href);
  }
}

mount("[data-shell-board]", ShellBoard);
