"""What a tube is in the way of: openings a person works through, and the room a part needs to come out and go in."""

from collections.abc import Iterable, Sequence

import numpy as np

from ..said import Said
from .asked import Brace, HoldRequest

#: A sheet goes in and out through this much room on either side of it, mm; its rim does not count.
REACH_MM, RIM_MM = 150.0, 60.0
#: How far on either side of a door's plane a person leans in, mm.
DOOR_MM = 80.0

Box = tuple[Sequence[float], Sequence[float]]


def through_box(start: np.ndarray, end: np.ndarray, box: np.ndarray) -> bool:
    """Whether a segment passes through a box given by two corners (slab test).

    >>> through_box(np.array([0.0, 0, 0]), np.array([10.0, 0, 0]), np.array([[4.0, -1, -1], [6.0, 1, 1]]))
    True
    """
    low, high = box.min(axis=0), box.max(axis=0)
    way = end - start
    enter, leave = 0.0, 1.0
    for axis in range(3):
        if abs(way[axis]) < 1e-9:
            if not low[axis] <= start[axis] <= high[axis]:
                return False
            continue
        a, b = sorted(((low[axis] - start[axis]) / way[axis], (high[axis] - start[axis]) / way[axis]))
        enter, leave = max(enter, a), min(leave, b)
    return bool(enter < leave)


def openings_of(request: HoldRequest) -> dict[str, Box]:
    """Door openings and the engine bay, as boxes, by what a person calls them; those whose corners the structure knows."""
    nodes = request.nodes
    found: dict[str, Box] = {}
    for hand, side in (("L", "left"), ("R", "right")):
        rear = next((name for name in (f"BW{hand}", f"BT{hand}") if name in nodes), None)
        if rear and {f"AB{hand}", f"AT{hand}", f"BB{hand}"} <= nodes.keys():
            foot, top, back = nodes[f"AB{hand}"], nodes[f"AT{hand}"], nodes[f"BB{hand}"]
            ys = [foot[1], top[1], back[1]]
            found[Said("the {side} door opening", side=side)] = (
                [foot[0] + RIM_MM, min(ys) - DOOR_MM, foot[2] + RIM_MM],
                [back[0] - RIM_MM, max(ys) + DOOR_MM, max(top[2], nodes[rear][2]) - RIM_MM],
            )
    if {"FML", "FMR", "RBL", "TWL"} <= nodes.keys():
        half = abs(nodes["FML"][1]) - RIM_MM
        found["the engine bay"] = (
            [nodes["FML"][0] - 300, -half, nodes["FML"][2] + RIM_MM],
            [nodes["RBL"][0] - RIM_MM, half, nodes["TWL"][2] - RIM_MM],
        )
    return found


def rooms_of(request: HoldRequest, part: str) -> list[Box]:
    """The room that a part's sheets need to come out and go in, a box for each sheet."""
    rooms = []
    for sheet in request.sheets:
        if sheet.part != part:
            continue
        corners = np.array([request.nodes[name] for name in sheet.nodes])
        low, high = corners.min(axis=0), corners.max(axis=0)
        thin = int((high - low).argmin())
        low, high = low + RIM_MM, high - RIM_MM
        low[thin], high[thin] = corners[:, thin].min() - REACH_MM, corners[:, thin].max() + REACH_MM
        if (low < high).all():
            rooms.append((low.tolist(), high.tolist()))
    return rooms


def rooms_wanted(request: HoldRequest, parts: Iterable[str]) -> list[tuple[str, list[np.ndarray]]]:
    """Openings by name, and the room that each of some parts needs: boxes (2, 3)."""
    openings = [(name, [np.array(box)]) for name, box in openings_of(request).items()]
    return openings + [(part, [np.array(box) for box in rooms_of(request, part)]) for part in parts]


def crossed(start: np.ndarray, end: np.ndarray, wanted: Iterable[tuple[str, list[np.ndarray]]]) -> list[str]:
    """What a tube between two places is in the way of, of ``rooms_wanted``."""
    return [name for name, boxes in wanted if any(through_box(start, end, box) for box in boxes)]


def in_the_way(request: HoldRequest, start: str, end: str, parts: Iterable[str]) -> list[str]:
    """What a tube between two nodes is in the way of: openings by name, and which of some parts cannot come out or go in past it."""
    a, b = (np.array(request.nodes[name], float) for name in (start, end))
    return crossed(a, b, rooms_wanted(request, parts))


def blocked_by(request: HoldRequest, brace: Brace, part: str) -> str:
    """How a brace blocks work on a part: ``ends on it``, ``passes where it goes``, or nothing.

    A brace ends on a part where the part is one of the anchor's homes and no sound one is left without it.
    """
    for name in (brace.start, brace.end):
        homes = request.home.get(name, [])
        if part in homes and not any(request.parts[each].present for each in homes if each != part):
            return "ends on it"
    a, b = (np.array(request.nodes[name], float) for name in (brace.start, brace.end))
    return (
        "passes where it goes"
        if any(through_box(a, b, np.array(box)) for box in rooms_of(request, part))
        else ""
    )
