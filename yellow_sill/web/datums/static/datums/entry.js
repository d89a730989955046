/**
 * Entering a round: big keys, one reading after another in walking order, each kept at once, the pair
 * drawn on the board.
 */
import { Doubt } from "datums/doubt.js";
import { EntryBoard } from "datums/entry_board.js";
import { NextReadings } from "datums/next_readings.js";
import { keypad, sayStep } from "datums/reading_sheet.js";
import { countOf, firstOpen, layWalk, stepOf } from "datums/walk.js";
import { ask, errorBox } from "frame/ask.js";
import { all, one } from "frame/board/page.js";
import { pageData } from "frame/board/svg.js";

/** @typedef {import("datums/walk.js").Step} Step */
/**
 * What is sent: typed, or from a device, in place of another that was mistyped.
 * @typedef {{ value?: string, device?: boolean, replaces?: number }} Reading
 */
/**
 * @typedef {{ value: import("datums/walk.js").ReadValue, step: Step, question: string, meant: string | null,
 *   meant_typed: string | null }} Kept
 */

const POLL_MS = 4000;
const hovers = () => matchMedia("(hover: hover)").matches;

class Entry {
  #busy = false;
  /** Enter was pressed once more while a reading was on its way. */
  #again = false;
  /** @param {HTMLElement} root */
  constructor(root) {
    this.root = root;
    /** @type {Step[]} */
    this.steps = pageData("steps");
    this.board = new EntryBoard(one(document, "[data-entry-board]", SVGSVGElement), pageData("places"));
    this.input = one(root, "#reading", HTMLInputElement);
    this.form = one(root, "[data-form]", HTMLFormElement);
    this.errors = this.#part("errors");
    this.doubt = new Doubt(root, {
      right: () => this.#next(),
      meant: ({ at, pk, meant }) => {
        this.at = at;
        this.#send({ value: meant, replaces: pk });
      },
    });
    this.walk = one(document, "[data-walk]", HTMLElement);
    const wanted = new URLSearchParams(location.search).get("key");
    this.at = Math.max(
      0,
      wanted ? this.steps.findIndex((step) => step.key === wanted) : firstOpen(this.steps),
    );
    if (hovers()) this.input.inputMode = "decimal"; // a touch screen has the large keys
    new NextReadings(root, (kind, points) => this.#measure(kind, points));
    this.#listen();
    this.#show();
    setInterval(() => this.#look(), POLL_MS);
  }

  /** @param {string} name */
  #part(name) {
    return one(this.root, `[data-${name}]`, HTMLElement);
  }

  #listen() {
    const press = (/** @type {string} */ name, /** @type {() => void} */ act) =>
      this.#part(name).addEventListener("click", act);
    this.form.addEventListener("submit", (event) => {
      event.preventDefault();
      if (this.input.value.trim()) this.#send({ value: this.input.value });
      else this.#go(this.at + 1);
    });
    keypad(this.form, this.input);
    press("device", () => this.#send({ device: true }));
    press("prev", () => this.#go(this.at - 1));
    press("skip", () => this.#go(this.at + 1));
    press("open", () => this.#go(Math.max(0, firstOpen(this.steps))));
  }

  #show() {
    const step = this.steps[this.at];
    if (!step) return;
    sayStep(this.root, this.steps, this.at, (pk, back) => this.#strike(pk, back));
    this.board.show(step);
    layWalk(this.walk, this.steps, this.at, (i) => this.#go(i));
  }

  /** @param {number} i @param {string} [typed] what stays in the box */
  #go(i, typed = "") {
    this.at = Math.max(0, Math.min(this.steps.length - 1, i));
    this.input.value = typed;
    this.errors.replaceChildren();
    this.#show();
    if (hovers()) this.input.focus();
  }

  /** On to what is not read yet; what is half typed by now goes along. */
  #next() {
    const open = firstOpen(this.steps, this.at + 1);
    this.#go(open >= 0 ? open : this.at, this.input.value);
  }

  /** Keep a reading; what was typed stays in the box until the server has it. @param {Reading} reading */
  async #send(reading) {
    const { at } = this,
      step = this.steps[at];
    if (!step) return;
    if (this.#busy) {
      this.#again = !reading.device;
      return;
    }
    this.#busy = true;
    const sent = reading.value === this.input.value ? this.input.value : "",
      answer = await ask(this.root.dataset.save ?? "", { kind: step.kind, points: step.points, ...reading });
    this.#busy = false;
    this.errors.replaceChildren();
    if (!answer.ok) {
      this.#again = false;
      this.errors.append(errorBox(answer.data.error));
      this.input.focus();
      return;
    }
    // the next reading may be half typed by now
    if (this.input.value.startsWith(sent)) this.input.value = this.input.value.slice(sent.length);
    this.#kept(at, answer.data);
  }

  /** @param {number} at @param {Kept} kept */
  #kept(at, kept) {
    this.steps[at] = kept.step;
    this.doubt.about(at, kept);
    if (kept.question) {
      this.#again = false;
      this.#show();
      this.doubt.right.focus();
      return;
    }
    this.#next();
    if (!this.#again) return;
    this.#again = false;
    this.form.requestSubmit();
  }

  /** @param {number} pk @param {boolean} back */
  async #strike(pk, back) {
    const answer = await ask(this.root.dataset.strike ?? "", { reading: pk, back });
    this.errors.replaceChildren();
    if (answer.ok) this.#take(answer.data.steps);
    else this.errors.append(errorBox(answer.data.error));
  }

  /** Steps as the server has them: whoever else enters is seen here too. @param {Step[]} fresh */
  #take(fresh) {
    const key = this.steps[this.at]?.key,
      added = this.steps.filter((step) => step.added && !fresh.some((each) => each.key === step.key));
    this.steps = [...fresh, ...added];
    this.at = Math.max(
      0,
      this.steps.findIndex((step) => step.key === key),
    );
    this.#show();
  }

  async #look() {
    if (this.#busy || document.hidden || this.doubt.open) return;
    const answer = await ask(this.root.dataset.state ?? "");
    if (answer.ok && !this.#busy && countOf(answer.data.steps) !== countOf(this.steps))
      this.#take(answer.data.steps);
  }

  /** Go to a reading, planned or not. @param {string} kind @param {string[]} points */
  #measure(kind, points) {
    const found = stepOf(this.steps, kind, points);
    if (found >= 0) {
      this.#go(found);
      return;
    }
    const word = one(this.root, `#o-kind option[value="${kind}"]`, HTMLElement).textContent?.trim() ?? "",
      key = `${kind} ${points.join(" ")}`,
      nothing = { how: [], values: [], mean: "", mean_told: "", spread: "" };
    this.steps.push({ key, kind, word, points, names: points, ...nothing, added: true });
    this.#go(this.steps.length - 1);
  }
}

for (const root of all(document, "[data-entry]", HTMLElement)) new Entry(root);
