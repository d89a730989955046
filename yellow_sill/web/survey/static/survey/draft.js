/**
 * What was drawn and typed and is not stored: a reload in mid-edit brings it back; what was left here earlier is
 * offered,
 * never put in by itself.
 */
import { one } from "frame/board/page.js";
import { typedCorners } from "frame/board/units.js";

const SENT = "yellow-sill-sent";
const NOT_KEPT = ["csrfmiddlewaretoken", "version"];
/** A draft with one of these was worth something. @param {string} name */
const counts = (name) =>
  ["corners", "title", "note"].includes(name) || name === "signs" || name.endsWith("_result");

/** This page shows what is stored: the draft that led here is done with. */
export function forgetSent() {
  const sent = sessionStorage.getItem(SENT);
  if (sent) for (const key of [sent, SENT]) sessionStorage.removeItem(key);
}

export class Draft {
  /** @param {HTMLFormElement} form @param {string} name @param {() => void} restored */
  constructor(form, name, restored) {
    this.form = form;
    this.key = `yellow-sill-draft-${name}`;
    this.leftKey = `${this.key}-left`;
    this.restored = restored;
    // thrown away once it is stored
    form.addEventListener("submit", () => sessionStorage.setItem(SENT, this.key));
  }

  keep() {
    const typed = [...new FormData(this.form)].filter(([name]) => !NOT_KEPT.includes(name));
    try {
      sessionStorage.setItem(this.key, JSON.stringify(typed));
    } catch {
      /* private window: no draft */
    }
  }

  /** What was here before this page: its own after a reload, else it is left for an offer. */
  begin() {
    const refused = this.form.querySelector(".fault, [data-conflict]"),
      mine = refused ? null : sessionStorage.getItem(this.key),
      [visit] = performance.getEntriesByType("navigation");
    if (mine && visit instanceof PerformanceNavigationTiming && visit.type === "reload") this.#restore(mine);
    else if (mine) {
      sessionStorage.setItem(this.leftKey, mine);
      sessionStorage.removeItem(this.key);
    }
    this.#offer();
  }

  /** @param {string} draft */
  #restore(draft) {
    for (const [name, value] of JSON.parse(draft)) {
      const field = this.form.elements.namedItem(name),
        boxes = [...(field instanceof RadioNodeList ? field : [field])].filter(
          (each) => each instanceof HTMLInputElement && each.type === "checkbox",
        );
      for (const box of /** @type {HTMLInputElement[]} */ (boxes))
        if (box.value === value) box.checked = true;
      if (boxes.length === 0 && field && "value" in field) field.value = value;
    }
    this.restored();
  }

  #offer() {
    const left = sessionStorage.getItem(this.leftKey),
      offer = this.form.querySelector("[data-left]");
    /** @type {[string, string][]} */
    const said = left ? JSON.parse(left).filter((/** @type {[string, string]} */ [, value]) => value) : [];
    if (!left || !(offer instanceof HTMLElement) || !said.some(([name]) => counts(name))) return;
    const drawn = typedCorners(said.find(([name]) => name === "corners")?.[1] ?? "").length,
      looks = said.filter(([name]) => name === "signs" || name.endsWith("_result")).length;
    const settled = () => {
      offer.hidden = true;
      sessionStorage.removeItem(this.leftKey);
    };
    one(offer, "[data-left-words]", HTMLElement).textContent =
      `a drawing with ${drawn} corners and ${looks} looks that was not stored.`;
    one(offer, "[data-left-take]", HTMLElement).addEventListener("click", () => {
      this.#restore(left);
      settled();
      this.keep();
    });
    one(offer, "[data-left-drop]", HTMLElement).addEventListener("click", settled);
    offer.hidden = false;
  }
}
