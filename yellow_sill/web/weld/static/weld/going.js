/**
 * How far the seam is, as it is stored: each tack is sent as it happens, the wait counts down with a tone at its end,
 * what must be put right stays in sight. The screen is kept awake while the work goes on.
 */
import { ask } from "frame/ask.js";
import { all, made, one } from "frame/board/page.js";

/**
 * How far a seam is, as the core tells it.
 * @typedef {{ made: number[], again: { tack: number, what: string }[], reached: number, next: number | null,
 *   wait_s: number | null, closed: boolean, words: string }} Going
 */

const WORDS = { missed: "missed", blown: "blew through: fill it from its rim inwards, a step lower" };
/** What a tack has come to once it is tried. */
const TRIED = new Set(["done", "missed", "blown"]);
/** The tone: Hz, how long, s, how loud. */
const TONE = { hz: 880, s: 0.35, loud: 0.2 };

export class GoingOn {
  /** Tacks that were tried and are not answered yet. */
  #under = 0;
  #timer = 0;
  /** @type {Promise<void>} what was sent last */
  #sent = Promise.resolve();
  /** @type {AudioContext | null} */
  #sound = null;

  /**
   * @param {string} url
   * @param {number} seam
   * @param {Going} going
   * @param {(going: Going) => void} changed
   */
  constructor(url, seam, going, changed) {
    this.url = url;
    this.seam = seam;
    this.going = going;
    this.changed = changed;
    for (const button of all(document, "[data-went]", HTMLButtonElement))
      button.addEventListener("click", () => this.#went(button.dataset.went ?? ""));
    this.#draw();
  }

  /** How many tacks at the beginning of the order are behind, those on their way too. */
  get reached() {
    return this.going.reached + this.#under;
  }

  /** The next tack is done. */
  done() {
    this.#went("done");
  }

  /** What became of the next tack, counted on from those that are still on their way. @param {string} what */
  #went(what) {
    const tack = this.reached + 1;
    if (TRIED.has(what)) this.#under++;
    this.say(what, tack);
  }

  /**
   * One after the other, in the order of the work.
   * @param {string} what
   * @param {number} tack
   */
  say(what, tack) {
    this.#awake();
    this.#sent = this.#sent.then(() => this.#send(what, tack));
  }

  /** @param {string} what @param {number} tack */
  async #send(what, tack) {
    const fault = one(document, "[data-weld-fault]", HTMLElement),
      answer = await ask(this.url, { seam: this.seam, tack, what });
    if (TRIED.has(what)) this.#under--;
    fault.hidden = answer.ok;
    if (!answer.ok) {
      fault.textContent = `${answer.data.error.what} ${answer.data.error.mend}`;
      return;
    }
    this.going = answer.data.going;
    this.#draw();
    this.changed(this.going);
  }

  #draw() {
    const { again, words, next, closed, wait_s: wait } = this.going;
    one(document, "[data-going]", HTMLElement).textContent = words;
    one(document, "[data-again]", HTMLElement).replaceChildren(
      ...again.map((each) => {
        const row = made("li", {}),
          right = made("button", { type: "button", className: "btn btn-ink", textContent: "Put right" });
        right.addEventListener("click", () => this.say("again", each.tack));
        row.append(
          made("span", { textContent: `Tack ${each.tack} ${WORDS[/** @type {"missed"} */ (each.what)]}` }),
          right,
        );
        return row;
      }),
    );
    for (const button of all(document, "[data-went]", HTMLButtonElement))
      button.disabled = button.dataset.went !== "back" && (closed || next === null);
    this.#count(wait ?? 0);
  }

  /** The wait, counted down in the big figure. @param {number} seconds */
  #count(seconds) {
    clearInterval(this.#timer);
    const figure = one(document, "[data-wait]", HTMLElement),
      end = performance.now() + 1000 * seconds;
    figure.textContent = seconds.toFixed(0);
    if (seconds <= 0) return;
    this.#timer = setInterval(() => {
      const left = Math.max(0, (end - performance.now()) / 1000);
      figure.textContent = Math.ceil(left).toFixed(0);
      if (left > 0) return;
      clearInterval(this.#timer);
      this.#tone();
    }, 200);
  }

  /** The first press lets the browser make a sound, and keeps the screen awake. */
  #awake() {
    this.#sound ??= typeof AudioContext === "function" ? new AudioContext() : null;
    navigator.wakeLock?.request("screen").catch(() => {});
  }

  #tone() {
    if (!this.#sound) return;
    const tone = this.#sound.createOscillator(),
      loud = this.#sound.createGain();
    tone.frequency.value = TONE.hz;
    loud.gain.value = TONE.loud;
    tone.connect(loud).connect(this.#sound.destination);
    tone.start();
    tone.stop(this.#sound.currentTime + TONE.s);
  }
}
