/**
 * Entering a round: big keys, one reading after another in walking order, each kept at once, the pair
 * drawn on the board.
 */
import { EntryBoard } from "datums/entry_board.js";
import { NextReadings } from "datums/next_readings.js";
import { countOf, firstOpen, layWalk, stepOf } from "datums/walk.js";
import { ask, errorBox } from "frame/ask.js";
import { all, made, one } from "frame/board/page.js";
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
const FROM_DEVICES = ["height", "distance", "plumb"];
const NOT_READ = "Not read yet. A second reading of the same pair is averaged with the first.";
const hovers = () => matchMedia("(hover: hover)").matches;

class Entry {
  #busy = false;
  /** Enter was pressed once more while a reading was on its way. */
  #again = false;
  /** The reading that is asked about. @type {{ at: number, pk: number, meant: string } | null} */
  #doubted = null;

  /** @param {HTMLElement} root */
  constructor(root) {
    this.root = root;
    /** @type {Step[]} */
    this.steps = pageData("steps");
    this.board = new EntryBoard(one(document, "[data-entry-board]", SVGSVGElement), pageData("places"));
    this.input = one(root, "#reading", HTMLInputElement);
    this.form = one(root, "[data-form]", HTMLFormElement);
    this.errors = this.#part("errors");
    this.asked = this.#part("asked");
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
    for (const key of all(this.form, "[data-key]", HTMLElement))
      key.addEventListener("click", () => this.#key(key.dataset.key ?? ""));
    press("device", () => this.#send({ device: true }));
    press("right", () => this.#settle(() => this.#next()));
    press("meant", () => this.#settle(() => this.#takeMeant()));
    press("prev", () => this.#go(this.at - 1));
    press("skip", () => this.#go(this.at + 1));
    press("open", () => this.#go(Math.max(0, firstOpen(this.steps))));
  }

  /** One of the large keys. @param {string} key */
  #key(key) {
    const { value } = this.input;
    if (key === "back") this.input.value = value.slice(0, -1);
    else if (key === "-") this.input.value = value.startsWith("-") ? value.slice(1) : `-${value}`;
    else this.input.value = value + key;
  }

  #show() {
    const step = this.steps[this.at];
    if (!step) return;
    const put = (/** @type {string} */ name, /** @type {string} */ words) =>
      (this.#part(name).textContent = words);
    put("number", String(this.at + 1));
    put("what", `${step.word} ${step.points.join(" – ")}`);
    put("where", [...new Set(step.names)].join(" to "));
    put("how", step.points.flatMap((code, i) => (step.how[i] ? `${code}: ${step.how[i]}` : [])).join("; "));
    put("device", step.kind === "height" ? "From the level" : "From the tape");
    put("spread", [step.mean_told, step.spread].filter(Boolean).join(" "));
    put("progress", `${this.steps.filter((each) => each.mean).length} of ${this.steps.length} read`);
    this.#part("device").hidden = !FROM_DEVICES.includes(step.kind);
    const none = () => made("li", {}, made("small", { textContent: NOT_READ }));
    const values = step.values.map((value) => this.#value(value));
    this.#part("values").replaceChildren(...(values.length ? values : [none()]));
    this.board.show(step);
    layWalk(this.walk, this.steps, this.at, (i) => this.#go(i));
  }

  /** @param {import("datums/walk.js").ReadValue} value */
  #value({ pk, shown, told, struck }) {
    const words = struck ? "Take back in" : "Strike",
      button = made("button", { type: "button", className: "link", textContent: words });
    button.addEventListener("click", () => this.#strike(pk, Boolean(struck)));
    return made(
      "li",
      { className: struck ? "is-struck" : "" },
      made("span", { className: "mm", textContent: shown }),
      made("small", { textContent: ` ${told}` }),
      button,
    );
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
  #kept(at, { value, step, question, meant, meant_typed: typed }) {
    this.steps[at] = step;
    this.asked.hidden = !question;
    if (question) {
      this.#doubted = { at, pk: value.pk, meant: typed ?? "" };
      this.#part("question").textContent = question;
      this.#part("right").textContent = `It is ${value.shown}`;
      this.#part("meant").hidden = meant === null;
      this.#part("meant").textContent = meant === null ? "" : `${meant} was meant`;
      this.#again = false;
      this.#show();
      this.#part("right").focus();
      return;
    }
    this.#next();
    if (!this.#again) return;
    this.#again = false;
    this.form.requestSubmit();
  }

  /** @param {() => void} then */
  #settle(then) {
    this.asked.hidden = true;
    then();
  }

  #takeMeant() {
    if (!this.#doubted) return;
    this.at = this.#doubted.at;
    this.#send({ value: this.#doubted.meant, replaces: this.#doubted.pk });
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
    if (this.#busy || document.hidden || !this.asked.hidden) return;
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
