/**
 * The shell as a structure, on a turntable or over a flat view, and how it gives, played once.
 * A tap on a bar or a panel offers what to try; two dots try a brace.
 */
import { all, made, mount, one, onPress, told } from "frame/board/page.js";
import { TAP_PX } from "frame/board/pointer.js";
import { deed, Popover } from "frame/board/popover.js";
import { el, pageData } from "frame/board/svg.js";
import { bodyLines, Turntable } from "frame/board/turn.js";
import { Viewport } from "frame/board/viewport.js";
import { Structure } from "hold/structure.js";
import { swing } from "hold/swing.js";
import { Trying } from "hold/trying.js";

/** @typedef {import("frame/board/svg.js").Point} Point */
/** @typedef {import("frame/board/turn.js").Place} Place */
/**
 * A drawn panel, cut at a place of its view: view, panel, u, v.
 * @typedef {[string, string, number, number]} CutAt
 */
/**
 * @typedef {{ parts: Record<string, { name: string, state: string, panels: string[] }>, cuts: [string, string][],
 *   panels: Record<string, string[]>, views: Record<string, string[]> }} TapPage
 */

const AXES = ["x", "y", "z"];
/**
 * A place in space in a view's plane; an axis such as "-x" runs against the shell's.
 * @param {number[]} place
 * @param {string[]} axes
 * @returns {Point}
 */
const inView = (place, [u, v]) => {
  const along = (/** @type {string} */ axis) =>
    place[AXES.indexOf(axis.slice(-1))] * (axis[0] === "-" ? -1 : 1);
  return [along(u), along(v)];
};

/**
 * Where a part is cut when it was tapped at a place in space: a drawn panel of it and the place in that view.
 * @param {TapPage} taps
 * @param {string} part
 * @param {number[]} place
 * @returns {CutAt | null}
 */
function cutAt(taps, part, place) {
  for (const code of taps.parts[part].panels) {
    const view = taps.panels[code]?.[0];
    if (view) return [view, code, ...inView(place, taps.views[view])];
  }
  return null;
}

class HoldBoard {
  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    this.svg = svg;
    /** @type {import("hold/structure.js").HoldPage} */
    this.page = pageData("hold-data");
    /** @type {TapPage} */
    this.taps = pageData("tap-data");
    this.trying = new Trying(this.taps.parts);
    this.pop = new Popover(one(document, ".hold-pop", HTMLElement), () => this.#choose(null));
    this.structure = new Structure(svg, this.page, {
      bar: (px, member, place) => this.#offer(px, member.parts, (part) => cutAt(this.taps, part, place)),
      dot: (name) => this.#join(name),
    });
    this.draw = this.page.axes ? this.#flat(this.page.axes, this.page.deep ?? [1, 0]) : this.#turning();
    onPress("[data-play]", (event) =>
      swing(/** @type {HTMLButtonElement} */ (event.currentTarget), (share) => {
        this.structure.swing = share;
        this.draw();
      }),
    );
  }

  #turning() {
    const { nodes, body } = this.page,
      cloud = [...Object.values(nodes).map((node) => node.at), ...body.flat()];
    const table = new Turntable(
      this.svg,
      cloud,
      (layer, at, { k, turn }) => {
        bodyLines(layer, body, at, turn);
        this.structure.paint(layer, at, k);
      },
      "hold",
    );
    this.svg.addEventListener("click", (event) => event.target === this.svg && this.pop.close());
    return () => table.draw();
  }

  /**
   * Over a flat view.
   * @param {[string, string]} axes
   * @param {[number, number]} deep which axis runs into it, and which way
   */
  #flat(axes, [axis, sign]) {
    const viewport = new Viewport(this.svg, { bounds: told(this.svg, "bounds"), pad: [14, 70, 14, 205] }),
      layer = viewport.overlay.appendChild(el("g", { class: "is-over" }));
    const draw = () => {
      layer.replaceChildren();
      this.structure.paint(
        layer,
        (place) => [...viewport.px(...inView(place, axes)), place[axis] * sign],
        viewport.k,
      );
    };
    viewport.onChange(draw);
    for (const path of all(this.svg, "[data-panel]", SVGElement)) this.#panel(path, viewport);
    return draw;
  }

  /** @param {SVGElement} path @param {Viewport} viewport */
  #panel(path, viewport) {
    const code = path.dataset.panel ?? "",
      parts = Object.keys(this.taps.parts).filter((part) => this.taps.parts[part].panels.includes(code)),
      states = parts.map((part) => this.taps.parts[part].state);
    path.classList.toggle("hp-out", states.includes("out"));
    path.classList.toggle("hp-new", states.includes("new"));
    path.addEventListener("click", (event) => {
      if (viewport.moved > TAP_PX) return;
      const at = viewport.at(event),
        view = new URLSearchParams(location.search).get("view") ?? "";
      if (parts.length) this.#offer(at, parts, () => [view, code, ...viewport.mm(...at)]);
      else
        this.pop.tell(
          `${code} counts for nothing in the hold. A panel of your own can be tied to it under Braces.`,
        );
    });
  }

  /** @param {Point} at px @param {string[]} parts @param {(part: string) => CutAt | null} cutAt */
  #offer(at, parts, cutAt) {
    const rows = parts.map((part) => {
      const { name, state, panels } = this.taps.parts[part],
        cut = cutAt(part),
        row = made("section", {}, made("b", { textContent: name }));
      row.append(deed("Out now", () => this.trying.out(part), state === "out"));
      if (cut) row.append(deed("Cut to here", () => this.trying.cut(part, cut[0], cut[1], [cut[2], cut[3]])));
      row.append(deed("New in", () => this.trying.renewed(part), state === "new"));
      if (state || this.taps.cuts.some(([, code]) => panels.includes(code)))
        row.append(deed("As found", () => this.trying.asFound(part)));
      return row;
    });
    this.pop.offer(at, rows);
  }

  /** The first tapped place begins a brace, the second ends it. @param {string} name */
  #join(name) {
    const from = this.structure.first;
    if (from && from !== name) {
      this.trying.brace(from, name);
      return;
    }
    this.pop.close();
    this.#choose(from === name ? null : name);
    if (this.structure.first)
      this.pop.tell(`Brace from the ${this.page.nodes[name].name}: tap the place it goes to.`);
  }

  /** @param {string | null} name */
  #choose(name) {
    if (this.structure.first === name) return;
    this.structure.first = name;
    this.draw();
  }
}

mount("[data-hold-board]", HoldBoard);
