"""A body laid out as text tables, and the structure that follows from them at a vehicle's own places.

Words: a member line reads ``nodes | width x height | wall=part ... | needed parts`` with the walls out, inn, top, bot; ``all`` for all four, ``sill`` for
a double box of outer, inner and diaphragm. A sheet line reads ``part | nodes; nodes | needed parts``. ``*`` stands for L and R. Width runs
outboard (forward on cross members), height upwards (rearward on posts).
"""

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np

from .elements import axes_of

#: Posts are steeper than this: their height runs rearward.
_STEEP = 0.85
_SIDES = "LR"


@dataclass(frozen=True, slots=True, kw_only=True)
class Layout:
    """What a kind of body is made of.

    Attributes:
        thickness_mm: by part; members, sheets: see above; homes: by node, the parts of which one must be in for it to count.
        checks: pairs of nodes; twist: two groups of node stems, the first living pair of each counts; bend: nodes in the middle.
        stands: node stems a stand may be put under; usual_stands: where they stand at first.
        paths: load paths, chains of nodes from the lower end upwards with their name; passing: node stems that no verdict hangs on.
        engine, doors: kg by node, of what may be in or out.
    """

    thickness_mm: Mapping[str, float]
    members: str
    sheets: str
    homes: Mapping[str, str]
    checks: str
    twist: tuple[tuple[str, ...], tuple[str, ...]]
    bend: tuple[str, ...]
    stands: tuple[str, ...]
    usual_stands: tuple[str, ...]
    paths: str = ""
    passing: tuple[str, ...] = ("SM*",)
    engine: Mapping[str, float] = field(default_factory=dict)
    doors: Mapping[str, float] = field(default_factory=dict)

    def lumps(self, *, engine: bool, doors: bool) -> list[dict]:
        """What hangs on the shell, as lumps of a HoldRequest."""
        loads = [*(self.engine.items() if engine else ()), *(self.doors.items() if doors else ())]
        return [{"node": node, "kg": kg} for node, kg in loads]


def sides(text: str) -> list[str]:
    """A line for each side.

    >>> sides("AB* AT*")
    ['ABL ATL', 'ABR ATR']
    """
    return [text.replace("*", side) for side in _SIDES] if "*" in text else [text]


def handed(places: Mapping[str, tuple[float, float, float]]) -> dict[str, list[float]]:
    """Nodes by name from places given for the right side: y is off the centre line, ``*`` nodes exist left and right."""
    nodes = {}
    for name, (x, y, z) in places.items():
        for each in sides(name):
            nodes[each] = [float(x), float(-y if "*" in name and each[-1] == "L" else y), float(z)]
    return nodes


def structure_of_layout(layout: Layout, nodes: Mapping[str, list[float]]) -> dict:
    """The whole structure as plain values for ``HoldRequest``: nodes, parts, frames, sheets, home, checks, paths, passing, twist, bend.

    Args: nodes: places, mm; members, sheets and the rest that name a node that is not among them are left out.
    """
    there = lambda names: set(names) <= nodes.keys()  # noqa: E731
    frames = [frame for line in _lines(layout.members) for frame in _frames(line, nodes)]
    sheets = [sheet for line in _lines(layout.sheets) for sheet in _sheets(line) if there(sheet["nodes"])]
    used = {strip[4] for frame in frames for strip in frame["strips"]} | {sheet["part"] for sheet in sheets}
    used |= {part for each in (*frames, *sheets) for part in each["needs"]}
    parts = {
        each: {"thickness_mm": t}
        for name, t in layout.thickness_mm.items()
        for each in sides(name)
        if each in used
    }
    home = {
        node: told.split()
        for name, text in layout.homes.items()
        for node, told in zip(sides(name), _both(text, name), strict=True)
        if node in nodes
    }
    return {
        "nodes": dict(nodes),
        "parts": parts,
        "frames": frames,
        "sheets": sheets,
        "home": home,
        "checks": [
            pair for text in layout.checks.split("; ") for line in sides(text) if there(pair := line.split())
        ],
        "twist": [
            [pair for stem in group if there(pair := [f"{stem}L", f"{stem}R"])] for group in layout.twist
        ],
        "paths": [path for text in layout.paths.split("; ") if text for path in _paths(text, nodes)],
        "passing": [name for stem in layout.passing for name in sides(stem) if name in nodes],
        "bend": [name for name in layout.bend if name in nodes],
    }


def _paths(text: str, nodes: Mapping[str, list[float]]) -> list[dict]:
    """A line such as ``AB* AT* | A-post, from the sill to the hinges`` for each side."""
    chain, name = (part.strip() for part in text.split("|"))
    told = [
        {"name": f"{word} {name}", "nodes": line.split()}
        for word, line in zip(("left", "right"), sides(chain), strict=False)
    ]
    return [path for path in told if set(path["nodes"]) <= nodes.keys()]


def _lines(table: str) -> list[str]:
    return [each for line in table.strip().splitlines() for each in sides(line)]


def _both(told: str, name: str) -> list[str]:
    return [told.replace("*", side) for side in _SIDES] if "*" in name else [told]


def _frames(line: str, nodes: Mapping[str, list[float]]) -> list[dict]:
    names, size, walls, *needs = [part.strip() for part in line.split("|")]
    chain = names.split()
    wide, high = (float(v) for v in size.split("x"))
    member = "-".join(chain)
    return [
        {
            "id": f"{a}-{b}",
            "from": a,
            "to": b,
            "member": member,
            "strips": _strips(np.array(nodes[a]), np.array(nodes[b]), wide, high, walls, a),
            "needs": needs[0].split() if needs else [],
        }
        for a, b in zip(chain, chain[1:], strict=False)
        if a in nodes and b in nodes
    ]


def _strips(
    start: np.ndarray, end: np.ndarray, wide: float, high: float, walls: str, name: str
) -> list[list]:
    """The walls of a member in its own plane, with outboard and upwards turned to where they lie."""
    axes, _ = axes_of(start, end)
    steep, across = abs(axes[0][2]) > _STEEP, abs(axes[0][1]) > 0.7
    side = np.sign((start + end)[1]) or 1.0
    out = np.array([-1.0, 0, 0]) if across else np.array([0, side, 0])
    up = np.array([1.0, 0, 0]) if steep else np.array([0, 0, 1.0])
    sy, sz = (1.0 if axes[1] @ out >= 0 else -1.0), (1.0 if axes[2] @ up >= 0 else -1.0)
    y, z = sy * wide / 2, sz * high / 2
    if walls == "sill":
        hand = name[-1]
        outer, inner = f"sill_outer_{hand}", f"sill_inner_{hand}"
        return [
            [y, -z, y, z, outer], [0, z, y, z, outer], [0, -z, y, -z, outer], [-y, -z, -y, z, inner], [0, z, -y, z, inner], [0, -z, -y, -z, inner],
            [0, -z, 0, z, f"sill_diaph_{hand}"],
        ]  # fmt: skip
    where = {"out": (y, -z, y, z), "inn": (-y, -z, -y, z), "top": (-y, z, y, z), "bot": (-y, -z, y, -z)}
    told = dict(wall.split("=") for wall in walls.split())
    if "all" in told:
        told = dict.fromkeys(where, told["all"])
    return [[*where[wall], part] for wall, part in told.items()]


def _sheets(line: str) -> list[dict]:
    part, faces, *needs = [each.strip() for each in line.split("|")]
    return [
        {"part": part, "nodes": face.split(), "needs": needs[0].split() if needs else []}
        for face in faces.split(";")
    ]
