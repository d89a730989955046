/**
 * A board that shows the shell with tags: Today, Repairs, and the survey when nothing is being drawn. A tap rings a
 * panel, a second one brings it before the eye, a third shows all again.
 */
import { plain, typing } from "frame/board/keys.js";
import { mount, told } from "frame/board/page.js";
import { TAP_PX } from "frame/board/pointer.js";
import { el, pageData, pathD, widened } from "frame/board/svg.js";
import { layTags } from "frame/board/tags.js";
import { Viewport } from "frame/board/viewport.js";

/** Round a panel that is shown, a share of its longer side. */
const ROUND = 0.1;

class ShellBoard {
  /** @type {SVGPathElement | undefined} */
  #ring;
  #tapped = "";
  #close = false;

  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    this.viewport = new Viewport(svg, { bounds: told(svg, "bounds") });
    /** @type {import("frame/board/tags.js").Tag[]} */
    this.tags = pageData(svg.dataset.tags) ?? [];
    this.viewport.onChange(() => layTags(this.viewport, this.tags));
    if (svg.dataset.ring)
      this.viewport.world.append(el("path", { class: "panel-chosen", d: pathD(pageData(svg.dataset.ring)) }));
    document.addEventListener("keydown", (event) => this.#key(event));
    svg.addEventListener("click", (event) => this.#tap(event));
  }

  /** @param {MouseEvent} event */
  #tap(event) {
    const on = /** @type {Element} */ (event.target),
      panel = on.closest("[data-panel]");
    if (this.viewport.moved > TAP_PX || on.closest("a")) return;
    const at = this.viewport.mm(...this.viewport.at(event));
    document.dispatchEvent(new CustomEvent("place-tapped", { detail: { at } }));
    if (!(panel instanceof SVGGraphicsElement)) return;
    const code = panel.dataset.panel ?? "";
    if (code !== this.#tapped) {
      this.#tapped = code;
      this.#close = false;
      this.#ring ??= this.viewport.world.appendChild(el("path", { class: "panel-chosen" }));
      this.#ring.setAttribute("d", panel.getAttribute("d") ?? "");
      const told = panel.querySelector("title")?.textContent ?? code;
      document.dispatchEvent(new CustomEvent("panel-tapped", { detail: { code, told } }));
    } else if (this.#close) {
      this.#close = false;
      this.viewport.fit();
    } else {
      this.#close = true;
      const { x, y, width, height } = panel.getBBox();
      this.viewport.show(widened([x, -y - height, x + width, -y], ROUND));
    }
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
