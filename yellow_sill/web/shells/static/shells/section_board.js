/**
 * A section: its numbers on the board, and the line in the small drawing that is dragged to cut elsewhere.
 * The server works out every cut; here a page's drawing is only put in place of the one before.
 */
import { mount, one, told } from "frame/board/page.js";
import { el, n1, pageData } from "frame/board/svg.js";
import { Viewport } from "frame/board/viewport.js";

/** @typedef {{ n: number, code: string, places: [number, number][] }} Label */
/** A number's patch, px. */
const HALF = 11,
  HIGH = 17;

class SectionBoard {
  #asked = 0;

  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    this.svg = svg;
    this.viewport = new Viewport(svg, { bounds: told(svg, "bounds"), pad: [26, 26, 26, 40] });
    this.marks = this.viewport.overlay.appendChild(el("g"));
    /** @type {Label[]} */
    this.labels = pageData("cut-labels");
    this.viewport.onChange(() => this.#number());
    document.addEventListener("pointerover", (event) => this.#light(event));
    const where = document.querySelector("[data-cut-where]");
    if (where instanceof SVGSVGElement) this.#dragged(where);
  }

  /** Each number where no other stands; what finds no room waits until the drawing is larger. */
  #number() {
    /** @type {[number, number][]} */
    const taken = [],
      free = (/** @type {number[]} */ [x, y]) =>
        taken.every(([a, b]) => Math.abs(a - x) > 2 * HALF + 2 || Math.abs(b - y) > HIGH + 2);
    this.marks.replaceChildren();
    for (const { n, places } of this.labels) {
      const at = places.map((place) => this.viewport.px(...place)).find(free);
      if (!at) continue;
      taken.push(at);
      const [x, y] = at.map(n1);
      this.marks.append(
        el(
          "g",
          { class: "cut-mark" },
          el("rect", { x: n1(x - HALF), y: n1(y - HIGH / 2), width: 2 * HALF, height: HIGH }),
          el("text", { x, y: n1(y + 4.5) }, String(n)),
        ),
      );
    }
  }

  /** The sheet under the pointer, in the list or on the board, is lit in both. @param {Event} event */
  #light(event) {
    const on = event.target instanceof Element ? event.target.closest("[data-code]") : null,
      code = on?.getAttribute("data-code");
    for (const line of this.svg.querySelectorAll(".cut-line"))
      line.classList.toggle("is-on", Boolean(code) && line.getAttribute("data-code") === code);
  }

  /** @param {SVGSVGElement} where */
  #dragged(where) {
    const trace = one(where, "[data-trace]", SVGPathElement),
      across = where.dataset.across?.endsWith(where.dataset.axis ?? "");
    let held = false;
    /** @param {PointerEvent} event */
    const place = (event) => {
      const to = where.getScreenCTM()?.inverse(),
        at = new DOMPoint(event.clientX, event.clientY).matrixTransform(to),
        signs = told(where, "signs"),
        box = where.viewBox.baseVal;
      trace.setAttribute(
        "d",
        across ? `M${at.x} ${box.y}V${box.y + box.height}` : `M${box.x} ${at.y}H${box.x + box.width}`,
      );
      return across ? signs[0] * at.x : -signs[1] * at.y;
    };
    where.addEventListener("pointerdown", (event) => {
      held = true;
      where.setPointerCapture(event.pointerId);
      place(event);
    });
    where.addEventListener("pointermove", (event) => {
      if (held) this.#cut(place(event));
    });
    where.addEventListener("pointerup", (event) => {
      if (!held) return;
      held = false;
      this.#cut(place(event));
    });
  }

  /**
   * Ask for the cut at a place and put it in this one's stead; of several asked at once the last counts.
   * @param {number} mm
   */
  async #cut(mm) {
    const asked = ++this.#asked,
      form = one(document, "[data-section-form]", HTMLFormElement),
      address = new URL(location.href);
    address.searchParams.set("axis", String(new FormData(form).get("axis")));
    address.searchParams.set("at", `${Math.round(mm)} mm`);
    const answer = await fetch(address, { headers: { accept: "text/html" } });
    if (!answer.ok || asked !== this.#asked) return;
    const page = new DOMParser().parseFromString(await answer.text(), "text/html");
    if (asked !== this.#asked) return;
    history.replaceState(null, "", address);
    const world = page.querySelector("[data-section-board] [data-world]");
    if (world) this.viewport.world.replaceChildren(...world.childNodes);
    this.labels = JSON.parse(page.getElementById("cut-labels")?.textContent ?? "[]");
    this.viewport.bounds = JSON.parse(
      page.querySelector("[data-section-board]")?.getAttribute("data-bounds") ?? "[0,0,1,1]",
    );
    this.viewport.fit();
    for (const part of [".ys-sheet", ".tblock"]) {
      const mine = document.querySelector(part),
        theirs = page.querySelector(part);
      if (mine && theirs) mine.replaceChildren(...theirs.childNodes);
    }
  }
}

mount("[data-section-board]", SectionBoard);
