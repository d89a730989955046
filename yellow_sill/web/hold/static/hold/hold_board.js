/** The shell as a structure on a turntable: members drawn as thick as they are, braces, stands, and how it gives, played once. */
import { el, n1, pageData } from "frame/svg.js";
import { bodyLines, turntable } from "frame/turn.js";

const PLAY_MS = 2600, SWINGS = 2, LESS = 0.85;

export function mount(svg) {
  const { nodes, members, braces, stands, worst, verdict, body } = pageData("hold-data");
  let swing = 0;
  const placed = (name) => nodes[name].at.map((v, i) => v + nodes[name].swing[i] * swing);
  const bar = (layer, a, b, member, k) => {
    const d = `M${n1(a[0])} ${n1(a[1])}L${n1(b[0])} ${n1(b[1])}`, wide = Math.max(3, member.size * k);
    if (member.idle || member.share <= 0) return layer.append(el("path", { class: "hm-gone", d }, el("title", {}, `${member.told}; carries nothing`)));
    const less = member.share < LESS ? " is-less" : "";
    layer.append(el("g", {}, el("title", {}, member.told), el("path", { class: `hm-edge${less}`, d, "stroke-width": n1(wide + 2) }), el("path", { class: `hm-fill${less}`, d, "stroke-width": n1(wide) })));
  };
  const cloud = [...Object.values(nodes).map((node) => node.at), ...body.flat()];
  const draw = turntable(svg, cloud, (layer, at, { k, turn }) => {
    bodyLines(layer, body, at, turn);
    const bars = members.map((member) => ({ member, ends: member.ends.map((name) => at(placed(name))) }));
    bars.sort((p, q) => q.ends[0][2] + q.ends[1][2] - p.ends[0][2] - p.ends[1][2]);
    for (const { member, ends: [a, b] } of bars) bar(layer, a, b, member, k);
    for (const pair of braces) {
      const [a, b] = pair.slice(0, 2).map((name) => at(placed(name)));
      const d = `M${n1(a[0])} ${n1(a[1])}L${n1(b[0])} ${n1(b[1])}`, kept = pair[2];
      if (!kept) layer.append(el("path", { class: "hm-brace-edge", d }));
      layer.append(el("path", { class: kept ? "hm-brace is-kept" : "hm-brace", d }, el("title", {}, `Brace: ${nodes[pair[0]].name} to ${nodes[pair[1]].name}`)));
    }
    for (const name of Object.keys(stands)) {
      const [x, y] = at(nodes[name].at).map(n1);
      layer.append(el("path", { class: "hm-stand", d: `M${x} ${y}l-7 18h14z` }, el("title", {}, `Stand: ${nodes[name].name}${stands[name] == null ? "" : `, ${Math.round(stands[name])} N`}`)));
    }
    if (verdict !== "HELD" && nodes[worst]) {
      const [x, y] = at(placed(worst)).map(n1);
      layer.append(el("circle", { class: "hm-worst", cx: x, cy: y, r: 13 }), el("text", { class: "hm-lab", x: x + 18, y: y + 5 }, nodes[worst].name));
    }
  });
  document.querySelector("[data-play]")?.addEventListener("click", (event) => {
    const button = event.currentTarget, start = performance.now(), still = matchMedia("(prefers-reduced-motion: reduce)").matches;
    button.disabled = true;
    const step = (now) => {
      const share = Math.min(1, (now - start) / PLAY_MS);
      swing = share === 1 ? 0 : still ? 1 : Math.sin(share * SWINGS * 2 * Math.PI);
      draw();
      if (share < 1) requestAnimationFrame(step); else button.disabled = false;
    };
    requestAnimationFrame(step);
  });
}

for (const svg of document.querySelectorAll("[data-hold-board]")) mount(svg);
