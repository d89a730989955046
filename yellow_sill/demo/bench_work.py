"""What the core is asked in the benches: findings, cuts, structures and networks made up by number."""

import math
import random
from collections.abc import Callable
from functools import partial
from typing import Any

#: How a repair is opened in the benches, but for its day.
USUAL_REPAIR: dict[str, Any] = {
    "title": "",
    "margin_mm": 12,
    "corner_radius_mm": 10,
    "web_mm": 40,
    "by": "bench",
}


def blob(rng: random.Random, x: float, y: float, radius: float) -> list[list[float]]:
    angles = [i * math.tau / 12 for i in range(12)]
    return [
        [x + radius * rng.uniform(0.7, 1) * math.cos(a), y + radius * rng.uniform(0.7, 1) * math.sin(a)]
        for a in angles
    ]


def box_of(side_mm: float) -> list[list[float]]:
    return [[0.0, 0.0], [side_mm, 0.0], [side_mm, side_mm], [0.0, side_mm]]


def core_work() -> list[tuple[str, Callable[[], object], float]]:
    """All of the core commands that are timed: name, what is called, limit in ms."""
    return [
        *cut_work(),
        *hold_work(),
        *datum_work(),
        *patch_work(),
        *fold_work(),
        *survey_work(),
        *shell_work(),
    ]


def shell_work() -> list[tuple[str, Callable[[], object], float]]:
    """Every body type drawn from its dimensions in all its views, and what is read off the sheets of two of them."""
    from yellow_sill.core.shell import BODY_TYPES, build_shell
    from yellow_sill.core.shell.cavities import cavities_of
    from yellow_sill.core.shell.edges import edges_of
    from yellow_sill.core.shell.lie import Body
    from yellow_sill.core.shell.sections import section

    saloon = build_shell("saloon-2-door-unitary", {}).views
    pickup = build_shell("pickup-ladder-chassis", {}).views
    read = Body(saloon)
    read.form.half(0, 0)
    return [
        *((f"body: {kind.label}", partial(build_shell, kind.name, {}), 150) for kind in BODY_TYPES.values()),
        ("cavities, two-door saloon", lambda: cavities_of(Body(saloon)), 50),
        ("cavities, pick-up", lambda: cavities_of(Body(pickup)), 50),
        ("section across, two-door saloon", lambda: section(read, "x", 1300), 50),
        ("edges of a sill, stretch by stretch", lambda: edges_of(saloon[0], "L-SILL"), 50),
    ]


def datum_work() -> list[tuple[str, Callable[[], object], float]]:
    """A network of 40 points, candidates to read next, the shell's shape, its stands."""
    from yellow_sill.core.calc import calculate

    network = datum_network()
    shape = {"points": [p | {"place": p["nominal"]} for p in bare(network)]}
    return [
        ("adjust, 40 points, 300 readings, 5 silly", lambda: calculate("adjust", network), 150),
        ("next_reading, 800 candidates", lambda: calculate("next_reading", next_asked(network)), 300),
        ("shape, 40 points", lambda: calculate("shape", shape), 100),
        ("level, 4 stands", lambda: calculate("level", LEVEL), 100),
    ]


def patch_work() -> list[tuple[str, Callable[[], object], float]]:
    """Cuts round 30 findings, patterns of 4 flanges and of 200 edges, tacks."""
    from yellow_sill.core.calc import calculate

    rng = random.Random(3)
    panel = {"outline": [[0, 0], [2000, 0], [2000, 1000], [0, 1000]], "thickness_mm": 1.0}
    findings = [
        {
            "id": i,
            "layer": 1,
            "outline": blob(rng, rng.uniform(60, 1900), rng.uniform(60, 900), rng.uniform(5, 50)),
        }
        for i in range(30)
    ]
    asked = {"panel": panel, "findings": findings}
    square = [[0, 0], [300, 0], [300, 200], [0, 200]]
    flange = {"treatment": "flange", "width_mm": 20, "angle_deg": 90, "inside_radius_mm": 1}
    flanged = {"outline": square, "thickness_mm": 1, "edges": [flange | {"edge": i} for i in range(4)]}
    round_patch = {"outline": ring_of_200(), "thickness_mm": 1, "gap_mm": 0.8}
    seam = {"path": [[0, 0], [1250, 0]], "thickness_mm": 1, "tack_energy_J": 300}
    long_seam = seam | {"path": box_of(2500.0), "closed": True, "pitch_mm": 7}
    return [
        ("cutlines, 30 findings, rectangle", lambda: calculate("cutlines", asked), 50),
        ("cutlines, 30 findings, hull", lambda: calculate("cutlines", asked | {"style": "hull"}), 50),
        ("develop, 4 flanges", lambda: calculate("develop", flanged), 50),
        ("develop, 200 edges", lambda: calculate("develop", round_patch), 50),
        ("tacks, 200 tacks", lambda: calculate("tacks", seam), 50),
        ("tacks, 1432 tacks", lambda: calculate("tacks", long_seam), 500),
        ("island_heat, 100 tacks", lambda: calculate("island_heat", island_of_100()), 1000),
    ]


def island_of_100() -> dict[str, Any]:
    """A patch of 400 x 300 mm with a hundred tacks, each far from the last."""
    rim = [(u, 0) for u in range(0, 400, 14)] + [(400, v) for v in range(0, 300, 14)]
    rim += [(400 - u, 300) for u, _ in rim[:29]] + [(0, v) for v in range(299, 0, -14)]
    tacks = [{"at": rim[(k * 37) % len(rim)], "start_s": 6 * k} for k in range(100)]
    return {
        "patch": [[0, 0], [400, 0], [400, 300], [0, 300]],
        "tacks": tacks,
        "thickness_mm": 0.9,
        "energy_j": 300,
    }


def fold_work() -> list[tuple[str, Callable[[], object], float]]:
    """A tray of 12 bends laid flat, 10 bends put in order, a curved edge and one traced by hand."""
    from yellow_sill.core.calc import calculate

    corners = [[300, 0], [300, 220], [0, 220], [0, 0]]
    tray: dict[str, Any] = {
        "outline": [{"to": at} for at in corners],
        "thickness_mm": 1.0,
        "inside_radius_mm": 1.0,
    }
    lipped = [{"name": f"{edge}1", "on": [edge], "kind": "return", "legs_mm": [40, 12]} for edge in "ABCD"]
    ears = [{"name": f"{edge}{end}", "on": [f"{edge}1.{end}"], "legs_mm": [10]} for edge in "BD" for end in ("start", "finish")]  # fmt: skip
    plain = [run | {"kind": "flange", "legs_mm": [40]} if run["on"][0] in "BD" else run for run in lipped]
    crown = [
        [-((u - 190) ** 2 + (v - 190) ** 2) / 2000 for u in range(0, 400, 20)] for v in range(0, 400, 20)
    ]
    path = [
        [-200, -150],
        *([150 * math.cos(a / 40 - 1.57), 150 * math.sin(a / 40 - 1.57)] for a in range(63)),
    ]
    return [
        ("pattern, 12 bends", lambda: calculate("pattern", tray | {"runs": [*lipped, *ears]}), 20),
        ("fold_order, 10 bends", lambda: calculate("fold_order", {"part": tray | {"runs": [*plain, *ears]}}), 300),
        ("shape_check, 400 points", lambda: calculate("shape_check", {"heights": crown, "step_mm": [20, 20]}), 500),
        ("curved_flange, an arc", lambda: calculate("curved_flange", {"height_mm": 20, "radius_mm": 300, "angle_deg": 120}), 5),
        ("curved_flange, a traced edge", lambda: calculate("curved_flange", {"height_mm": 20, "path": path}), 5),
        ("nest, 20 patterns on two sheets", lambda: calculate("nest", twenty_on_two()), 5000),
    ]  # fmt: skip


def twenty_on_two() -> dict[str, Any]:
    """Twenty patterns that take three quarters of two sheets."""
    rng = random.Random(7)
    parts = []
    for number in range(20):
        u, v = rng.uniform(220, 900), rng.uniform(160, 560)
        corners = [
            [[0, 0], [u, 0], [u, v], [0, v]],
            [[0, 0], [u, 0], [u, v * 0.45], [u * 0.4, v * 0.5], [u * 0.4, v], [0, v]],
            [[0, 0], [u, 0], [u * 0.8, v], [u * 0.15, v * 0.9]],
        ]
        parts.append({"name": f"P{number}", "outline": corners[number % 3], "thickness_mm": 1.0})
    sheet = {"thickness_mm": 1.0, "length_mm": 2000, "width_mm": 1000}
    return {"parts": parts, "stock": [sheet | {"name": "S1"}, sheet | {"name": "S2"}]}


def ring_of_200() -> list[list[float]]:
    return [
        [400 + 300 * math.cos(i * math.tau / 200), 400 + 300 * math.sin(i * math.tau / 200)]
        for i in range(200)
    ]


def survey_work() -> list[tuple[str, Callable[[], object], float]]:
    """Growth over 300 findings, what was looked at of 30 panels, 200 corners traced on a photo."""
    from yellow_sill.core.calc import calculate

    rng = random.Random(3)
    sizes = [
        {"stage": "seen", "area_mm2": 5000, "perimeter_mm": 300},
        {"stage": "opened", "area_mm2": 8000, "perimeter_mm": 400},
    ]
    growing = [{"id": i, "extents": sizes[: 1 + (i % 4 == 0)]} for i in range(300)]
    covered = [
        {
            "code": f"P{i}",
            "outline": [[0, 0], [400, 0], [400, 200], [0, 200]],
            "looked": [blob(rng, rng.uniform(0, 400), rng.uniform(0, 200), 40) for _ in range(10)],
        }
        for i in range(30)
    ]
    photo = {
        "reference": [[100, 100], [300, 110], [310, 260], [90, 250]],
        "size_mm": [85.6, 54],
        "trace": ring_of_200(),
    }
    return [
        ("growth, 300 findings", lambda: calculate("growth", {"findings": growing}), 50),
        ("coverage, 30 panels, 300 regions", lambda: calculate("coverage", {"panels": covered}), 200),
        ("rectify, 200 corners", lambda: calculate("rectify", photo), 50),
    ]


def cut_work() -> list[tuple[str, Callable[[], object], float]]:
    """A panel with 40 findings on three layers, 12 rows of spot welds, 20 keep-outs."""
    from yellow_sill.core.calc import calculate

    rng, width, height = random.Random(5), 2000, 600

    def hole() -> list[list[float]]:
        x, y = rng.uniform(20, width - 100), rng.uniform(20, height - 60)
        return [[x, y], [x + 40, y], [x + 40, y + 30], [x, y + 30]]

    order = ["outer", "middle", "inner"]
    panel = {"outline": [[0, 0], [width, 0], [width, height], [0, height]], "thickness_mm": 1}
    findings = [{"id": i, "layer": order[i % 3], "outline": hole()} for i in range(40)]
    rows = [{"name": f"row {i}", "path": [[0, 40 + 45 * i], [width, 40 + 45 * i]]} for i in range(12)]
    lines = [
        {"name": f"swage {i}", "kind": "swage", "path": [[0, 20 + 50 * i], [width, 20 + 50 * i]]}
        for i in range(11)
    ]
    around = {
        "lines": lines,
        "rows": rows,
        "keep_outs": [{"name": f"keep {i}", "outline": hole()} for i in range(20)],
    }
    sheets = [
        {"name": "skin", "thickness_mm": 1, "stays": False},
        {"name": "floor", "thickness_mm": 1, "stays": True},
    ]
    spots = [{"id": row["name"], "path": row["path"], "sheets": sheets} for row in rows]
    seams = [[[x, 0], [x, height]] for x in (500, 1000, 1500)]
    asked = {
        "panel": panel,
        "findings": findings,
        "rows": spots,
        "seams": seams,
        "stiff": [line["path"] for line in lines],
        "whole": {"price": 90, "days": 5},
    }
    deep, stack = _deep(asked, order, around)
    sheets = [{key: value for key, value in sheet.items() if key != "rows"} for sheet in stack]
    return [
        (
            "cuts_through, three sheets, what is round them",
            lambda: calculate("cuts_through", {"sheets": sheets}),
            200,
        ),
        ("cut_options, three sheets, 40 findings, 12 rows", lambda: calculate("cut_options", deep), 200),
        (
            "cutlines, three layers, what is round them",
            lambda: calculate(
                "cutlines", {"panel": panel, "findings": findings, "layer_order": order, "around": around}
            ),
            200,
        ),
        ("cut_options, 40 findings, 12 rows", lambda: calculate("cut_options", asked), 200),
        ("spot_rows, 12 rows", lambda: calculate("spot_rows", {"rows": spots}), 200),
    ]


def _deep(asked: dict, order: list[str], around: dict) -> tuple[dict, list[dict]]:
    """The same dealt over three sheets: asked of the foremost, and the sheets."""
    stack = []
    for i, name in enumerate(order):
        third = around | {"rows": around["rows"][i::3], "keep_outs": around["keep_outs"][i::3]}
        mine = [each for each in asked["findings"] if each["layer"] == name]
        rows = asked["rows"][i::3]
        stack.append({"name": name, "panel": asked["panel"], "findings": mine, "around": third, "rows": rows})
    front, *behind = stack
    own = {name: front[name] for name in ("findings", "around", "rows")}
    return asked | own | {"behind": behind}, stack


def hold_work() -> list[tuple[str, Callable[[], object], float]]:
    """A whole saloon: the first state, another state, brace advice, orders of eight and of twelve jobs."""
    from yellow_sill.core.hold.asked import HoldRequest
    from yellow_sill.core.hold.braces import BraceRequest, advise
    from yellow_sill.core.hold.order import OrderRequest, removal_order
    from yellow_sill.core.hold.unitary import saloon_structure
    from yellow_sill.core.hold.verdict import Judge, hold

    whole = saloon_structure() | {"stands": ["RBL", "RBR", "RHL", "RHR"]}
    request, tubes = HoldRequest.read(whole), BraceRequest.read(whole)
    judge, sides = (
        Judge(request),
        [f"{part}_{hand}" for hand in "LR" for part in ("floor", "sill_inner", "sill_outer", "apost_outer")],
    )
    gone = {
        name: part.model_copy(update={"present": name not in sides[:3]})
        for name, part in request.parts.items()
    }
    more = [*sides, "boot_floor", "heelboard", "quarter_L", "inner_wing_L"]
    eight, twelve = (
        OrderRequest.read(whole | {"jobs": [{"id": name, "parts": [name]} for name in names]})
        for names in (sides, more)
    )
    return [
        ("hold, first state of a saloon", lambda: hold(request), 100),
        ("hold, another state, with its softest way", lambda: judge.judge(gone, []), 20),
        ("hold, another state, verdict only", lambda: judge.judge(gone, [], modes=False), 10),
        ("braces, one side out", lambda: advise(judge, gone, [], tubes), 1000),
        ("removal_order, 8 jobs", lambda: removal_order(eight), 5000),
        ("removal_order, 12 jobs", lambda: removal_order(twelve), 10000),
    ]


LEVEL = {
    "flats": [{"id": str(i), "xy": [x, y], "height_mm": 700 + i} for i, (x, y) in enumerate(((-210, -376), (-210, 376), (1840, -486), (1840, 486)))],
    "stands": [{"id": n, "xy": xy} for n, xy in (("LF", [560, -348]), ("RF", [560, 348]), ("LR", [1660, -492]), ("RR", [1660, 492]))], "packers_mm": [1, 2, 3, 5, 10, 20],
}  # fmt: skip


def datum_network() -> dict:
    """40 points and 300 readings, five of them silly."""
    rng = random.Random(3)
    points, places, readings = [], [], []
    for i in range(40):
        nominal = [-500 + i // 2 * 180, (-1) ** i * rng.uniform(300, 700), rng.uniform(150, 1200)]
        trusted = i in (16, 17, 30, 31)
        points.append({"id": str(i), "nominal": nominal, "trusted": trusted})
        places.append(nominal if trusted else [v + rng.gauss(0, 2) for v in nominal])
        readings.append(
            {
                "id": f"h{i}",
                "kind": "height",
                "points": [str(i)],
                "value": places[i][2] + rng.gauss(0, 0.5),
                "sigma_mm": 0.5,
            }
        )
    pairs = [(a, b) for a in range(40) for b in range(a) if math.dist(places[a], places[b]) < 3000]
    for a, b in rng.sample(pairs, 260):
        value = math.dist(places[a], places[b]) + rng.gauss(0, 1)
        readings.append(
            {
                "id": f"d{a}-{b}",
                "kind": "distance",
                "points": [str(a), str(b)],
                "value": round(value, 1),
                "sigma_mm": 1,
            }
        )
    for k in range(5):
        readings[45 + 40 * k]["value"] += rng.choice([-45, -18, 27, 90])
    return {"points": points, "readings": readings}


def bare(network: dict) -> list[dict]:
    return [{name: point[name] for name in ("id", "nominal")} for point in network["points"]]


def next_asked(network: dict) -> dict:
    """The same points with 60 readings taken, and 800 that could be."""
    ids = [point["id"] for point in network["points"]]
    candidates = [
        {"kind": "distance", "points": [a, b], "sigma_mm": 1} for i, a in enumerate(ids) for b in ids[:i]
    ] + [{"kind": "height", "points": [a], "sigma_mm": 0.7} for a in ids]
    return {"points": network["points"], "readings": network["readings"][:60], "candidates": candidates[:800]}
