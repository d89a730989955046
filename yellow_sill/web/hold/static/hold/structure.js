/**
 * The shell as a structure: members drawn by what is left of them and what they carry now, braces, stands, places.
 */
import { el, lineD, n1 } from "frame/board/svg.js";

/** @typedef {import("frame/board/turn.js").Place} Place */
/** @typedef {import("frame/board/turn.js").Projected} Projected */
/** @typedef {{ at: Place, name: string, datum: string, seen: boolean, swing: Place }} Node */
/**
 * @typedef {{ ends: [string, string], there: boolean, less: boolean, size: number, carries: number, idle: boolean,
 *   parts: string[], told: string }} Member
 */
/**
 * @typedef {{ nodes: Record<string, Node>, members: Member[], braces: [string, string, boolean][],
 *   stands: Record<string, number | null>, worst: string, verdict: string, body: Place[][],
 *   axes: [string, string] | null, deep: [number, number] | null }} HoldPage
 */

/**
 * Less than this share of the most that any member carries is not drawn as carrying; a full core is so wide of its
 * member.
 */
const LEAST_CORE = 0.15,
  CORE = 0.62;
const DOT_PX = 4,
  CHOSEN_PX = 4,
  HIT_PX = 15,
  BAR_PX = 3,
  BAR_HIT_PX = 18;
/** A tap at a member's very end still means the member, not what it meets. */
const ENDS = [0.02, 0.98];

/**
 * @param {Member} member
 * @param {string} d
 * @param {number} wide px
 */
function barShape(member, d, wide) {
  const less = member.less ? " is-less" : "",
    title = member.idle ? `${member.told}; carries nothing` : member.told,
    group = el("g", { class: "hm" }, el("title", {}, title));
  const part = (/** @type {string} */ cls, /** @type {number} */ width) =>
    group.append(el("path", { class: cls, d, "stroke-width": n1(width) }));
  if (member.idle || !member.there) group.append(el("path", { class: "hm-gone", d }));
  else {
    part(`hm-edge${less}`, wide + 2);
    part(`hm-fill${less}`, wide);
    if (member.carries >= LEAST_CORE) part("hm-core", Math.max(1, wide * member.carries * CORE));
  }
  part("hm-hit", Math.max(BAR_HIT_PX, wide));
  return group;
}

export class Structure {
  /** The first end of a brace that is being tried. @type {string | null} */
  first = null;
  /** How far the shell is drawn given, -1 to 1. */
  swing = 0;

  /**
   * @param {SVGSVGElement} svg
   * @param {HoldPage} page
   * @param {{ bar: (place: [number, number], member: Member, at: number[]) => void, dot: (name: string) => void }}
   *   tapped
   */
  constructor(svg, page, tapped) {
    this.svg = svg;
    this.page = page;
    this.tapped = tapped;
  }

  /** Where a node is drawn now. @param {string} name @returns {Place} */
  #placed(name) {
    const { at, swing } = this.page.nodes[name];
    return [at[0] + swing[0] * this.swing, at[1] + swing[1] * this.swing, at[2] + swing[2] * this.swing];
  }

  /** @param {SVGGElement} layer @param {(place: Place) => Projected} at @param {number} k px a mm */
  paint(layer, at, k) {
    const { members, braces, stands } = this.page;
    const bars = members.map((member) => {
      const [a, b] = member.ends.map((name) => at(this.#placed(name)));
      return { member, a, b, deep: a[2] + b[2] };
    });
    for (const { member, a, b } of bars.sort((p, q) => q.deep - p.deep))
      layer.append(this.#bar(a, b, member, k));
    for (const [from, to, kept] of braces)
      layer.append(...this.#brace(from, to, kept, lineD(at(this.#placed(from)), at(this.#placed(to)))));
    for (const name of Object.keys(stands)) layer.append(this.#stand(name, at(this.page.nodes[name].at)));
    const dots = Object.keys(this.page.nodes)
      .filter((name) => this.page.nodes[name].seen)
      .map((name) => ({ name, px: at(this.#placed(name)) }));
    // the nearest on top: it is the one that is meant
    for (const { name, px } of dots.sort((p, q) => q.px[2] - p.px[2])) layer.append(this.#dot(name, px));
    this.#worst(layer, at);
  }

  /** @param {Projected} a @param {Projected} b @param {Member} member @param {number} k */
  #bar(a, b, member, k) {
    const group = barShape(member, lineD(a, b), Math.max(BAR_PX, member.size * k));
    group.addEventListener("click", (event) => {
      event.stopPropagation();
      this.#tapBar(event, a, b, member);
    });
    return group;
  }

  /** @param {MouseEvent} event @param {Projected} a @param {Projected} b @param {Member} member */
  #tapBar(event, a, b, member) {
    const box = this.svg.getBoundingClientRect(),
      x = event.clientX - box.left,
      y = event.clientY - box.top,
      dx = b[0] - a[0],
      dy = b[1] - a[1];
    const share = ((x - a[0]) * dx + (y - a[1]) * dy) / Math.max(1, dx ** 2 + dy ** 2),
      t = Math.max(ENDS[0], Math.min(ENDS[1], share)),
      [from, to] = member.ends.map((name) => this.page.nodes[name].at);
    this.tapped.bar(
      [x, y],
      member,
      from.map((v, i) => v + (to[i] - v) * t),
    );
  }

  /** @param {string} from @param {string} to @param {boolean} kept @param {string} d */
  #brace(from, to, kept, d) {
    const { nodes } = this.page,
      title = el("title", {}, `Brace: ${nodes[from].name} to ${nodes[to].name}`),
      bar = el("path", { class: kept ? "hm-brace is-kept" : "hm-brace", d }, title);
    return kept ? [bar] : [el("path", { class: "hm-brace-edge", d }), bar];
  }

  /** @param {string} name @param {Projected} at */
  #stand(name, at) {
    const [x, y] = at.map(n1),
      force = this.page.stands[name],
      told = force === null ? "" : `, ${Math.round(force)} N`,
      title = el("title", {}, `Stand: ${this.page.nodes[name].name}${told}`);
    return el("path", { class: "hm-stand", d: `M${x} ${y}l-7 18h14z` }, title);
  }

  /** @param {string} name @param {Projected} px */
  #dot(name, px) {
    const [x, y] = px.map(n1),
      node = this.page.nodes[name],
      chosen = this.first === name;
    const dot = el(
      "g",
      { class: `hm-dot${chosen ? " is-first" : ""}`, "data-node": name },
      el("title", {}, node.datum ? `${node.name}, datum ${node.datum}` : node.name),
      el("circle", { class: "hm-dot-mark", cx: x, cy: y, r: chosen ? DOT_PX + CHOSEN_PX : DOT_PX }),
      el("circle", { class: "hm-dot-hit", cx: x, cy: y, r: HIT_PX }),
    );
    dot.addEventListener("click", (event) => {
      event.stopPropagation();
      this.tapped.dot(name);
    });
    return dot;
  }

  /**
   * Where it gives most, while it is not held.
   * @param {SVGGElement} layer
   * @param {(place: Place) => Projected} at
   */
  #worst(layer, at) {
    const { nodes, worst, verdict } = this.page;
    if (verdict === "HELD" || !nodes[worst]?.seen) return;
    const [x, y] = at(this.#placed(worst)).map(n1);
    layer.append(
      el("circle", { class: "hm-worst", cx: x, cy: y, r: 13 }),
      el("text", { class: "hm-lab", x: x + 18, y: y + 5 }, nodes[worst].name),
    );
  }
}
