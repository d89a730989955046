/**
 * A heap of photos, sent one by one: what is here already is passed over, so that a folder can be begun again where it
 * was stopped.
 */
import { ask } from "frame/ask.js";
import { all, one } from "frame/board/page.js";

/** So many files are asked about at once. */
const AT_ONCE = 40;

/**
 * What the server knows a file by; empty where this browser cannot tell.
 * @param {File} file
 * @returns {Promise<string>}
 */
async function markOf(file) {
  if (!globalThis.crypto?.subtle) return "";
  const sum = new Uint8Array(await crypto.subtle.digest("SHA-256", await file.arrayBuffer()));
  return [...sum]
    .map((byte) => byte.toString(16).padStart(2, "0"))
    .join("")
    .slice(0, 40);
}

class Heap {
  stopped = false;
  sent = { new: 0, known: 0, refused: 0, knew_where: 0 };

  /** @param {HTMLFormElement} form */
  constructor(form) {
    this.form = form;
    this.bar = one(form, "progress", HTMLProgressElement);
    this.said = one(form, "[data-said]", HTMLElement);
    this.refused = one(form, "[data-refused]", HTMLElement);
    this.stop = one(form, "[data-stop]", HTMLButtonElement);
    this.stop.addEventListener("click", () => (this.stopped = true));
    form.addEventListener("submit", (event) => {
      event.preventDefault();
      this.#once();
    });
  }

  #files() {
    const fields = all(this.form, "input[type=file]", HTMLInputElement);
    const files = fields.flatMap((field) => [...(field.files ?? [])]);
    return files.filter(
      (file) => file.type.startsWith("image/") || /\.(jpe?g|png|webp|hei[cf])$/i.test(file.name),
    );
  }

  /** One heap at a time: the next begins when this one is sorted. */
  async #once() {
    const button = one(this.form, "[type=submit]", HTMLButtonElement);
    button.disabled = true;
    await this.#run();
    button.disabled = false;
  }

  async #run() {
    const files = this.#files();
    if (!files.length) {
      this.said.textContent = "Choose photos, or a folder with photos in it.";
      return;
    }
    this.stopped = false;
    this.sent = { new: 0, known: 0, refused: 0, knew_where: 0 };
    this.refused.replaceChildren();
    this.bar.hidden = this.stop.hidden = false;
    this.bar.max = files.length;
    let done = 0;
    for (let n = 0; n < files.length && !this.stopped; n += AT_ONCE) {
      const some = files.slice(n, n + AT_ONCE),
        marks = await Promise.all(some.map(markOf)),
        known = await this.#known(marks.filter(Boolean));
      for (let k = 0; k < some.length && !this.stopped; k++) {
        if (marks[k] && known.has(marks[k])) this.sent.known += 1;
        else if (!(await this.#send(some[k]))) return;
        this.bar.value = ++done;
        this.said.textContent = `${done} of ${files.length}: ${this.#words()}`;
      }
    }
    this.stop.hidden = true;
    if (this.stopped) {
      const again = "Choose the same folder again to go on.";
      this.said.textContent = `Stopped at ${done} of ${files.length}: ${this.#words()}. ${again}`;
      if (!this.sent.new) return;
    }
    const sort = new FormData();
    sort.set("what", "sort");
    const answer = await ask(location.pathname, sort);
    if (answer.status === 0) return;
    if (!this.refused.children.length && !this.stopped) location.reload();
    else one(this.form, "[data-see]", HTMLAnchorElement).hidden = false;
  }

  #words() {
    const { new: fresh, known, refused, knew_where } = this.sent;
    return [
      `${fresh} new`,
      known && `${known} here already`,
      refused && `${refused} refused`,
      knew_where && `the place was in ${knew_where} and is thrown away`,
    ]
      .filter(Boolean)
      .join(", ");
  }

  /** @param {string[]} marks @returns {Promise<Set<string>>} */
  async #known(marks) {
    if (!marks.length) return new Set();
    const answer = await ask(this.form.dataset.knownUrl ?? "", { marks });
    return new Set(answer.ok ? answer.data.known : []);
  }

  /** @param {File} file @returns {Promise<boolean>} whether the next can be sent */
  async #send(file) {
    const values = new FormData();
    values.set("what", "heap");
    values.set("photos", file);
    const answer = await ask(location.pathname, values);
    if (!answer.ok) {
      const { what, mend } = answer.data.error ?? { what: "Yellow Sill refuses this.", mend: "" };
      this.said.textContent = `${what} ${mend} What was taken in stays; choose the same folder again to go on.`;
      this.stop.hidden = true;
      return false;
    }
    this.sent.new += answer.data.new;
    this.sent.known += answer.data.known;
    this.sent.knew_where += answer.data.knew_where;
    for (const each of answer.data.refused) {
      this.sent.refused += 1;
      const line = document.createElement("li");
      line.textContent = `${each.name}: ${each.what} ${each.mend}`;
      this.refused.append(line);
    }
    return true;
  }
}

for (const form of all(document, "[data-heap]", HTMLFormElement)) new Heap(form);
