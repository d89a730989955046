/**
 * Two photos of one place: points are tapped in both, the server says how one lies over the other, a slider wipes
 * between them.
 */
import { ask } from "frame/ask.js";
import { all, one } from "frame/board/page.js";
import { el, pageData } from "frame/board/svg.js";

/** The slider, the title block and the edges take so much of the board's height, px; a photo is at least so wide. */
const BESIDE = 170,
  LEAST = 260;
/** So many points at most; a mark is so large as a share of the photo's width. */
const MOST = 4,
  MARK = 0.012;

class Pair {
  /** @type {Record<string, [number, number][]>} */
  tapped = { before: [], after: [] };

  /** @param {HTMLElement} board */
  constructor(board) {
    this.board = board;
    const { points, matrix } = pageData("lay");
    for (const [bx, by, ax, ay] of points) {
      this.tapped.before.push([bx, by]);
      this.tapped.after.push([ax, ay]);
    }
    /** @type {number[][] | null} */
    this.matrix = matrix;
    this.sides = all(board, "svg[data-side]", SVGSVGElement);
    this.stage = one(board, "[data-stage]", HTMLElement);
    this.over = one(board, "[data-over]", HTMLElement);
    this.line = one(board, "[data-line]", HTMLElement);
    this.share = one(board, "[data-share]", HTMLInputElement);
    this.keep = one(document, "[data-keep]", HTMLButtonElement);
    this.swap = one(document, "[data-beside-too]", HTMLButtonElement);
    this.words = one(document, "[data-words]", HTMLElement);
    this.fault = one(document, "[data-fault]", HTMLElement);
    for (const side of this.sides) side.addEventListener("click", (event) => this.#tap(side, event));
    this.share.addEventListener("input", () => this.#draw());
    this.stage.addEventListener("pointermove", (event) => event.buttons && this.#drag(event));
    this.stage.addEventListener("pointerdown", (event) => this.#drag(event));
    this.swap.addEventListener("click", () => this.#show(this.#laid().hidden));
    one(document, "[data-anew]", HTMLButtonElement).addEventListener("click", () => this.#anew());
    new ResizeObserver(() => this.#draw()).observe(board);
    this.#marks();
    this.#draw();
  }

  #laid() {
    return one(this.board, "[data-laid]", HTMLElement);
  }

  /** @param {boolean} laid */
  #show(laid) {
    if (laid && !this.matrix) {
      this.words.textContent = "Tap two things in both photos first.";
      return;
    }
    this.#laid().hidden = !laid;
    one(this.board, "[data-beside]", HTMLElement).hidden = laid;
    this.swap.textContent = laid ? "Tap points" : "Lay them over";
    this.#draw();
  }

  /** @param {PointerEvent} event */
  #drag(event) {
    const box = this.stage.getBoundingClientRect();
    this.share.value = String(Math.round((1000 * (event.clientX - box.left)) / box.width));
    event.preventDefault();
    this.#draw();
  }

  /** @param {SVGSVGElement} side @param {MouseEvent} event */
  #tap(side, event) {
    const here = this.tapped[side.dataset.side ?? "before"],
      grid = side.getScreenCTM();
    if (!grid || here.length >= MOST) return;
    const { x, y } = new DOMPoint(event.clientX, event.clientY).matrixTransform(grid.inverse());
    here.push([Math.round(10 * x) / 10, Math.round(10 * y) / 10]);
    this.#marks();
    this.#ask();
  }

  #anew() {
    this.tapped = { before: [], after: [] };
    this.matrix = null;
    this.keep.disabled = true;
    this.fault.hidden = true;
    this.#show(false);
    this.#marks();
    this.words.textContent =
      "Tap two to four things that are in both photos: first in one, then in the other.";
  }

  #points() {
    const { before, after } = this.tapped;
    return before.slice(0, after.length).map((point, n) => [...point, ...after[n]]);
  }

  async #ask() {
    const points = this.#points(),
      { before, after } = this.tapped;
    this.fault.hidden = true;
    this.keep.disabled = true;
    if (points.length < 2 || before.length !== after.length) {
      this.words.textContent = `${before.length} before, ${after.length} after: tap each in both photos.`;
      return;
    }
    const both = { before: Number(this.board.dataset.before), after: Number(this.board.dataset.after) };
    const answer = await ask(this.board.dataset.layUrl ?? "", { ...both, points });
    if (!answer.ok) {
      this.fault.textContent = `${answer.data.error.what} ${answer.data.error.mend}`;
      this.fault.hidden = false;
      this.matrix = null;
      return;
    }
    this.matrix = answer.data.matrix;
    this.words.textContent = `${answer.data.words} Lay them over, tap more, or keep them so.`;
    one(document, "[data-points]", HTMLInputElement).value = points.flat().join(",");
    this.keep.disabled = false;
  }

  #marks() {
    for (const side of this.sides) {
      const size = MARK * side.viewBox.baseVal.width;
      one(side, "[data-marks]", SVGGElement).replaceChildren(
        ...this.tapped[side.dataset.side ?? "before"].flatMap(([x, y], n) => {
          const text = el("text", { x: x + 1.4 * size, y: y - size, "font-size": 3 * size });
          text.textContent = String(n + 1);
          return [
            el("circle", { cx: x, cy: y, r: size, "stroke-width": size / 3 }),
            el("path", {
              d: `M${x - 2 * size} ${y}h${4 * size}M${x} ${y - 2 * size}v${4 * size}`,
              "stroke-width": size / 4,
            }),
            text,
          ];
        }),
      );
    }
  }

  #draw() {
    const first = one(this.stage, "img", HTMLImageElement),
      room = this.board.clientHeight - BESIDE;
    // a tall photo is no higher than the board
    const tall = Number(first.getAttribute("height")) / Number(first.getAttribute("width"));
    this.stage.style.maxWidth = `${Math.max(LEAST, room / tall)}px`;
    const share = Number(this.share.value) / 1000,
      image = one(this.over, "img", HTMLImageElement),
      scale = this.stage.clientWidth / Number(first.getAttribute("width"));
    this.over.style.clipPath = `inset(0 0 0 ${100 * share}%)`;
    this.line.style.left = `${100 * share}%`;
    if (!this.matrix || !scale) return;
    const [[a, b, c], [d, e, f], [g, h, i]] = this.matrix;
    image.style.width = `${image.getAttribute("width")}px`;
    image.style.height = `${image.getAttribute("height")}px`;
    image.style.transform = `scale(${scale}) matrix3d(${[a, d, 0, g, b, e, 0, h, 0, 0, 1, 0, c, f, 0, i].join(",")})`;
  }
}

for (const board of all(document, "[data-pair]", HTMLElement)) new Pair(board);
