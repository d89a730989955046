/**
 * A turntable: something in space, turned by drag, fingers or arrow keys. Plain projection, no
 * perspective: lengths stay comparable.
 */
import { el } from "frame/svg.js";

const START = [-0.62, 0.42],
  STEP = Math.PI / 36;

/**
 * Mount on an svg. `cloud` is every place [x, y, z] that must fit; `paint(layer, at, info)` draws,
 * with `at(place)` in px and depth. Returns redraw.
 * `remember`: a name under which the turn is kept while the tab is open, so that trying something does
 * not turn the shell back.
 */
export function turntable(svg, cloud, paint, remember = "") {
  const middle = [0, 1, 2].map(
    (i) => (Math.min(...cloud.map((p) => p[i])) + Math.max(...cloud.map((p) => p[i]))) / 2,
  );
  const reach = Math.max(...cloud.map((p) => Math.hypot(...p.map((v, i) => v - middle[i])))) || 1;
  let [turn, tilt, zoom] = JSON.parse((remember && sessionStorage.getItem(`turn-${remember}`)) || "null") ?? [
      ...START,
      1,
    ],
    shift = [0, 0],
    dragged = 0;
  const layer = svg.appendChild(el("g"));

  const project = ([x, y, z], k, cx, cy) => {
    const a = x - middle[0],
      b = y - middle[1],
      c = z - middle[2],
      s = Math.sin(turn),
      t = Math.cos(turn);
    const right = a * t - b * s,
      deep = a * s + b * t;
    return [
      cx + right * k,
      cy - (c * Math.cos(tilt) + deep * Math.sin(tilt)) * k,
      deep * Math.cos(tilt) - c * Math.sin(tilt),
    ];
  };
  const draw = () => {
    const { width, height } = svg.getBoundingClientRect();
    if (!width) return;
    const k = (Math.min(width, height * 1.35) / 2 / reach) * 1.04 * zoom,
      cx = width / 2 + shift[0],
      cy = height * 0.46 + shift[1];
    layer.replaceChildren();
    paint(layer, (p) => project(p, k, cx, cy), {
      width,
      height,
      k,
      turn,
      way: (v) =>
        project(
          v.map((each, i) => each + middle[i]),
          1,
          0,
          0,
        ),
    });
    svg.dataset.turn = `${turn.toFixed(3)} ${tilt.toFixed(3)}`;
    svg.dataset.ready = "";
    if (remember) sessionStorage.setItem(`turn-${remember}`, JSON.stringify([turn, tilt, zoom]));
  };
  const turned = (dx, dy) => {
    turn += dx;
    tilt = Math.max(-Math.PI / 2, Math.min(Math.PI / 2, tilt + dy));
    draw();
  };
  const nearer = (factor) => {
    zoom = Math.max(0.5, Math.min(8, zoom * factor));
    draw();
  };
  const back = () => {
    [turn, tilt] = START;
    zoom = 1;
    shift = [0, 0];
    draw();
  };

  const down = new Map();
  let gap = 0;
  svg.addEventListener("pointerdown", (event) => {
    down.set(event.pointerId, [event.clientX, event.clientY]);
    dragged = 0;
  });
  svg.addEventListener("pointermove", (event) => {
    const before = down.get(event.pointerId);
    if (!before) return;
    const here = [event.clientX, event.clientY];
    dragged += Math.hypot(here[0] - before[0], here[1] - before[1]);
    down.set(event.pointerId, here);
    if (dragged > 4 && !svg.hasPointerCapture(event.pointerId)) svg.setPointerCapture(event.pointerId);
    if (down.size === 2) {
      const [a, b] = [...down.values()],
        now = Math.hypot(a[0] - b[0], a[1] - b[1]);
      if (gap) nearer(now / gap);
      gap = now;
    } else if (event.shiftKey || event.buttons === 4) {
      shift = [shift[0] + here[0] - before[0], shift[1] + here[1] - before[1]];
      draw();
    } else if (dragged > 4) turned((here[0] - before[0]) / 160, (here[1] - before[1]) / 160);
  });
  for (const type of ["pointerup", "pointercancel"])
    svg.addEventListener(type, (event) => {
      down.delete(event.pointerId);
      gap = 0;
    });
  svg.addEventListener(
    "click",
    (event) => {
      if (dragged > 6) event.preventDefault();
    },
    true,
  );
  svg.addEventListener(
    "wheel",
    (event) => {
      event.preventDefault();
      nearer(Math.exp(-event.deltaY * 0.0016));
    },
    { passive: false },
  );
  svg.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const keys = {
      ArrowLeft: () => turned(-STEP, 0),
      ArrowRight: () => turned(STEP, 0),
      ArrowUp: () => turned(0, -STEP),
      ArrowDown: () => turned(0, STEP),
      "+": () => nearer(1.25),
      "=": () => nearer(1.25),
      "-": () => nearer(0.8),
      0: back,
    };
    if (keys[event.key]) {
      event.preventDefault();
      keys[event.key]();
    }
  });
  for (const button of svg.closest(".ys-board").querySelectorAll("[data-zoom]"))
    button.addEventListener("click", () =>
      button.dataset.zoom === "fit" ? back() : nearer(Number(button.dataset.zoom)),
    );
  new ResizeObserver(draw).observe(svg);
  draw();
  return draw;
}

/** Lines of the body, the side that faces away fainter and first. */
export function bodyLines(layer, body, at, turn) {
  const lines = body.map((line) => ({
    d: `M${line
      .map((p) =>
        at(p)
          .slice(0, 2)
          .map((v) => v.toFixed(1))
          .join(" "),
      )
      .join("L")}`,
    depth: (line.reduce((sum, p) => sum + p[1], 0) / line.length) * Math.cos(turn),
  }));
  for (const { d, depth } of lines.sort((a, b) => b.depth - a.depth))
    layer.append(el("path", { class: depth > 0 ? "tt-far" : "tt-near", d }));
}
