/** The cut line: corners to drag, the core's outline and remarks drawn as they change. */
import { ask, errorBox, lastOnly } from "frame/ask.js";
import { Corners } from "frame/corners.js";
import { along } from "frame/pen.js";
import { boundsOf, el, n1, pageData } from "frame/svg.js";
import { tagShape } from "frame/tags.js";
import { area, figure, typedCorners, writtenCorners as written } from "frame/units.js";
import { dimension } from "survey/detail.js";
import { Viewport } from "frame/viewport.js";

/** Points every 24 px along a ring, where it may be seen. */
const along24 = (ring) =>
  ring.flatMap(([x, y], i) => {
    const [x1, y1] = ring[(i + 1) % ring.length],
      steps = Math.min(200, Math.ceil(Math.hypot(x1 - x, y1 - y) / 24));
    return Array.from({ length: steps }, (_, k) => [x + ((x1 - x) * k) / steps, y + ((y1 - y) * k) / steps]);
  });

const same = (a, b) => JSON.stringify(a) === JSON.stringify(b);

export function mount(svg, form) {
  const data = pageData("board-data"),
    [u0, v0, u1, v1] = JSON.parse(svg.dataset.bounds),
    edge = Math.max(40, 0.32 * Math.max(u1 - u0, v1 - v0));
  const viewport = new Viewport(svg, {
    bounds: [u0 - edge, v0 - edge, u1 + edge, v1 + edge],
    pad: [8, 8, 8, 70],
  });
  const line = viewport.overlay.appendChild(el("g")),
    marks = viewport.overlay.appendChild(el("g")),
    tags = viewport.overlay.appendChild(el("g", { "aria-hidden": "true" }));
  const text = form.elements.corners,
    errors = form.querySelector("[data-errors]"),
    list = form.querySelector("[data-remarks]");
  const stored = data.corners.map(([u, v]) => [n1(u), n1(v)]),
    proposed = data.proposed.map(([u, v]) => [n1(u), n1(v)]);
  const names = viewport.overlay.appendChild(el("g", { "aria-hidden": "true" })),
    nuggets = viewport.overlay.appendChild(el("g", { class: "nugs" }));
  let { outline, remarks, set_out: corners } = data,
    setOut = null;
  const ends = boundsOf(data.panel),
    table = form.querySelector("[data-set-table]");
  const origin = () => [ends[setOut[0] * 2], ends[1 + setOut[1] * 2]];

  /**
   * Each corner's distances from two named ends of the panel, to set it out with a rule: on the drawing,
   * and as a table.
   */
  const ordinates = () => {
    const [a, b] = origin(),
      inside = (value, low, high) => Math.min(Math.max(value, low), high);
    const x0 = inside(viewport.px(a, 0)[0], viewport.left + 4, viewport.width - 4),
      y0 = inside(viewport.px(0, b)[1], viewport.top + 4, viewport.height - 20);
    table.querySelector("tbody").replaceChildren(
      ...corners.map(([u, v], i) => {
        const row = document.createElement("tr");
        for (const [tag, value] of [
          ["th", i + 1],
          ["td", figure(Math.abs(u - a))],
          ["td", figure(Math.abs(v - b))],
        ])
          row.append(
            Object.assign(document.createElement(tag), {
              textContent: value,
              className: tag === "td" ? "r mm" : "",
            }),
          );
        return row;
      }),
    );
    return corners.flatMap(([u, v], i) => {
      const [x, y] = viewport.px(u, v),
        left = setOut[0] === 0;
      return [
        el("path", { class: "ord-line", d: `M${n1(x0)} ${n1(y)}H${n1(x)}M${n1(x)} ${n1(y0)}V${n1(y)}` }),
        el(
          "text",
          {
            class: "num ord",
            x: n1(x + (left ? -8 : 8)),
            y: n1(y - 6),
            "text-anchor": left ? "end" : "start",
          },
          figure(Math.abs(u - a)),
        ),
        el(
          "text",
          { class: "num ord", x: n1(x + 6), y: n1(y + (setOut[1] === 0 ? 20 : -20)) },
          figure(Math.abs(v - b)),
        ),
        el("text", { class: "cap ord", x: n1(x - 4), y: n1(y - 22), "text-anchor": "end" }, i + 1),
      ];
    });
  };

  /**
   * Old spot welds: a ring each, crossed once it is drilled; tapping it ticks it off while the line is
   * the stored one.
   */
  const drawNuggets = () => {
    const drilled = document.querySelector("[data-drilled]"),
      held = nuggets.contains(document.activeElement) ? document.activeElement.dataset.n : null;
    if (drilled) drilled.textContent = data.nuggets.filter((each) => each.done).length;
    nuggets.replaceChildren(
      ...data.nuggets.map((each) => {
        const [x, y] = viewport.px(...each.at).map(n1),
          g = el("g", {
            class: `nugget${each.done ? " is-done" : ""}`,
            "data-n": each.n,
            tabindex: "0",
            role: "checkbox",
            "aria-checked": each.done,
            "aria-label": `Spot weld ${each.n}`,
          });
        g.append(
          el("circle", { class: "hit", cx: x, cy: y, r: 22 }),
          el("circle", { class: "ring", cx: x, cy: y, r: 10 }),
        );
        if (each.done) g.append(el("path", { d: `M${x - 15} ${y}h5m20 0h5M${x} ${y - 15}v5m0 20v5` }));
        g.append(el("text", { class: "num", x, y: y + 4, "text-anchor": "middle" }, each.n));
        const toggle = async () => {
          const body = new FormData();
          if (each.done) body.set("undo", "1");
          const answer = await ask(each.tick, body);
          errors.replaceChildren();
          if (answer.ok) each.done = answer.data.done;
          else errors.append(errorBox(answer.data.error));
          drawNuggets();
        };
        g.addEventListener("click", (event) => {
          event.stopPropagation();
          if (viewport.moved <= 6) toggle();
        });
        g.addEventListener("keydown", (event) => {
          if (event.key === " " || event.key === "Enter") {
            event.preventDefault();
            event.stopPropagation();
            toggle();
          }
        });
        return g;
      }),
    );
    if (held) nuggets.querySelector(`[data-n="${held}"]`)?.focus();
  };

  /** The other layers' names, each at its outline where that leaves the field. */
  const drawNames = () => {
    const used = [];
    names.replaceChildren(
      ...data.layers.flatMap(({ name, outline: ring }) => {
        const seen = along24(ring.map((c) => viewport.px(...c))).filter(
          ([x, y]) =>
            x > viewport.left + 12 &&
            x < viewport.width - 220 &&
            y > viewport.top + (x < 560 ? 76 : 30) &&
            y < viewport.height - 120,
        );
        const place = seen
          .sort((p, q) => p[0] - q[0] || p[1] - q[1])
          .find(([x, y]) => used.every(([a, b]) => Math.abs(a - x) > 190 || Math.abs(b - y) > 20));
        if (!place) return [];
        used.push(place);
        return [el("text", { class: "layer-name", x: n1(place[0] + 6), y: n1(place[1] - 6) }, name)];
      }),
    );
  };

  const sizes = () => {
    const [a, b, c, d] = boundsOf(outline),
      p = viewport.px(a, b),
      q = viewport.px(c, b),
      r = viewport.px(c, d);
    const below = Math.max(...editor.corners.map((corner) => viewport.px(...corner)[1])) - p[1];
    return [dimension(p, q, below > 4 ? below + 30 : 34, figure(c - a)), dimension(q, r, 34, figure(d - b))];
  };
  const draw = () => {
    const px = outline.map(([u, v]) => viewport.px(u, v));
    line.replaceChildren(
      along(px, true, { width: 8, seed: 11, wobble: 0.7 }),
      el("path", { class: "cutl", d: "M" + px.map(([x, y]) => `${n1(x)} ${n1(y)}`).join("L") + "Z" }),
      ...(setOut ? ordinates() : sizes()),
    );
    drawNames();
    marks.replaceChildren(
      ...remarks
        .filter((r) => r.at)
        .map((remark) => {
          const [x, y] = viewport.px(...remark.at).map(n1),
            g = el("g", { class: "remark-mark" });
          g.append(
            el("circle", { cx: x, cy: y, r: 12 }),
            el("text", { x, y: y + 5, "text-anchor": "middle" }, "!"),
            el("title", {}, remark.what),
          );
          return g;
        }),
    );
    tags.replaceChildren(
      ...data.tags.map((tag, i) => {
        const [x, y] = viewport.px((tag.bounds[0] + tag.bounds[2]) / 2, (tag.bounds[1] + tag.bounds[3]) / 2),
          tx = viewport.width - 60,
          ty = viewport.top + 40 + i * 34,
          g = el("g");
        g.append(
          el("path", { class: "fd-lead", d: `M${n1(x)} ${n1(y)}L${n1(tx - 22)} ${n1(ty)}` }),
          el("circle", { class: "fd-dot", cx: n1(x), cy: n1(y), r: 2.2 }),
          tagShape(tx, ty, tag),
        );
        return g;
      }),
    );
  };

  const say = (data) => {
    ({ outline, remarks, set_out: corners } = data);
    form
      .querySelector("[data-met]")
      .replaceChildren(
        ...data.met.map((textContent) => Object.assign(document.createElement("li"), { textContent })),
      );
    const [a, b, c, d] = boundsOf(outline);
    form.querySelector("[data-size]").textContent = `${figure(c - a)}×${figure(d - b)}`;
    form.querySelector("[data-weld]").textContent = figure(data.weld_length_mm);
    form.querySelector("[data-area]").textContent = area(data.area_mm2);
    list.replaceChildren(
      ...(remarks.length
        ? remarks
        : [{ ok: true, what: "", mend: "All rust lies inside, with its margin." }]
      ).map((remark) => {
        const item = document.createElement("li"),
          bold = document.createElement("b");
        if (remark.ok) item.className = "ok";
        bold.textContent = remark.what;
        item.append(bold, ` ${remark.mend}`);
        return item;
      }),
    );
    draw();
  };
  const check = lastOnly(async (current) => {
    const answer = await ask(data.check, { corners: editor.corners });
    if (!current()) return;
    errors.replaceChildren();
    if (answer.ok) say(answer.data);
    else errors.append(errorBox(answer.data.error));
  }, 60);
  const changed = () => {
    text.value = written(editor.corners.map((c) => viewport.shell(c)));
    const moved = !same(editor.corners, stored);
    form.querySelector("[data-keep]").hidden = !moved;
    form.querySelector("[data-go]").hidden = moved;
    form.querySelector("[data-reset]").hidden = same(editor.corners, proposed);
    nuggets.classList.toggle("is-stale", moved);
    check();
  };
  const typed = () => typedCorners(text.value).map((c) => viewport.shell(c));
  const editor = new Corners(viewport, stored, {
    mayAdd: false,
    rings: () => [data.panel],
    lines: () => data.lines,
    changed,
  });
  const press = (name, act) => document.querySelector(`[data-${name}]`)?.addEventListener("click", act);
  press("undo", () => editor.undo());
  press("redo", () => editor.redo());
  document.querySelector("select[data-set-out]").addEventListener("change", (event) => {
    setOut = event.target.value ? event.target.value.split(",").map(Number) : null;
    table.hidden = !setOut;
    if (setOut) {
      table.querySelector("[data-set-u]").textContent = `from ${data.ends[setOut[0]]} end`;
      table.querySelector("[data-set-v]").textContent = `from ${data.ends[2 + setOut[1]]} edge`;
    }
    draw();
  });
  addEventListener("keydown", (event) => {
    if (!(event.ctrlKey || event.metaKey) || event.target.closest("input, textarea")) return;
    const act = { z: () => (event.shiftKey ? editor.redo() : editor.undo()), y: () => editor.redo() }[
      event.key.toLowerCase()
    ];
    if (act) {
      event.preventDefault();
      act();
    }
  });
  text.addEventListener("input", () => {
    const corners = typed();
    if (corners.length > 2) {
      editor.set(corners);
      const keep = text.value;
      changed();
      text.value = keep;
    }
  });
  form.querySelector("[data-reset]").addEventListener("click", () => {
    editor.set(proposed);
    changed();
  });
  addEventListener("beforeunload", (event) => {
    if (!same(editor.corners, stored) && !form.dataset.sent) event.preventDefault();
  });
  form.addEventListener("submit", () => {
    form.dataset.sent = "yes";
  });
  const refused = typed().map(([u, v]) => [n1(u), n1(v)]);
  if (refused.length > 2 && !same(refused, stored)) {
    editor.set(refused, false);
    const keep = text.value;
    changed();
    text.value = keep;
  }
  viewport.onChange(() => {
    draw();
    drawNuggets();
  });
}

const svg = document.querySelector("[data-cut-board]"),
  form = document.querySelector("[data-cut-form]");
if (svg && form) mount(svg, form);
