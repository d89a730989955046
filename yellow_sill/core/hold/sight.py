"""What of a structure stands in the way of a tape: its sheets as plates, its rails, posts and members as bars."""

from collections.abc import Mapping
from typing import Any

import numpy as np

from ..datum.sight import Bar, Plate
from ..said import Said

#: Parts of names in the words of the garage; a name without one is said with its underscores taken out.
_HANDS = {"L": "left", "R": "right"}


def said(part: str) -> str:
    """A part's name as it is said.

    >>> said("floor_L"), said("seat_back")
    ('the left floor', 'the seat back')
    """
    stem, _, hand = part.rpartition("_")
    words = f"{_HANDS[hand]} {stem}" if hand in _HANDS else part
    return Said("the {part}", part=Said(words.replace("_", " ")))


def plates_and_bars(structure: Mapping[str, Any]) -> tuple[list[Plate], list[Bar]]:
    """The sheets and members of a structure that a tape cannot go through.

    Args: structure: plain values as ``vehicle_structure`` gives them; parts that are out are left out.
    Returns: flat sheets; members as round bars, half as thick as the section's smaller side.
    """
    nodes, parts = structure["nodes"], structure["parts"]
    there = {name for name, part in parts.items() if part.get("present", True)}
    plates = [
        Plate(name=said(sheet["part"]), corners=[list(nodes[name]) for name in sheet["nodes"]])
        for sheet in structure["sheets"]
        if sheet["part"] in there
    ]
    bars = []
    for frame in structure["frames"]:
        strips = [strip for strip in frame["strips"] if strip[4] in there]
        if not strips:
            continue
        y, z = (np.array([[strip[k], strip[k + 2]] for strip in strips], float) for k in (0, 1))
        radius = max(5.0, min(float(np.ptp(y)), float(np.ptp(z))) / 2)
        bars.append(
            Bar(
                name=said(strips[0][4]),
                start=list(nodes[frame["from"]]),
                end=list(nodes[frame["to"]]),
                radius_mm=radius,
            )
        )
    return plates, bars
