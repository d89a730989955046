/**
 * The tack map: numbered tacks, a step control that plays the passes, the plate's heat as the core sees it.
 */
import { ask } from "frame/ask.js";
import { all, mount, one, told } from "frame/board/page.js";
import { el, pageData, pathD, widened } from "frame/board/svg.js";
import { Viewport } from "frame/board/viewport.js";
import { GoingOn } from "weld/going.js";
import { Heat, layChart } from "weld/heat.js";
import { find, sayReady, sayStep } from "weld/steps.js";
import { Tacks } from "weld/tacks.js";

/** @typedef {import("weld/tacks.js").Tack} Tack */
/** @typedef {{ path: [number, number][], closed: boolean }} SeamPath */
/**
 * @typedef {{ tacks: Tack[], paths: SeamPath[], seam: number, limit: number, limit_shown: string, heat: string,
 *   cautions: string, ready: boolean, steps: string, going: import("weld/going.js").Going }} WeldPage
 */

/** Between two tacks while the passes are played, ms. */
const PLAY_MS = 450;

/** @param {HTMLInputElement} box */
const markTick = (box) => box.closest("label")?.classList.toggle("miss", !box.checked);

class WeldBoard {
  step = 0;
  #timer = 0;
  /** @type {Promise<void>} the last tick that was sent */
  #stored = Promise.resolve();

  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    /** @type {WeldPage} */
    this.page = pageData("board-data");
    const { tacks, paths, heat, seam } = this.page;
    this.viewport = new Viewport(svg, {
      bounds: widened(told(svg, "bounds"), 0.16, 24),
      pad: [8, 8, 190, 96],
    });
    const warmth = this.viewport.world.appendChild(el("g", { "aria-hidden": "true" }));
    this.viewport.world.append(
      ...paths.map(({ path, closed }) => el("path", { class: "seam", d: pathD(path, closed) })),
    );
    this.heat = new Heat(warmth, `${heat}?seam=${seam}`);
    this.tacks = new Tacks(this.viewport, tacks, (step) => this.#go(step));
    this.range = one(document, "[data-stepper] input", HTMLInputElement);
    this.button = one(document, "[data-tack]", HTMLButtonElement);
    this.#listen();
    this.viewport.onChange(() => this.tacks.draw(this.step));
    this.going = new GoingOn(this.page.steps, seam, this.page.going, () => this.#go(this.going.reached));
    this.#go(this.page.going.reached);
  }

  #listen() {
    const press = (/** @type {string} */ name, /** @type {() => number} */ to) =>
      find(name).addEventListener("click", () => {
        this.#stop();
        this.#go(to());
      });
    press("back", () => this.step - 1);
    press("on", () => this.step + 1);
    press("tack", () => this.#tacked());
    this.range.addEventListener("input", () => {
      this.#stop();
      this.#go(Number(this.range.value));
    });
    find("play").addEventListener("click", () => this.#play());
    find("cautions").addEventListener("change", (event) =>
      this.#tick(/** @type {HTMLInputElement} */ (event.target)),
    );
    for (const segment of all(document, "[data-segs] span", HTMLElement))
      segment.style.flexGrow = segment.dataset.flex ?? "";
  }

  /** The next tack is done; a look at another step goes back to where the work is first. */
  #tacked() {
    const { reached } = this.going;
    if (this.step !== reached) return reached;
    if (reached < this.page.tacks.length) this.going.done();
    return this.going.reached;
  }

  /** @param {number} to tacks that are done then */
  #go(to) {
    const { tacks } = this.page,
      step = Math.min(tacks.length, Math.max(0, to));
    this.step = step;
    this.range.value = String(step);
    this.range.setAttribute("aria-valuetext", `${step} of ${tacks.length} tacks done`);
    sayStep(tacks, step);
    this.#ready();
    this.tacks.draw(step);
    layChart(one(document, "svg[data-heat]", SVGSVGElement), tacks, step, this.page);
    this.heat.show(step);
  }

  #ready() {
    sayReady(this.button, this.page.tacks[this.step], this.page.ready, this.going.reached - this.step);
  }

  #stop() {
    clearInterval(this.#timer);
    this.#timer = 0;
    find("play").setAttribute("aria-pressed", "false");
  }

  #play() {
    if (this.#timer) {
      this.#stop();
      return;
    }
    const { length } = this.page.tacks;
    if (this.step >= length) this.#go(0);
    find("play").setAttribute("aria-pressed", "true");
    this.#timer = setInterval(() => {
      this.#go(this.step + 1);
      if (this.step >= length) this.#stop();
    }, PLAY_MS);
  }

  /**
   * One tick after the other: an earlier one that arrives later would take the later ones away.
   * @param {HTMLInputElement} box
   */
  #tick(box) {
    markTick(box);
    this.#stored = this.#stored.then(() => this.#store(box));
  }

  /** @param {HTMLInputElement} box */
  async #store(box) {
    const keys = all(document, "[data-cautions] input:checked", HTMLInputElement).map((each) => each.value),
      answer = await ask(this.page.cautions, { keys });
    if (answer.ok) this.page.ready = answer.data.ready;
    else box.checked = !box.checked;
    markTick(box);
    this.#ready();
  }
}

mount("[data-weld-board]", WeldBoard);
