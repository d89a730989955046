/**
 * The shell as a structure, on a turntable or over a flat view: members drawn by what is left of them
 * and what they carry now, braces, stands, and how it gives, played once.
 * A tap on a bar or a panel offers what to try; two dots try a brace. Trying is an address, so that
 * back, reload and a second tab work.
 */
import { el, n1, pageData } from "frame/svg.js";
import { bodyLines, turntable } from "frame/turn.js";
import { Viewport } from "frame/viewport.js";

const PLAY_MS = 2600,
  SWINGS = 2,
  LEAST_CORE = 0.15,
  CORE = 0.62,
  DOT = 4,
  HIT = 15;
const AXIS = { x: 0, y: 1, z: 2 };
/** A place in space in a view's plane. */
const inView = (place, axes) => axes.map((axis) => place[AXIS[axis.at(-1)]] * (axis[0] === "-" ? -1 : 1));

export function mount(svg) {
  const { nodes, members, braces, stands, worst, verdict, body, axes, deep } = pageData("hold-data"),
    taps = pageData("tap-data");
  let swing = 0,
    first = null;
  const placed = (name) => nodes[name].at.map((v, i) => v + nodes[name].swing[i] * swing);
  const line = (a, b) => `M${n1(a[0])} ${n1(a[1])}L${n1(b[0])} ${n1(b[1])}`;

  const bar = (layer, a, b, member, k) => {
    const d = line(a, b),
      wide = Math.max(3, member.size * k);
    const group = el(
      "g",
      { class: "hm" },
      el("title", {}, member.idle ? `${member.told}; carries nothing` : member.told),
    );
    if (member.idle || !member.there) group.append(el("path", { class: "hm-gone", d }));
    else {
      const less = member.less ? " is-less" : "";
      group.append(
        el("path", { class: `hm-edge${less}`, d, "stroke-width": n1(wide + 2) }),
        el("path", { class: `hm-fill${less}`, d, "stroke-width": n1(wide) }),
      );
      if (member.carries >= LEAST_CORE)
        group.append(
          el("path", { class: "hm-core", d, "stroke-width": n1(Math.max(1, wide * member.carries * CORE)) }),
        );
    }
    group.append(el("path", { class: "hm-hit", d, "stroke-width": Math.max(18, wide) }));
    group.addEventListener("click", (event) => {
      event.stopPropagation();
      const box = svg.getBoundingClientRect(),
        p = [event.clientX - box.left, event.clientY - box.top];
      const along = [b[0] - a[0], b[1] - a[1]],
        share =
          ((p[0] - a[0]) * along[0] + (p[1] - a[1]) * along[1]) / Math.max(1, along[0] ** 2 + along[1] ** 2);
      const [from, to] = member.ends.map((name) => nodes[name].at),
        t = Math.max(0.02, Math.min(0.98, share));
      offer(
        p,
        member.parts,
        from.map((v, i) => v + (to[i] - v) * t),
      );
    });
    layer.append(group);
  };

  const paint = (layer, at, k) => {
    const bars = members.map((member) => ({ member, ends: member.ends.map((name) => at(placed(name))) }));
    bars.sort((p, q) => q.ends[0][2] + q.ends[1][2] - p.ends[0][2] - p.ends[1][2]);
    for (const {
      member,
      ends: [a, b],
    } of bars)
      bar(layer, a, b, member, k);
    for (const [from, to, kept] of braces) {
      const d = line(at(placed(from)), at(placed(to)));
      if (!kept) layer.append(el("path", { class: "hm-brace-edge", d }));
      layer.append(
        el(
          "path",
          { class: kept ? "hm-brace is-kept" : "hm-brace", d },
          el("title", {}, `Brace: ${nodes[from].name} to ${nodes[to].name}`),
        ),
      );
    }
    for (const name of Object.keys(stands)) {
      const [x, y] = at(nodes[name].at).map(n1);
      layer.append(
        el(
          "path",
          { class: "hm-stand", d: `M${x} ${y}l-7 18h14z` },
          el(
            "title",
            {},
            `Stand: ${nodes[name].name}${stands[name] == null ? "" : `, ${Math.round(stands[name])} N`}`,
          ),
        ),
      );
    }
    const dots = Object.entries(nodes)
      .filter(([, node]) => node.seen)
      .map(([name, node]) => ({ name, node, px: at(placed(name)) }));
    for (const { name, node, px } of dots.sort((p, q) => q.px[2] - p.px[2])) {
      // the nearest on top: it is the one that is meant
      const [x, y] = px.map(n1),
        dot = el(
          "g",
          { class: `hm-dot${first === name ? " is-first" : ""}`, "data-node": name },
          el("title", {}, node.datum ? `${node.name}, datum ${node.datum}` : node.name),
        );
      dot.append(
        el("circle", { class: "hm-dot-mark", cx: x, cy: y, r: first === name ? DOT + 4 : DOT }),
        el("circle", { class: "hm-dot-hit", cx: x, cy: y, r: HIT }),
      );
      dot.addEventListener("click", (event) => {
        event.stopPropagation();
        joined(name);
      });
      layer.append(dot);
    }
    if (verdict !== "HELD" && nodes[worst]?.seen) {
      const [x, y] = at(placed(worst)).map(n1);
      layer.append(
        el("circle", { class: "hm-worst", cx: x, cy: y, r: 13 }),
        el("text", { class: "hm-lab", x: x + 18, y: y + 5 }, nodes[worst].name),
      );
    }
  };

  // what is tried is the form's content, changed a little, as an address
  const go = (change) => {
    const query = new URLSearchParams(new FormData(document.querySelector("#try-form")));
    query.delete("from");
    query.delete("to");
    change(query);
    location.assign(`?${query}`);
  };
  const without = (query, name, drop) => {
    const rest = query.getAll(name).filter((value) => !drop(value));
    query.delete(name);
    for (const value of rest) query.append(name, value);
  };
  const asFound = (query, part) => {
    without(query, "out", (value) => value === part);
    without(query, "new", (value) => value === part);
    without(query, "cut", (value) => taps.parts[part].panels.includes(value.split(":")[1]));
  };
  const joined = (name) => {
    const from = first;
    first = from === name ? null : name;
    if (from && from !== name) return go((query) => query.append("brace", `${from}-${name}`));
    pop.hidden = true;
    if (first) tell(`Brace from the ${nodes[name].name}: tap the place it goes to.`);
    draw();
  };

  const pop = document.querySelector(".hold-pop");
  const tell = (words) => {
    pop.replaceChildren(Object.assign(document.createElement("p"), { textContent: words }));
    pop.style.cssText = "left:12px;top:64px";
    pop.hidden = false;
  };
  const close = () => {
    pop.hidden = true;
  };
  const button = (words, act, on) => {
    const node = Object.assign(document.createElement("button"), {
      type: "button",
      className: on ? "btn btn-ink is-on" : "btn btn-ink",
      textContent: words,
    });
    node.addEventListener("click", act);
    return node;
  };
  /** Where a part is cut when it was tapped at a place in space: a drawn panel of it and the place in that view. */
  const cutAt = (part, place) => {
    for (const code of taps.parts[part].panels) {
      const view = taps.panels[code]?.[0];
      if (view) return [view, code, ...inView(place, taps.views[view])];
    }
    return null;
  };
  const offer = ([x, y], parts, place, drawn = null) => {
    const rows = parts.map((part) => {
      const told = taps.parts[part],
        row = document.createElement("section"),
        cut = drawn ?? cutAt(part, place);
      row.append(Object.assign(document.createElement("b"), { textContent: told.name }));
      row.append(
        button(
          "Out now",
          () =>
            go((query) => {
              asFound(query, part);
              query.append("out", part);
            }),
          told.state === "out",
        ),
      );
      if (cut)
        row.append(
          button("Cut to here", () =>
            go((query) => {
              asFound(query, part);
              query.append("cut", `${cut[0]}:${cut[1]}:${Math.round(cut[2])}:${Math.round(cut[3])}`);
            }),
          ),
        );
      row.append(
        button(
          "New in",
          () =>
            go((query) => {
              asFound(query, part);
              query.append("new", part);
            }),
          told.state === "new",
        ),
      );
      if (told.state || taps.cuts.some(([, code]) => told.panels.includes(code)))
        row.append(button("As found", () => go((query) => asFound(query, part))));
      return row;
    });
    pop.replaceChildren(...rows, button("Close", close));
    pop.hidden = false;
    const field = pop.parentElement.getBoundingClientRect();
    const inside = (at, room) => Math.max(8, Math.min(at + 10, room - 8));
    pop.style.left = `${inside(x, field.width - pop.offsetWidth)}px`;
    pop.style.top = `${inside(y, field.height - pop.offsetHeight)}px`;
    pop.querySelector("button").focus();
  };
  document.addEventListener("keydown", (event) => {
    if (event.key === "Escape") {
      close();
      if (first) {
        first = null;
        draw();
      }
    }
  });

  let draw;
  if (axes) {
    const viewport = new Viewport(svg, { bounds: JSON.parse(svg.dataset.bounds), pad: [14, 70, 14, 205] }),
      layer = viewport.overlay.appendChild(el("g", { class: "is-over" }));
    draw = () => {
      layer.replaceChildren();
      paint(layer, (place) => [...viewport.px(...inView(place, axes)), place[deep[0]] * deep[1]], viewport.k);
    };
    viewport.onChange(draw);
    const of = (code) => Object.keys(taps.parts).filter((part) => taps.parts[part].panels.includes(code));
    for (const path of svg.querySelectorAll("[data-panel]")) {
      const states = of(path.dataset.panel).map((part) => taps.parts[part].state);
      if (states.includes("out")) path.classList.add("hp-out");
      if (states.includes("new")) path.classList.add("hp-new");
      path.addEventListener("click", (event) => {
        if (viewport.moved > 6) return;
        const at = viewport.at(event),
          parts = of(path.dataset.panel);
        if (!parts.length)
          return tell(
            `${path.dataset.panel} counts for nothing in the hold. A panel of your own can be tied to it under Braces.`,
          );
        offer(at, parts, null, [
          new URLSearchParams(location.search).get("view"),
          path.dataset.panel,
          ...viewport.mm(...at),
        ]);
      });
    }
  } else {
    const cloud = [...Object.values(nodes).map((node) => node.at), ...body.flat()];
    draw = turntable(
      svg,
      cloud,
      (layer, at, { k, turn }) => {
        bodyLines(layer, body, at, turn);
        paint(layer, at, k);
      },
      "hold",
    );
    svg.addEventListener("click", (event) => {
      if (event.target === svg) close();
    });
  }

  document.querySelector("[data-play]")?.addEventListener("click", (event) => {
    const play = event.currentTarget,
      start = performance.now(),
      still = matchMedia("(prefers-reduced-motion: reduce)").matches;
    play.disabled = true;
    const step = (now) => {
      const share = Math.min(1, (now - start) / PLAY_MS);
      swing = share === 1 ? 0 : still ? 1 : Math.sin(share * SWINGS * 2 * Math.PI);
      draw();
      if (share < 1) requestAnimationFrame(step);
      else play.disabled = false;
    };
    requestAnimationFrame(step);
  });
}

for (const svg of document.querySelectorAll("[data-hold-board]")) mount(svg);
