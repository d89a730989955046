/**
 * The plate's heat as the core sees it: areas on the seam, and a chart of what the plate has before each tack.
 */
import { ask } from "frame/ask.js";
import { el, n1, pathD } from "frame/board/svg.js";

/** An area that is at least so hot. @typedef {{ name: string, rings: [number, number][][] }} Level */

/** @type {Record<string, string>} */
const BANDS = { straw: "tp-straw", bronze: "tp-bronze", purple: "tp-purple", blue: "tp-blue" };
/** The chart: its base line and height, left edge and width, in its own units. */
const CHART = { base: 62, high: 54, left: 28, wide: 330, edge: 360, most: 1.15 };

/** Areas of heat after each step, asked once each. */
export class Heat {
  /** @type {Map<number, Level[]>} */
  #known = new Map([[0, []]]);

  /** @param {SVGGElement} layer @param {string} url */
  constructor(layer, url) {
    this.layer = layer;
    this.url = url;
    this.step = 0;
  }

  /** @param {number} step tacks that are done */
  async show(step) {
    this.step = step;
    if (!this.#known.has(step)) {
      const answer = await ask(`${this.url}&step=${step}`);
      if (answer.ok) this.#known.set(step, answer.data.levels);
    }
    if (this.step === step) this.#draw(this.#known.get(step) ?? []);
  }

  /** @param {Level[]} levels */
  #draw(levels) {
    this.layer.replaceChildren(
      ...levels
        .filter(({ rings }) => rings.length)
        .map(({ name, rings }) =>
          el("path", {
            class: BANDS[name] ? `tp ${BANDS[name]}` : "warm",
            "fill-rule": "evenodd",
            d: rings.map((ring) => pathD(ring)).join(""),
          }),
        ),
    );
  }
}

/**
 * @param {SVGSVGElement} chart
 * @param {import("weld/tacks.js").Tack[]} tacks
 * @param {number} step tacks that are done
 * @param {{ limit: number, limit_shown: string }} limit °C, and as shown
 */
export function layChart(chart, tacks, step, { limit, limit_shown: shown }) {
  const most = Math.max(limit * CHART.most, ...tacks.map((tack) => tack.plate_C_before)),
    y = (/** @type {number} */ c) => CHART.base - (c / most) * CHART.high,
    wide = CHART.wide / tacks.length,
    left = { x: 20, "text-anchor": "end" };
  chart.replaceChildren(
    ...tacks.map(({ plate_C_before: before }, i) =>
      el("rect", {
        class: i === step ? "hb2" : i < step ? "hb1" : "hb0",
        x: n1(CHART.left + i * wide),
        y: n1(y(before)),
        width: n1(Math.max(0.8, wide * 0.8)),
        height: n1(CHART.base - y(before)),
      }),
    ),
    el("path", { class: "h0", d: `M24 ${CHART.base + 0.5}H${CHART.edge}` }),
    el("path", { class: "hl", d: `M24 ${n1(y(limit))}H${CHART.edge}` }),
    el("text", { x: CHART.edge, y: n1(y(limit) - 4), "text-anchor": "end" }, `stop at ${shown}`),
    el("text", { ...left, y: 66 }, "0"),
    el("text", { ...left, y: n1(y(limit) + 4) }, shown),
  );
}
