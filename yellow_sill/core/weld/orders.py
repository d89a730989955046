"""Orders of tacks that people weld in, to be compared with the one that was found."""

import math
from collections.abc import Sequence

import numpy as np
from shapely.geometry import LineString, Polygon
from shapely.geometry import Point as Place

from .distortion import Order
from .heat import Plate
from .tacks import MOVE_S, TACK_S, before_tacks

#: Between two tacks of an order that is only moved along, s.
PAUSED_S = TACK_S + MOVE_S


def along_edge(
    outline: Sequence[Sequence[float]], tacks: Sequence[Sequence[float]]
) -> tuple[list[list[float]], list[int]]:
    """Tacks in the order of the work as places along a patch's edge.

    Returns: the places in order along it, and of each tack in the order of the work its number along the edge, from 1.
    """
    ring = LineString([*outline, outline[0]])
    far = [ring.project(Place(at)) for at in tacks]
    order = sorted(range(len(tacks)), key=lambda n: far[n])
    numbers = {n: k + 1 for k, n in enumerate(order)}
    return [list(tacks[n]) for n in order], [numbers[n] for n in range(len(tacks))]


def folds_within(
    lines: Sequence[Sequence[Sequence[float]]], outline: Sequence[Sequence[float]]
) -> list[list[list[float]]]:
    """The parts of ribs and creases that cross a patch and stiffen it."""
    patch = Polygon(outline)
    found = []
    for line in lines:
        if len(line) < 2:
            continue
        part = LineString(line).intersection(patch)
        found += [
            [[round(u, 2), round(v, 2)] for u, v in each.coords]
            for each in getattr(part, "geoms", [part])
            if each.geom_type == "LineString" and each.length > 5
        ]
    return found[:60]


def orders_beside(
    tacks: Sequence[tuple[float, float]], found: Sequence[int], plate: Plate, before_c: Sequence[float]
) -> list[Order]:
    """The found order beside a straight run, opposite corners and every eighth, with how warm each place is before its tack.

    Args: tacks: places in order along the edge; found: their numbers in the found order; plate; before_c: the found order's temperatures, °C.
    """
    count = len(tacks)
    along = list(range(1, count + 1))
    quarter = max(1, math.ceil(count / 4))
    opposite = [
        n
        for k in range(quarter)
        for n in (1 + k, 1 + k + 2 * quarter, 1 + k + quarter, 1 + k + 3 * quarter)
        if n <= count
    ]
    skip = [n for j in range(8) for n in range(1 + j, count + 1, 8)]
    told = [
        Order(
            name="found order",
            tacks=list(found),
            rise_k=[max(0.0, round(c - plate.ambient_c, 1)) for c in before_c],
        )
    ]
    for name, numbers, apart_s in (
        ("opposite corners", opposite, PAUSED_S),
        ("every eighth", skip, PAUSED_S),
        ("straight run", along, TACK_S),
    ):
        places = np.array([tacks[n - 1] for n in numbers], float)
        warm = before_tacks(places, np.arange(count) * apart_s, plate) - plate.ambient_c
        told.append(
            Order(
                name=name,
                tacks=numbers,
                rise_k=[round(min(1999.0, max(0.0, float(each))), 1) for each in warm],
            )
        )
    return told


def drawn_edge(
    places: Sequence[Sequence[float]], edge: Sequence[Sequence[float]], times: float
) -> list[list[list[float]]]:
    """Where an edge has gone, its movement so many times larger, mm: a run for each seam, parted where no tack is for a while."""
    moved = [
        [round(u + times * du, 2), round(v + times * dv, 2)]
        for (u, v), (du, dv) in zip(places, edge, strict=True)
    ]
    apart = [math.dist(a, b) for a, b in zip(places, [*places[1:], places[0]], strict=True)]
    usual = sorted(apart)[len(apart) // 2]
    runs: list[list[list[float]]] = [[]]
    for at, gap in zip(moved, apart, strict=True):
        runs[-1].append(at)
        if gap > 4 * usual:
            runs.append([])
    if len(runs) == 1:
        return [[*moved, moved[0]]]
    if apart[-1] <= 4 * usual:  # the seam runs on over where the counting begins
        runs[0] = runs.pop() + runs[0]
    return [run for run in runs if len(run) > 1]
