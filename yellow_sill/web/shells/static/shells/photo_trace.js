/**
 * Places of a car tapped on a photo of its side. The picture is read by this browser and goes nowhere; what is sent
 * are the tapped places.
 */
import { all, mount, one, told } from "frame/board/page.js";
import { TAP_PX } from "frame/board/pointer.js";
import { el, n1 } from "frame/board/svg.js";
import { Viewport } from "frame/board/viewport.js";

class PhotoTrace {
  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    this.viewport = new Viewport(svg, { bounds: told(svg, "bounds"), rulers: false, mostZoom: 12 });
    this.fields = all(document, "[data-place]", HTMLInputElement);
    this.next = this.fields.find((field) => !field.value) ?? this.fields[0];
    this.marks = this.viewport.overlay.appendChild(el("g"));
    this.viewport.onChange(() => this.#draw());
    svg.addEventListener("click", (event) => this.#tap(event));
    one(document, "[data-photo-file]", HTMLInputElement).addEventListener("change", (event) =>
      this.#open(/** @type {HTMLInputElement} */ (event.target).files?.[0]),
    );
    for (const field of this.fields) {
      field.addEventListener("focus", () => this.#choose(field));
      field.addEventListener("input", () => this.#draw());
    }
    this.#choose(this.next);
  }

  /** @param {File | undefined} file */
  #open(file) {
    if (!file) return;
    const reader = new FileReader(),
      picture = new Image();
    reader.addEventListener("load", () => {
      picture.src = String(reader.result);
    });
    picture.addEventListener("load", () => {
      const { naturalWidth: width, naturalHeight: height } = picture;
      this.viewport.world.replaceChildren(el("image", { href: picture.src, width, height }));
      this.viewport.bounds = [0, -height, width, 0];
      this.viewport.fit();
    });
    reader.readAsDataURL(file);
  }

  /** @param {HTMLInputElement} field */
  #choose(field) {
    this.next = field;
    for (const each of this.fields) each.closest(".field")?.classList.toggle("is-next", each === field);
    this.#draw();
  }

  /** @param {MouseEvent} event */
  #tap(event) {
    if (this.viewport.moved > TAP_PX) return;
    const [u, v] = this.viewport.mm(...this.viewport.at(event));
    this.next.value = `${n1(u)}, ${n1(-v)}`;
    const at = this.fields.indexOf(this.next);
    this.#choose(this.fields.slice(at + 1).find((field) => !field.value) ?? this.next);
  }

  #draw() {
    this.marks.replaceChildren(
      ...this.fields.flatMap((field) => {
        const [x, y] = field.value.split(",").map(Number);
        if (!Number.isFinite(x) || !Number.isFinite(y)) return [];
        const [px, py] = this.viewport.px(x, -y).map(n1),
          name = field.closest(".field")?.querySelector("label")?.textContent ?? "";
        return [
          el(
            "g",
            { class: `traced${field === this.next ? " is-next" : ""}` },
            el("circle", { cx: px, cy: py, r: 7 }),
            el("path", { d: `M${px - 11} ${py}h22M${px} ${py - 11}v22` }),
            el("text", { x: px + 12, y: py - 9 }, name),
          ),
        ];
      }),
    );
  }
}

mount("[data-photo-trace]", PhotoTrace);
