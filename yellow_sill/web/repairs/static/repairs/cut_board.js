/** The cut line: corners to drag, the core's outline and remarks drawn as they change. */
import { ask, errorBox, lastOnly } from "frame/ask.js";
import { Corners } from "frame/corners.js";
import { along } from "frame/pen.js";
import { boundsOf, el, n1, pageData } from "frame/svg.js";
import { tagShape } from "frame/tags.js";
import { area, figure, typedCorners, writtenCorners as written } from "frame/units.js";
import { dimension } from "survey/detail.js";
import { Viewport } from "frame/viewport.js";

const same = (a, b) => JSON.stringify(a) === JSON.stringify(b);

export function mount(svg, form) {
  const data = pageData("board-data"), [u0, v0, u1, v1] = JSON.parse(svg.dataset.bounds), edge = Math.max(40, 0.32 * Math.max(u1 - u0, v1 - v0));
  const viewport = new Viewport(svg, { bounds: [u0 - edge, v0 - edge, u1 + edge, v1 + edge], pad: [8, 8, 8, 70] });
  const line = viewport.overlay.appendChild(el("g")), marks = viewport.overlay.appendChild(el("g")), tags = viewport.overlay.appendChild(el("g", { "aria-hidden": "true" }));
  const text = form.elements.corners, errors = form.querySelector("[data-errors]"), list = form.querySelector("[data-remarks]");
  const stored = data.corners.map(([u, v]) => [n1(u), n1(v)]), proposed = data.proposed.map(([u, v]) => [n1(u), n1(v)]);
  let { outline, remarks } = data, setOut = false;
  const origin = boundsOf(data.panel).slice(0, 2);

  /** Each corner's distances from the panel's left end and lower edge, as drawn, to set it out with a rule. */
  const ordinates = () => editor.corners.flatMap(([u, v]) => {
    const [x, y] = viewport.px(u, v), [left] = viewport.px(origin[0], 0), [, low] = viewport.px(0, origin[1]);
    const from = Math.max(left, viewport.left + 4), foot = Math.min(low, viewport.height - 20);
    return [
      el("path", { class: "ord-line", d: `M${n1(from)} ${n1(y)}H${n1(x)}M${n1(x)} ${n1(foot)}V${n1(y)}` }),
      el("text", { class: "num ord", x: n1(x - 8), y: n1(y - 6), "text-anchor": "end" }, `→${figure(u - origin[0])}`),
      el("text", { class: "num ord", x: n1(x + 6), y: n1(y + 18) }, `↑${figure(v - origin[1])}`),
    ];
  });

  const sizes = () => {
    const [a, b, c, d] = boundsOf(outline), p = viewport.px(a, b), q = viewport.px(c, b), r = viewport.px(c, d);
    return [dimension(p, q, 34, figure(c - a)), dimension(q, r, 34, figure(d - b))];
  };
  const draw = () => {
    const px = outline.map(([u, v]) => viewport.px(u, v));
    line.replaceChildren(along(px, true, { width: 8, seed: 11, wobble: 0.7 }), el("path", { class: "cutl", d: "M" + px.map(([x, y]) => `${n1(x)} ${n1(y)}`).join("L") + "Z" }), ...(setOut ? ordinates() : sizes()));
    marks.replaceChildren(...remarks.filter((r) => r.at).map((remark) => {
      const [x, y] = viewport.px(...remark.at).map(n1), g = el("g", { class: "remark-mark" });
      g.append(el("circle", { cx: x, cy: y, r: 12 }), el("text", { x, y: y + 5, "text-anchor": "middle" }, "!"), el("title", {}, remark.what));
      return g;
    }));
    tags.replaceChildren(...data.tags.map((tag, i) => {
      const [x, y] = viewport.px((tag.bounds[0] + tag.bounds[2]) / 2, (tag.bounds[1] + tag.bounds[3]) / 2), tx = viewport.width - 60, ty = viewport.top + 40 + i * 34, g = el("g");
      g.append(el("path", { class: "fd-lead", d: `M${n1(x)} ${n1(y)}L${n1(tx - 22)} ${n1(ty)}` }), el("circle", { class: "fd-dot", cx: n1(x), cy: n1(y), r: 2.2 }), tagShape(tx, ty, tag));
      return g;
    }));
  };

  const say = (data) => {
    ({ outline, remarks } = data);
    const [a, b, c, d] = boundsOf(outline);
    form.querySelector("[data-size]").textContent = `${figure(c - a)}×${figure(d - b)}`;
    form.querySelector("[data-weld]").textContent = figure(data.weld_length_mm);
    form.querySelector("[data-area]").textContent = area(data.area_mm2);
    list.replaceChildren(...(remarks.length ? remarks : [{ ok: true, what: "", mend: "All rust lies inside, with its margin." }]).map((remark) => {
      const item = document.createElement("li"), bold = document.createElement("b");
      if (remark.ok) item.className = "ok";
      bold.textContent = remark.what;
      item.append(bold, ` ${remark.mend}`);
      return item;
    }));
    draw();
  };
  const check = lastOnly(async (current) => {
    const answer = await ask(data.check, { corners: editor.corners });
    if (!current()) return;
    errors.replaceChildren();
    if (answer.ok) say(answer.data); else errors.append(errorBox(answer.data.error));
  }, 60);
  const changed = () => {
    text.value = written(editor.corners.map((c) => viewport.shell(c)));
    const moved = !same(editor.corners, stored);
    form.querySelector("[data-keep]").hidden = !moved;
    form.querySelector("[data-go]").hidden = moved;
    form.querySelector("[data-reset]").hidden = same(editor.corners, proposed);
    check();
  };
  const typed = () => typedCorners(text.value).map((c) => viewport.shell(c));
  const editor = new Corners(viewport, stored, { mayAdd: false, rings: () => [data.panel], lines: () => data.lines, changed });
  const press = (name, act) => document.querySelector(`[data-${name}]`)?.addEventListener("click", act);
  press("undo", () => editor.undo());
  press("redo", () => editor.redo());
  press("set-out", (event) => { setOut = !setOut; event.currentTarget.setAttribute("aria-pressed", setOut); draw(); });
  addEventListener("keydown", (event) => {
    if (!(event.ctrlKey || event.metaKey) || event.target.closest("input, textarea")) return;
    const act = { z: () => (event.shiftKey ? editor.redo() : editor.undo()), y: () => editor.redo() }[event.key.toLowerCase()];
    if (act) { event.preventDefault(); act(); }
  });
  text.addEventListener("input", () => { const corners = typed(); if (corners.length > 2) { editor.set(corners); const keep = text.value; changed(); text.value = keep; } });
  form.querySelector("[data-reset]").addEventListener("click", () => { editor.set(proposed); changed(); });
  addEventListener("beforeunload", (event) => { if (!same(editor.corners, stored) && !form.dataset.sent) event.preventDefault(); });
  form.addEventListener("submit", () => { form.dataset.sent = "yes"; });
  const refused = typed().map(([u, v]) => [n1(u), n1(v)]);
  if (refused.length > 2 && !same(refused, stored)) { editor.set(refused, false); const keep = text.value; changed(); text.value = keep; }
  viewport.onChange(draw);
}

const svg = document.querySelector("[data-cut-board]"), form = document.querySelector("[data-cut-form]");
if (svg && form) mount(svg, form);
