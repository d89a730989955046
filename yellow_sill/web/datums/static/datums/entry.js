/**
 * Entering a round: big keys, one reading after another in walking order, each kept at once, the pair
 * drawn on the board.
 */
import { ask, errorBox } from "frame/ask.js";
import { ring } from "frame/pen.js";
import { el, n1, pageData } from "frame/svg.js";
import { inches, reading, unit, written as exact } from "frame/units.js";
import { Viewport } from "frame/viewport.js";
import { dimension } from "survey/detail.js";
import { target } from "datums/marks.js";

const POLL_MS = 4000;
const inForce = (step) => step.values.filter((value) => !value.struck);
const mean = (values) => values.reduce((sum, value) => sum + value.mm, 0) / values.length;
const written = (mm, kind) =>
  kind === "angle"
    ? String(Math.round(mm * 100) / 100)
    : inches
      ? reading(mm)
      : String(Math.round(mm * 10) / 10);

export function mount(root) {
  const svg = document.querySelector("[data-entry-board]"),
    places = pageData("places"),
    part = (name) => root.querySelector(`[data-${name}]`);
  const input = root.querySelector("#reading"),
    form = part("form"),
    errors = part("errors"),
    asked = part("asked"),
    walk = document.querySelector("[data-walk]");
  const bounds = JSON.parse(svg.dataset.bounds),
    viewport = new Viewport(svg, { bounds, pad: [14, 40, 200, 110] }),
    layer = viewport.overlay.appendChild(el("g"));
  let steps = pageData("steps"),
    busy = false,
    again = false,
    lastKept = null;
  const wanted = new URLSearchParams(location.search).get("key");
  const firstOpen = (from = 0) => {
    const i = steps.findIndex((step, j) => j >= from && !inForce(step).length);
    return i >= 0 ? i : steps.findIndex((step) => !inForce(step).length);
  };
  let at = Math.max(0, wanted ? steps.findIndex((step) => step.key === wanted) : firstOpen());
  if (matchMedia("(hover: hover)").matches) input.inputMode = "decimal"; // a touch screen has the large keys

  const board = () => {
    layer.replaceChildren();
    const here = steps[at]?.points ?? [];
    for (const [code, place] of Object.entries(places)) {
      const [x, y] = viewport.px(...place),
        on = here.includes(code);
      layer.append(target(x, y, on ? 8 : 4));
      if (on)
        layer.append(
          ring(x, y, 22, 20, code.charCodeAt(0)),
          el("text", { class: "cap dl-name", x: n1(x + 14), y: n1(y - 16) }, code),
        );
    }
    if (here.length === 2 && places[here[0]] && places[here[1]])
      layer.append(
        dimension(
          viewport.px(...places[here[0]]),
          viewport.px(...places[here[1]]),
          0.01,
          inForce(steps[at]).length ? reading(mean(inForce(steps[at]))) : "?",
        ),
      );
    if (here.length === 3)
      layer.append(
        el("path", {
          class: "dm-l",
          d: `M${here
            .map((code) =>
              viewport
                .px(...places[code])
                .map(n1)
                .join(" "),
            )
            .join("L")}`,
        }),
      );
  };
  const list = () => {
    const box = document.createElement("ol");
    steps.forEach((step, i) => {
      const item = document.createElement("li"),
        button = document.createElement("button"),
        read = inForce(step);
      button.type = "button";
      button.innerHTML = "<b></b><span></span><em></em>";
      button.children[0].textContent = i + 1;
      button.children[1].textContent = step.points.join(" – ");
      button.children[2].textContent = read.length ? written(mean(read), step.kind) : "";
      if (i === at) button.setAttribute("aria-current", "step");
      button.addEventListener("click", () => go(i));
      item.append(button);
      box.append(item);
    });
    const scroll = walk.scrollTop;
    walk.replaceChildren(box);
    walk.scrollTop = scroll;
    const now = box.querySelector("[aria-current]");
    if (now && (now.offsetTop < walk.scrollTop || now.offsetTop > walk.scrollTop + walk.clientHeight - 40))
      walk.scrollTop = now.offsetTop - walk.clientHeight / 2;
  };
  const show = () => {
    const step = steps[at];
    if (!step) return;
    part("number").textContent = at + 1;
    part("what").textContent = `${step.word} ${step.points.join(" – ")}`;
    part("where").textContent = step.names.filter((name, i, all) => all.indexOf(name) === i).join(" to ");
    part("how").textContent = step.points
      .map((code, i) => (step.how[i] ? `${code}: ${step.how[i]}` : ""))
      .filter(Boolean)
      .join("; ");
    part("device").textContent = step.kind === "height" ? "From the level" : "From the tape";
    part("device").hidden = !["height", "distance", "plumb"].includes(step.kind);
    const values = part("values");
    values.replaceChildren(
      ...step.values.map((value) => {
        const item = document.createElement("li"),
          button = document.createElement("button");
        item.innerHTML = "<span class='mm'></span><small></small>";
        item.children[0].textContent = `${written(value.mm, step.kind)} ${step.kind === "angle" ? "°" : unit}`;
        const struck = value.struck ? `struck: ${value.struck}` : "";
        item.children[1].textContent = ` ${[value.by, value.device, struck].filter(Boolean).join(", ")}`;
        item.classList.toggle("is-struck", Boolean(value.struck));
        Object.assign(button, {
          type: "button",
          className: "link",
          textContent: value.struck ? "Take back in" : "Strike",
        });
        button.addEventListener("click", () => strike(value.pk, Boolean(value.struck)));
        item.append(button);
        return item;
      }),
    );
    const read = inForce(step);
    if (!step.values.length)
      values.innerHTML =
        "<li><small>Not read yet. A second reading of the same pair is averaged with the first.</small></li>";
    part("spread").textContent =
      (read.length > 1
        ? `${read.length} readings, mean ${written(mean(read), step.kind)} ${step.kind === "angle" ? "°" : unit}. `
        : "") + (step.spread ?? "");
    const done = steps.filter((each) => inForce(each).length).length;
    part("progress").textContent = `${done} of ${steps.length} read`;
    board();
    list();
  };
  const go = (i, typed = "") => {
    at = Math.max(0, Math.min(steps.length - 1, i));
    input.value = typed;
    errors.replaceChildren();
    show();
    if (matchMedia("(hover: hover)").matches) input.focus();
  };

  /** Keep a reading; what was typed stays in the box until the server has it. */
  const send = async (values) => {
    if (!steps[at]) return;
    if (busy) {
      again = !values.device;
      return;
    }
    busy = true;
    const sent = values.value === input.value ? input.value : "",
      step = steps[at],
      answer = await ask(root.dataset.save, { kind: step.kind, points: step.points, ...values });
    busy = false;
    errors.replaceChildren();
    if (!answer.ok) {
      again = false;
      errors.append(errorBox(answer.data.error));
      input.focus();
      return;
    }
    // the next reading may be half typed by now
    if (input.value.startsWith(sent)) input.value = input.value.slice(sent.length);
    const { value, question, meant, meant_shown: meantShown, spread } = answer.data;
    if (values.replaces)
      step.values.forEach((each) => {
        if (each.pk === values.replaces) each.struck = "mistyped";
      });
    step.values.push(value);
    step.spread = spread;
    asked.hidden = !question;
    lastKept = { i: at, pk: value.pk, meant };
    if (question) {
      part("question").textContent = question;
      part("right").textContent = `It is ${written(value.mm, step.kind)}`;
      part("meant").hidden = meant === null;
      part("meant").textContent = meant === null ? "" : `${meantShown} was meant`;
      again = false;
      show();
      part("right").focus();
      return;
    }
    const next = firstOpen(at + 1);
    go(next >= 0 ? next : at, input.value);
    if (again) {
      again = false;
      form.requestSubmit();
    }
  };
  const strike = async (pk, back) => {
    const answer = await ask(root.dataset.strike, { reading: pk, back });
    errors.replaceChildren();
    if (!answer.ok) {
      errors.append(errorBox(answer.data.error));
      return;
    }
    take(answer.data.steps);
  };
  /** Steps as the server has them: whoever else enters is seen here too. */
  const take = (fresh) => {
    const key = steps[at]?.key,
      added = steps.filter((step) => step.added && !fresh.some((each) => each.key === step.key));
    steps = [...fresh, ...added];
    at = Math.max(
      0,
      steps.findIndex((step) => step.key === key),
    );
    show();
  };

  form.addEventListener("submit", (event) => {
    event.preventDefault();
    if (input.value.trim()) send({ value: input.value });
    else go(at + 1);
  });
  part("device").addEventListener("click", () => send({ device: true }));
  for (const key of form.querySelectorAll("[data-key]"))
    key.addEventListener("click", () => {
      const what = key.dataset.key;
      input.value =
        what === "back"
          ? input.value.slice(0, -1)
          : what === "-"
            ? input.value.startsWith("-")
              ? input.value.slice(1)
              : `-${input.value}`
            : input.value + what;
    });
  part("right").addEventListener("click", () => {
    asked.hidden = true;
    const next = firstOpen(at + 1);
    go(next >= 0 ? next : at, input.value);
  });
  part("meant").addEventListener("click", async () => {
    asked.hidden = true;
    at = lastKept.i;
    await send({ value: exact(lastKept.meant), replaces: lastKept.pk });
  });
  part("prev").addEventListener("click", () => go(at - 1));
  part("skip").addEventListener("click", () => go(at + 1));
  part("open").addEventListener("click", () => go(Math.max(0, firstOpen())));
  const measure = (kind, points) => {
    const found = steps.findIndex(
      (step) =>
        step.kind === kind &&
        (kind === "angle"
          ? step.points.join(" ") === points.join(" ")
          : [...step.points].sort().join(" ") === [...points].sort().join(" ")),
    );
    if (found >= 0) {
      go(found);
      return;
    }
    steps.push({
      key: `${kind} ${points.join(" ")}`,
      kind,
      word: root.querySelector(`#o-kind option[value="${kind}"]`).textContent,
      points,
      names: points,
      how: points.map(() => ""),
      values: [],
      added: true,
    });
    go(steps.length - 1);
  };
  part("other").addEventListener("click", () => {
    const points = root
        .querySelector("#o-points")
        .value.trim()
        .split(/[\s,;–-]+/)
        .filter(Boolean),
      unknown = points.find((code) => !pageData("codes").includes(code));
    errors.replaceChildren();
    if (!points.length || unknown) {
      errors.append(
        errorBox({
          what: unknown ? `There is no point ${unknown} in the book.` : "Which points?",
          mend: "Write their names with a space between, such as 2L 8R.",
        }),
      );
      return;
    }
    measure(root.querySelector("#o-kind").value, points);
  });
  part("ask-next").addEventListener("click", async () => {
    const answer = await ask(root.dataset.next),
      told = part("next-worst"),
      items = part("next-list");
    items.replaceChildren();
    told.textContent = answer.ok ? answer.data.worst : `${answer.data.error.what} ${answer.data.error.mend}`;
    for (const reading of answer.data.readings ?? []) {
      const item = document.createElement("li"),
        button = document.createElement("button");
      Object.assign(button, { type: "button", className: "link", textContent: reading.text });
      button.addEventListener("click", () => measure(reading.kind, reading.points));
      item.append(button);
      items.append(item);
    }
  });
  setInterval(async () => {
    if (busy || document.hidden || !asked.hidden) return;
    const answer = await ask(root.dataset.state),
      count = (all) => all.reduce((sum, step) => sum + step.values.length * 1000 + inForce(step).length, 0);
    if (answer.ok && !busy && count(answer.data.steps) !== count(steps)) take(answer.data.steps);
  }, POLL_MS);
  viewport.onChange(board);
  show();
}

for (const root of document.querySelectorAll("[data-entry]")) mount(root);
