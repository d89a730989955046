/** The tack map: numbered tacks, a step control that plays the passes, the plate's heat as the core sees it. */
import { ask } from "frame/ask.js";
import { ring } from "frame/pen.js";
import { el, n1, pageData, pathD, pt } from "frame/svg.js";
import { figure, unit } from "frame/units.js";
import { Viewport } from "frame/viewport.js";

const BANDS = { straw: "tp-straw", bronze: "tp-bronze", purple: "tp-purple", blue: "tp-blue" };
const STATE_WORDS = { done: "tacked", next: "next" };
const between = ([x, y], [x1, y1]) => Math.hypot(x - x1, y - y1);
const clock = (seconds) =>
  seconds >= 60
    ? `${Math.floor(seconds / 60)}:${String(Math.round(seconds % 60)).padStart(2, "0")} min`
    : `${seconds.toFixed(0)} s`;

export function mount(svg) {
  const data = pageData("board-data"),
    [u0, v0, u1, v1] = JSON.parse(svg.dataset.bounds),
    edge = Math.max(24, 0.16 * Math.max(u1 - u0, v1 - v0));
  const viewport = new Viewport(svg, {
    bounds: [u0 - edge, v0 - edge, u1 + edge, v1 + edge],
    pad: [8, 8, 190, 96],
  });
  const find = (selector) => document.querySelector(selector),
    range = find("[data-stepper] input"),
    button = find("[data-tack]"),
    total = data.tacks.length;
  const warmth = viewport.world.appendChild(el("g", { "aria-hidden": "true" })),
    seam = viewport.world.appendChild(el("path", { class: "seam", d: pathD(data.path, data.closed) }));
  const dots = viewport.overlay.appendChild(el("g"));
  seam.parentNode.append(seam);
  const known = new Map([[0, []]]);
  let step = 0,
    timer = null;

  const showHeat = (levels) => {
    warmth.replaceChildren(
      ...levels
        .filter((level) => level.rings.length)
        .map((level) =>
          el("path", {
            class: BANDS[level.name] ? `tp ${BANDS[level.name]}` : "warm",
            "fill-rule": "evenodd",
            d: level.rings.map((r) => pathD(r)).join(""),
          }),
        ),
    );
  };
  const heat = async () => {
    const mine = step;
    if (!known.has(mine)) {
      const answer = await ask(`${data.heat}?seam=${data.seam}&step=${mine}`);
      if (answer.ok) known.set(mine, answer.data.levels);
    }
    if (mine === step) showHeat(known.get(mine) ?? []);
  };

  const place = () => {
    const focused = dots.contains(document.activeElement) ? document.activeElement.dataset.n : null;
    const parts = [],
      free = 22 / viewport.k; // where tacks crowd on screen, only rings are drawn for those to come
    const drawn = [];
    for (const tack of [...data.tacks].sort(
      (a, b) =>
        Number(b.n === step + 1) - Number(a.n === step + 1) ||
        Number(b.n <= step) - Number(a.n <= step) ||
        (a.n <= step ? b.n - a.n : a.n - b.n),
    )) {
      const state = tack.n <= step ? "done" : tack.n === step + 1 ? "next" : "todo",
        [x, y] = viewport.px(...tack.at).map(n1);
      const crowded =
        state !== "next" && drawn.some(([u, v]) => Math.hypot(u - tack.at[0], v - tack.at[1]) < free);
      const g = el("g", {
        class: `tk tk-${state}${crowded ? " small" : ""}`,
        "data-n": tack.n,
        tabindex: crowded ? "-1" : "0",
        role: "button",
        "aria-label": `Tack ${tack.n}, pass ${tack.pass}, ${STATE_WORDS[state] ?? "to come"}`,
      });
      g.append(
        el("circle", { class: "hit", cx: x, cy: y, r: crowded ? 6 : 18 }),
        el("circle", { class: "ring", cx: x, cy: y, r: crowded ? 3.6 : state === "next" ? 12 : 10.5 }),
      );
      if (!crowded) {
        drawn.push(tack.at);
        g.append(el("text", { x, y: y + 4.5, "text-anchor": "middle" }, String(tack.n)));
      }
      const jump = () => go(tack.n - 1);
      g.addEventListener("click", jump);
      g.addEventListener("keydown", (event) => {
        if (event.key === "Enter" || event.key === " ") {
          event.preventDefault();
          jump();
        }
      });
      if (state === "next") parts.push(ring(x, y, 21, 20, 6));
      parts.push(g);
    }
    const last = data.tacks[step - 1],
      next = data.tacks[step];
    if (last && next) {
      const a = viewport.px(...last.at),
        b = viewport.px(...next.at);
      parts.unshift(
        el("path", {
          class: "hop",
          d: `M${pt(a)}Q${pt([(a[0] + b[0]) / 2 + 24, (a[1] + b[1]) / 2 - 12])} ${pt(b)}`,
        }),
      );
    }
    dots.replaceChildren(...parts.reverse());
    if (focused) dots.querySelector(`[data-n="${focused}"]`)?.focus();
  };

  const bars = () => {
    const chart = find("[data-heat]"),
      most = Math.max(data.limit * 1.15, ...data.tacks.map((t) => t.plate_C_before)),
      y = (c) => 62 - (c / most) * 54,
      w = 330 / total;
    chart.replaceChildren(
      ...data.tacks.map((t, i) =>
        el("rect", {
          class: i === step ? "hb2" : i < step ? "hb1" : "hb0",
          x: n1(28 + i * w),
          y: n1(y(t.plate_C_before)),
          width: n1(Math.max(0.8, w * 0.8)),
          height: n1(62 - y(t.plate_C_before)),
        }),
      ),
      el("path", { class: "h0", d: "M24 62.5H360" }),
      el("path", { class: "hl", d: `M24 ${n1(y(data.limit))}H360` }),
      el("text", { x: 360, y: n1(y(data.limit) - 4), "text-anchor": "end" }, `stop at ${data.limit_shown}`),
      el("text", { x: 20, y: 66, "text-anchor": "end" }, "0"),
      el("text", { x: 20, y: n1(y(data.limit) + 4), "text-anchor": "end" }, data.limit_shown),
    );
  };

  const go = (to) => {
    step = Math.min(total, Math.max(0, to));
    range.value = step;
    range.setAttribute("aria-valuetext", `${step} of ${total} tacks done`);
    find("[data-step]").textContent = step;
    const next = data.tacks[step],
      last = data.tacks[step - 1];
    find("[data-next-n]").textContent = next ? next.n : "✓";
    find("[data-next-head]").textContent = next ? `Next: tack ${next.n}` : "The seam is closed";
    find("[data-next-lead]").textContent =
      next && last
        ? `${figure(between(next.at, last.at))} ${unit} from tack ${last.n}, pass ${next.pass}`
        : next
          ? "Start here"
          : "Look for pinholes with a lamp behind it";
    find("[data-wait]").textContent = next ? next.wait_s.toFixed(0) : "0";
    find("[data-plate]").textContent = next ? next.plate_shown : "–";
    find("[data-when]").textContent = last
      ? `1 s after tack ${last.n}, ${clock(last.start_s)} into the work`
      : "Nothing welded yet";
    for (const node of document.querySelectorAll("[data-pass], [data-segs] span")) {
      const first = Number(node.dataset.first),
        end = Number(node.dataset.last);
      node.classList.toggle("d", end <= step);
      node.classList.toggle("now", first <= step + 1 && step + 1 <= end);
    }
    ready();
    place();
    bars();
    heat();
  };
  const ready = () => {
    const next = data.tacks[step];
    button.disabled = !data.ready || !next;
    button.classList.toggle("btn-next", data.ready && Boolean(next));
    button.classList.toggle("btn-wait", !data.ready || !next);
    button.textContent = !data.ready
      ? "First tick every hot-work caution"
      : next
        ? `Tack ${next.n} is done`
        : "All tacks are done";
  };
  const stop = () => {
    clearInterval(timer);
    timer = null;
    find("[data-play]").setAttribute("aria-pressed", "false");
  };

  for (const segment of document.querySelectorAll("[data-segs] span"))
    segment.style.flexGrow = segment.dataset.flex;
  range.addEventListener("input", () => {
    stop();
    go(Number(range.value));
  });
  find("[data-back]").addEventListener("click", () => {
    stop();
    go(step - 1);
  });
  find("[data-on]").addEventListener("click", () => {
    stop();
    go(step + 1);
  });
  find("[data-play]").addEventListener("click", () => {
    if (timer) return stop();
    if (step >= total) go(0);
    find("[data-play]").setAttribute("aria-pressed", "true");
    timer = setInterval(() => {
      go(step + 1);
      if (step >= total) stop();
    }, 450);
  });
  button.addEventListener("click", () => go(step + 1));
  find("[data-cautions]").addEventListener("change", async (event) => {
    event.target.closest("label").classList.toggle("miss", !event.target.checked);
    const answer = await ask(data.cautions, {
      keys: [...document.querySelectorAll("[data-cautions] input:checked")].map((input) => input.value),
    });
    if (answer.ok) {
      data.ready = answer.data.ready;
      ready();
    } else {
      event.target.checked = !event.target.checked;
      event.target.closest("label").classList.toggle("miss", !event.target.checked);
    }
  });
  viewport.onChange(place);
  go(0);
}

const svg = document.querySelector("[data-weld-board]");
if (svg) mount(svg);
