"""What welding and protection are asked in the benches, and simulated patches in which the found order is held against a straight run."""

import random
from collections.abc import Callable
from typing import Any


def weld_work() -> list[tuple[str, Callable[[], object], float]]:
    """Tacks in order, the pull of four orders, the faces and boxes of 60 repairs: name, what is called, limit in ms."""
    from yellow_sill.core.calc import calculate

    ring = [[0, 0], [400, 0], [400, 300], [0, 300]]
    seam = {"path": ring, "closed": True, "thickness_mm": 0.9, "tack_energy_J": 300}
    pull = pull_of_four()
    faces, boxes = faces_of_60(), boxes_of_60()
    return [
        ("tacks, 200 in order", lambda: calculate("tacks", seam), 200),
        ("distortion, four orders of 200 tacks", lambda: calculate("distortion", pull), 1000),
        ("protect_check, 60 repairs", lambda: calculate("protect_check", faces), 50),
        ("closing_check, 60 repairs", lambda: [calculate("closing_check", box) for box in boxes], 50),
    ]


def pull_of_four() -> dict[str, Any]:
    """A patch of 400 x 300 mm with 200 tacks in four orders."""
    count, rim = 200, [(0, 0), (400, 0), (400, 300), (0, 300)]
    tacks = [_along(rim, 1400 * k / count) for k in range(count)]
    run = list(range(1, count + 1))
    opposite = [n for k in range(1, 51) for n in (k, k + 100, k + 50, k + 150)]
    skip = [n for first in range(1, 9) for n in range(first, count + 1, 8)]
    mixed = run[:]
    random.Random(3).shuffle(mixed)
    orders = {"straight run": run, "opposite corners": opposite, "every eighth": skip, "mixed": mixed}
    return {
        "patch": rim,
        "tacks": tacks,
        "orders": [{"name": name, "tacks": numbers} for name, numbers in orders.items()],
        "thickness_mm": 0.9,
        "energy_j": 300,
    }


def _along(rim: list[tuple[int, int]], far: float) -> list[float]:
    """A place on a rectangle's rim, so far along it."""
    for (u0, v0), (u1, v1) in zip(rim, [*rim[1:], rim[0]], strict=True):
        long = abs(u1 - u0) + abs(v1 - v0)
        if far <= long:
            return [u0 + (u1 - u0) * far / long, v0 + (v1 - v0) * far / long]
        far -= long
    return [0.0, 0.0]


def faces_of_60() -> dict[str, Any]:
    """The faces of 60 repairs of three sheets, each with its outside, inside and a flange."""
    coats = [{"kind": "epoxy primer", "cured": None}, {"kind": "colour", "in_window": True}]
    return {
        "faces": [
            {"name": f"R-{repair:02d} S{sheet} {side}", "surface": surface, "coats": coats[: sheet % 3], "weld_to_come": sheet == 0, "closes": True}
            for repair in range(60) for sheet in range(3) for side, surface in (("out", "outer"), ("in", "cavity"), ("edge", "mating"))
        ],
    }  # fmt: skip


def boxes_of_60() -> list[dict[str, Any]]:
    """60 boxes of six faces and five pockets in a row."""
    pockets = [{"name": f"P{n}", "to": [f"P{n + 1}" if n < 4 else "outside"]} for n in range(5)]
    return [
        {"box": f"Box {n}", "faces": [{"name": f"face {k}", "finished": k != 3, "area_m2": 0.1} for k in range(6)], "pockets": pockets}
        for n in range(60)
    ]  # fmt: skip


def behind(rng: random.Random, worlds: int) -> list[tuple]:
    """Simulated patches in which the straight run moves an edge less than the found order."""
    from yellow_sill.core.weld.distortion import DistortionRequest, distortion
    from yellow_sill.core.weld.heat import Plate
    from yellow_sill.core.weld.orders import along_edge, orders_beside
    from yellow_sill.core.weld.tacks import TackRequest, tack_order

    found = []
    for _ in range(worlds):
        wide, high, thick = rng.uniform(60, 350), rng.uniform(50, 250), rng.choice((0.8, 0.9, 1.0, 1.2, 1.5))
        lean = lambda: rng.uniform(-20, 20)  # noqa: E731
        corners = [[0, 0], [wide, lean()], [wide + lean(), high], [lean(), high]]
        energy = 430 * thick**2
        plan = tack_order(
            TackRequest.read(
                {"path": corners, "closed": True, "thickness_mm": thick, "tack_energy_J": energy}
            )
        )
        places, numbers = along_edge(corners, [tack.at for tack in plan.tacks])
        plate = Plate(thickness_mm=thick, energy_j=energy, cooling="still", ambient_c=15.0)
        before = [tack.plate_C_before for tack in plan.tacks]
        orders = orders_beside([(u, v) for u, v in places], numbers, plate, before)
        told = distortion(DistortionRequest.read({
            "patch": corners, "tacks": places, "orders": [order.model_dump() for order in orders], "thickness_mm": thick, "energy_j": energy,
            "clamps": rng.choice((0, 2, 4, 8)),
        })).orders  # fmt: skip
        if told[0].most_mm > told[-1].most_mm + 0.02:
            found.append((round(wide), round(high), thick, told[0].most_mm, told[-1].most_mm))
    return found


def pulls(worlds: int = 600) -> int:
    """Print how often the found order is behind; the exit code is 1 where it ever is."""
    found = behind(random.Random(5), worlds)
    print(f"{worlds} patches: the found order moves an edge more than the straight run in {len(found)}")
    for each in found[:10]:
        print("  {} x {} mm, {} mm: {} against {} mm".format(*each))
    return 1 if found else 0
