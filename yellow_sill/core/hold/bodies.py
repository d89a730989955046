"""The structure of a vehicle: the laid-out body carried to its own dimensions, and its parts told from the panels of its shell."""

from collections.abc import Callable, Collection, Mapping, Sequence

from ..shell.body_types import checked_sizes
from ..shell.saloon import stretches
from ..shell.stations import piecewise
from .laddered import cab_body, tourer_body
from .layout import Layout, handed, sides, structure_of_layout
from .unitary import ESTATE, ESTATE_NODES, FOUR_DOOR, NODES, REAR_ENGINE, ROADSTER, ROADSTER_NODES, SALOON

Nodes = dict[str, list[float]]
#: Stations of the laid-out unitary structure and where the same places are on the reference drawing, mm.
_ALONG = (
    (60, 650, 1120, 1180, 1680, 2200, 2470, 2950, 3020, 3640),
    (-560, 0, 560, 700, 1260, 1850, 2060, 2400, 2460, 3240),
)
_ACROSS = ((0, 400, 450, 540, 640), (0, 380, 470, 560, 722))
_UPWARDS = ((200, 240, 430, 820, 1280, 1300), (260, 290, 420, 870, 1262, 1285))


def _unitary(
    layout: Layout, laid_out: Mapping[str, tuple[float, float, float]]
) -> Callable[..., tuple[Layout, Nodes]]:
    def body(sizes: Mapping[str, float], *, on_chassis: bool) -> tuple[Layout, Nodes]:
        along, across, upwards = stretches(dict(sizes))
        to_x, to_y, to_z = piecewise(*_ALONG), piecewise(*_ACROSS), piecewise(*_UPWARDS)
        return layout, handed(
            {
                name: (along(to_x(x)), across(to_y(y)), upwards(to_z(z)))
                for name, (x, y, z) in laid_out.items()
            }
        )

    return body


#: Body types that have a structure, and how it is laid out from the dimensions.
_BODIES: dict[str, Callable[..., tuple[Layout, Nodes]]] = {
    "saloon-2-door-unitary": _unitary(SALOON, NODES),
    "saloon-2-door-rear-engine": _unitary(REAR_ENGINE, NODES),
    "roadster-2-door-unitary": _unitary(ROADSTER, ROADSTER_NODES),
    "saloon-4-door-unitary": _unitary(FOUR_DOOR, NODES),
    "estate-3-door-unitary": _unitary(ESTATE, ESTATE_NODES),
    "coupe-2-door-unitary": _unitary(SALOON, NODES),
    "van-2-door-unitary": _unitary(
        ESTATE, ESTATE_NODES
    ),  # its closed sides are not counted: the cautious side
    "tourer-ladder-chassis": tourer_body,
    "roadster-ladder-chassis": tourer_body,  # the same tub and frame; its one-piece wings are not counted
    "cab-ladder-chassis": cab_body,
    "pickup-ladder-chassis": cab_body,  # its bed rests on the rails and is not counted
}
BODIES = tuple(_BODIES)
#: Those that can be taken off the chassis that carries them.
ON_CHASSIS = tuple(name for name in BODIES if name.endswith("ladder-chassis"))


def _box(code: str, walls: str = "IBT") -> tuple[str, ...]:
    """The walls of a member that is a box of plates: outer web, and of inner web, bottom and top those that are sheets of their own."""
    return tuple(f"*-{code}{wall}" for wall in ("", *walls))


#: Panels of the shell that each part is; ``*`` stands for L and R. Parts that no drawing shows have none.
PANELS = {
    "sill_outer_*": ("*-SILL",), "sill_diaph_*": ("*-SILLM",), "sill_inner_*": ("*-SILLI",), "floor_*": ("*-FLOOR",), "tunnel": ("TUN",),
    "toe_xm_*": ("*-TOE", "*-OUTR"), "bulkhead": ("BULK",), "scuttle": ("SCUTTLE",), "apost_outer_*": ("*-APOST",), "apost_inner_*": ("*-APOSTM",),
    "screen_pillar_*": ("*-PILLM",), "bpost_outer_*": ("*-BPOST",), "bpost_inner_*": ("*-BPOSTI",), "cantrail_*": ("*-CANT", "*-CANTM"), "roof": ("ROOF",),
    "quarter_*": ("*-QTR",), "front_panel": ("NOSE",), "rear_panel": ("TAIL",), "wheelarch_*": ("*-ARCHI",), "front_rail_*": _box("LEG"),
    "inner_wing_*": ("*-IWING",), "front_xm": ("XMF",), "rear_rail_*": _box("RAIL", "IB"), "boot_floor": ("BOOT",), "seat_pan": ("SEAT",), "back": ("BACK",),
    "toe_*": ("*-TOE",), "rear_floor": ("SEAT",), "scuttle_side_*": ("*-SCUTTLE",), "footwell_*": ("*-KICK",), "lock_post_*": ("*-BPOSTM",),
    "quarter_inner_*": ("*-QIN",),
    "cpost_box_*": ("*-CPOSTM", "*-CPOSTI"), "cab_side_*": ("*-QTR",), "corner_*": ("*-CABCORNER",), "corner_gusset_*": ("*-CORNERM",),
    "chassis_rail_*": _box("CHRAIL"),
    **{f"chassis_x{k}": (f"CHX{k}",) for k in range(1, 6)},
    **{f"{part}_{m.lower()}_*": (f"*-{code}{m}",) for part, code in (("outrigger", "OUT"), ("mount", "MOUNT")) for m in "FMR"},
}  # fmt: skip


#: What lies under what: the second comes off before the first, and goes on after it.
UNDER = (
    ("sill_inner_*", "floor_*"),
    ("sill_diaph_*", "sill_outer_*"),
    ("apost_outer_*", "sill_outer_*"),
    ("corner_gusset_*", "corner_*"),
)


#: What closes the way to what: the second goes in new only after the first is new, though it may stay in, old, while the first is renewed.
CLOSES = (
    ("sill_inner_*", "sill_outer_*"),
    ("sill_inner_*", "sill_diaph_*"),
    ("apost_inner_*", "apost_outer_*"),
    ("bpost_inner_*", "bpost_outer_*"),
)


def closes_of(parts: Collection[str]) -> list[list[str]]:
    """Which of some parts closes the way to which other, once it is new: [first, then].

    >>> closes_of(["sill_outer_L", "sill_inner_L"])
    [['sill_inner_L', 'sill_outer_L']]
    """
    return _among(CLOSES, parts)


def rules_of(parts: Collection[str]) -> list[list[str]]:
    """Which of some parts lies under which other: [under, over].

    >>> rules_of(["floor_L", "sill_inner_L", "sill_inner_R"])
    [['sill_inner_L', 'floor_L']]
    """
    return _among(UNDER, parts)


def _among(pairs: Sequence[tuple[str, str]], parts: Collection[str]) -> list[list[str]]:
    both = ([name.replace("*", side) for name in pair] for pair in pairs for side in "LR")
    return [pair for pair in both if set(pair) <= set(parts)]


def all_out_first(parts: Sequence[str]) -> list[str]:
    """The order that people fall into: everything out, outermost first, then everything in, what is closed by others first."""
    over = {under: [b for a, b in rules_of(parts) if a == under] for under in parts}
    outermost = sorted(parts, key=lambda part: len(over[part]))
    back: list[str] = []
    rest = outermost[::-1]
    before = [*rules_of(parts), *closes_of(parts)]
    while rest:
        part = next((each for each in rest if all(a in back for a, b in before if b == each)), rest[0])
        back.append(part)
        rest.remove(part)
    return [f"-{part}" for part in outermost] + [f"+{part}" for part in back]


def body_layout(
    body: str, dimensions_mm: Mapping[str, float], *, on_chassis: bool = True
) -> tuple[Layout, Nodes]:
    """A vehicle's layout and its nodes in shell axes.

    Args: body: name of a body type in ``BODIES``; dimensions_mm: by name, one left out is as usual; on_chassis: False for a body off its chassis.
    Raises: BadField: a dimension out of range, or some that cannot go together.
    """
    return _BODIES[body](checked_sizes(body, dimensions_mm), on_chassis=on_chassis)


def vehicle_structure(
    body: str, dimensions_mm: Mapping[str, float], *, on_chassis: bool = True
) -> dict | None:
    """The structure of a vehicle as plain values for ``HoldRequest``; None where its body type has none. Args, raises: see ``body_layout``."""
    return (
        structure_of_layout(*body_layout(body, dimensions_mm, on_chassis=on_chassis))
        if body in _BODIES
        else None
    )


def stand_places(layout: Layout) -> list[str]:
    """Nodes that a stand may be put under."""
    return [name for stem in layout.stands for name in sides(f"{stem}*")]


def usual_stands(layout: Layout) -> list[str]:
    """Where the stands are at first."""
    return [name for stem in layout.usual_stands for name in sides(f"{stem}*")]


def panels_of(part: str) -> tuple[str, ...]:
    """Codes of the panels that a part is; ``panel_`` before a code is a person's own."""
    if part.startswith("panel_"):
        return (part.removeprefix("panel_"),)
    if part in PANELS:
        return PANELS[part]
    stem, _, hand = part.rpartition("_")
    return tuple(code.replace("*", hand) for code in PANELS.get(f"{stem}_*", ()))
