/** Drawing a finding: the board, the typed corners and the core's answer kept in step. */
import { ask, errorBox, lastOnly } from "frame/ask.js";
import { Corners } from "frame/corners.js";
import { boundsOf, el, n1, pageData, pathD } from "frame/svg.js";
import {
  area,
  areaUnit,
  figure,
  typedCorners as parse,
  unit,
  writtenCorners as written,
} from "frame/units.js";
import { Viewport } from "frame/viewport.js";

export function mount(svg, form) {
  const viewport = new Viewport(svg, { bounds: JSON.parse(svg.dataset.bounds) });
  const rings = pageData("panel-rings"),
    text = form.elements.corners,
    panel = form.elements.panel,
    errors = form.querySelector("[data-errors]");
  const panelLine = viewport.world.appendChild(el("path", { class: "panel-chosen" })),
    fault = viewport.overlay.appendChild(el("g", { class: "fault-mark" }));
  const draftKey = `yellow-sill-draft-${svg.dataset.draft}`;
  let faultAt = null;

  const ringsOf = () => {
    const r = rings[panel.value];
    return r ? [r.outline, ...r.holes] : [];
  };
  const typed = () => parse(text.value).map((c) => viewport.shell(c));
  const editor = new Corners(viewport, typed(), {
    rings: ringsOf,
    changed: (corners) => {
      text.value = written(corners.map((c) => viewport.shell(c)));
      keep();
      judge();
    },
  });

  const keep = () => {
    try {
      sessionStorage.setItem(
        draftKey,
        JSON.stringify(
          [...new FormData(form)].filter(([name]) => name !== "csrfmiddlewaretoken" && name !== "version"),
        ),
      );
    } catch {
      /* private window: no draft */
    }
  };
  const showPanel = () =>
    panelLine.setAttribute(
      "d",
      ringsOf()
        .map((ring) => pathD(ring))
        .join(""),
    );
  const zoomTo = ([a, b, c, d], border) => {
    const e = Math.max(c - a, d - b) * border;
    viewport.fit([a - e, b - e, c + e, d + e]);
    viewport.fitted = false;
  };
  const showFault = () => {
    fault.replaceChildren();
    if (!faultAt) return;
    const [x, y] = viewport.px(...faultAt);
    fault.append(
      el("circle", { cx: n1(x), cy: n1(y), r: 13 }),
      el("path", { d: `M${n1(x - 5)} ${n1(y - 5)}l10 10M${n1(x + 5)} ${n1(y - 5)}l-10 10` }),
    );
  };
  viewport.onChange(showFault);

  const evidence = () =>
    [...form.querySelectorAll(".evrow select")]
      .filter((select) => select.value)
      .map((select) => {
        const row = select.name.replace("_result", ""),
          method = row.replace("_also", ""),
          number = (name) => {
            const value = form.elements[name]?.value.replace(",", ".");
            return value ? Number(value) : null;
          };
        return {
          method,
          result: select.value,
          hits: number(`${row}_hits`),
          tries: number(`${method}_tries`),
          thickness_mm: row === "gauge" ? number("gauge_mm") : null,
        };
      });
  const judge = lastOnly(async (current) => {
    if (!panel.value) return;
    const answer = await ask(svg.dataset.check, {
      view: svg.dataset.view,
      panel: panel.value,
      corners: typed(),
      evidence: evidence(),
    });
    if (!current()) return;
    errors.replaceChildren();
    faultAt = null;
    if (answer.ok) {
      const { size_mm: size, area_mm2: spread, grade, word, why } = answer.data;
      form.querySelector("[data-size]").textContent = size
        ? `${figure(size[0])} × ${figure(size[1])} ${unit}, ${area(spread)} ${areaUnit}`
        : `${parse(text.value).length} of at least 3 corners`;
      form.querySelector("[data-grade-letter]").textContent = grade || "?";
      form.querySelector("[data-grade-word]").textContent = word;
      form.querySelector("[data-why]").textContent = why.replace(`${word}: `, "");
      editor.shape.setAttribute("class", `draft fd fd-${grade || "X"} is-sel`);
    } else {
      errors.append(errorBox(answer.data.error));
      faultAt = answer.data.error.at;
    }
    showFault();
  });

  // the first corner says which panel it lies on: it is taken where none was chosen, and offered where another was
  const offered = form.querySelector("[data-tapped]"),
    offeredWords = offered.querySelector("span"),
    takeIt = offered.querySelector("button");
  const named = (code) => [...panel.options].find((option) => option.value === code)?.textContent ?? code;
  let tapped = "";
  const say = (words, code) => {
    offeredWords.textContent = words;
    tapped = code;
    takeIt.hidden = !code;
    takeIt.textContent = code ? `Take ${named(code)}` : "";
    offered.hidden = !words;
  };
  const takePanel = (code) => {
    panel.value = code;
    showPanel();
    keep();
    judge();
  };
  takeIt.addEventListener("click", () => {
    takePanel(tapped);
    say("", "");
  });
  svg.addEventListener("click", (event) => {
    if (editor.corners.length !== 1 || event.target.closest("[data-handle]")) return;
    const code = document
      .elementsFromPoint(event.clientX, event.clientY)
      .map((each) => each.closest("[data-panel]")?.dataset.panel)
      .find((each) => rings[each]);
    if (!code || code === panel.value) {
      say("", "");
      return;
    }
    if (panel.value) {
      say(`The first corner lies on ${named(code)}.`, code);
      return;
    }
    takePanel(code);
    say(`Taken from the first corner: ${named(code)}. Choose another above if that is not it.`, "");
  });
  panel.addEventListener("change", () => {
    say("", "");
    showPanel();
    if (rings[panel.value] && !editor.corners.length) zoomTo(boundsOf(rings[panel.value].outline), 0.06);
    judge();
  });
  text.addEventListener("input", () => {
    editor.set(typed());
    keep();
    judge();
  });
  form.addEventListener("input", (event) => {
    keep();
    if (event.target.closest(".evrow")) judge();
  });
  // thrown away once it is stored
  form.addEventListener("submit", () => sessionStorage.setItem("yellow-sill-sent", draftKey));
  document.querySelector("[data-undo]").addEventListener("click", () => editor.undo());
  document.querySelector("[data-remove]").addEventListener("click", () => editor.remove());

  // a reload in mid-edit brings back what was drawn; what was left here earlier is offered, never put in by itself
  const restore = (draft) => {
    for (const [name, value] of JSON.parse(draft)) if (form.elements[name]) form.elements[name].value = value;
    editor.set(typed(), false);
  };
  const leftKey = `${draftKey}-left`,
    offer = form.querySelector("[data-left]"),
    mine = !form.querySelector(".fault, [data-conflict]") && sessionStorage.getItem(draftKey);
  if (mine && performance.getEntriesByType("navigation")[0]?.type === "reload") restore(mine);
  else if (mine) {
    sessionStorage.setItem(leftKey, mine);
    sessionStorage.removeItem(draftKey);
  }
  const left = sessionStorage.getItem(leftKey),
    said = left && JSON.parse(left).filter(([, value]) => value);
  const settled = () => {
    offer.hidden = true;
    sessionStorage.removeItem(leftKey);
  };
  if (
    offer &&
    said?.some(
      ([name]) => name === "corners" || name.endsWith("_result") || name === "title" || name === "note",
    )
  ) {
    const drawn = parse(said.find(([name]) => name === "corners")?.[1] || "").length,
      looks = said.filter(([name]) => name.endsWith("_result")).length;
    offer.querySelector("[data-left-words]").textContent =
      `a drawing with ${drawn} corners and ${looks} looks that was not stored.`;
    offer.querySelector("[data-left-take]").addEventListener("click", () => {
      restore(left);
      settled();
      keep();
      showPanel();
      judge();
    });
    offer.querySelector("[data-left-drop]").addEventListener("click", settled);
    offer.hidden = false;
  }
  showPanel();
  const focus = svg.dataset.focus
    ? JSON.parse(svg.dataset.focus)
    : rings[panel.value] && new URLSearchParams(location.search).has("panel")
      ? boundsOf(rings[panel.value].outline)
      : null;
  if (focus) zoomTo(focus, svg.dataset.focus ? 0.7 : 0.06);
  judge();
}

const svg = document.querySelector("[data-finding-board]"),
  form = document.querySelector("[data-finding-form]");
if (svg && form) mount(svg, form);
