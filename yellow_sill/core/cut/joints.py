"""Which joint where: from access, layers, thickness, what is seen, where water runs, and what is owned."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import Field

from ..outlines import Outline, touching
from ..records import Record
from ..said import Mm, Said

#: Thinnest sheet that a butt is welded in without much luck, thickest that is joggled by hand, mm.
BUTT_LEAST_MM, JOGGLE_MOST_MM, SPOT_MOST_MM, SPOT_LAYERS = 0.7, 1.5, 1.6, 3
JOINT_WORDS = {
    "butt": "Butt joint", "joggle": "Joggled lap", "lap": "Lap with plug welds", "plug row": "Row of plug welds on the flange",
    "spot row": "Row of spot welds on the flange", "braze": "Brazed joint",
}  # fmt: skip
#: How much a joint asks for rust, 0 to 1; docs/methods.md section 3.
RUST_TRAP = {"butt": 0.1, "joggle": 0.5, "lap": 0.8, "plug row": 0.4, "spot row": 0.3, "braze": 0.3}


class JointRequest(Record):
    """Where a joint is: see the fields. ``layers`` are the sheets that meet there, ``made_brazed`` whether the maker brazed it."""

    on_flange: bool = False
    visible: bool = False
    both_sides: bool = False
    layers: Annotated[int, Field(ge=1, le=5)] = 1
    thickness_mm: Annotated[float, Field(gt=0, le=6)]
    drains_here: bool = False
    closed_section: bool = False
    made_brazed: bool = False
    processes: Annotated[list[Literal["mig", "tig", "spot", "braze"]], Field(min_length=1, max_length=4)] = [
        "mig"
    ]


@dataclass(frozen=True, slots=True, kw_only=True)
class Joint:
    """One joint: whether it can be made here, its rust risk (0 to 1), why, and what to watch."""

    joint: str
    words: str
    possible: bool
    rust_trap: float
    why: str
    watch: str


@dataclass(frozen=True, slots=True, kw_only=True)
class JointChoice:
    """The joint to make, and the others, the next best first, each with why or why not."""

    chosen: str
    process: str
    why: str
    watch: str
    joints: list[Joint]


#: What to watch in each.
_WATCH = {
    "butt": Said(
        "Even gap, tacks {pitch} apart, each far from the last; lamp behind for pinholes.", pitch=Mm(25)
    ),
    "joggle": "Seal both sides of the lap; nothing but wax creeps in later.",
    "lap": "Weld-through primer between, seal both edges; plugs at the maker's pitch or closer.",
    "plug row": "Never fewer than the maker's spots; weld-through primer between, bright metal in the hole.",
    "spot row": "Clean, flat contact; peel a scrap of the same sheets first.",
    "braze": "Clean all flux off; never steel weld over old braze.",
}


def joint_choice(request: JointRequest) -> JointChoice:
    """Choose a joint.

    Args: request: see JointRequest.
    Returns: the joint, the process for it, why, what to watch, and the rest in order.
    Source: rules of thumb, docs/methods.md section 3.
    """
    order = _order(request)
    told = {name: _no(name, request) for name in JOINT_WORDS}
    possible = [name for name in order if not told[name]]
    chosen = possible[0] if possible else "lap"
    rest = [name for name in JOINT_WORDS if told[name]]
    joints = [
        Joint(
            joint=name, words=JOINT_WORDS[name], possible=not told[name], rust_trap=_rust(name, request), why=told[name] or _yes(name, request),
            watch=_WATCH[name],
        )
        for name in (*possible, *rest)
    ]  # fmt: skip
    return JointChoice(
        chosen=chosen,
        process=_process(chosen, request),
        why=_yes(chosen, request),
        watch=_WATCH[chosen],
        joints=joints,
    )


def _order(request: JointRequest) -> list[str]:
    """Which is wanted most, before what is possible is asked."""
    if request.made_brazed:
        return ["braze", "spot row", "plug row", "butt", "joggle", "lap"]
    if request.on_flange:
        return ["spot row", "plug row", "lap", "joggle", "butt", "braze"]
    if request.visible:
        return ["butt", "joggle", "plug row", "lap", "spot row", "braze"]
    if request.drains_here:
        return ["butt", "joggle", "plug row", "spot row", "lap", "braze"]
    if request.thickness_mm < BUTT_LEAST_MM:
        return ["joggle", "lap", "butt", "plug row", "spot row", "braze"]
    return ["butt", "joggle", "lap", "plug row", "spot row", "braze"]


def _no(name: str, request: JointRequest) -> str:
    """Why a joint cannot be made here; empty where it can."""
    welds = {"mig", "tig"} & set(request.processes)
    if name == "braze":
        if not request.made_brazed:
            return "Only where the maker brazed."
        return "" if "braze" in request.processes or "tig" in request.processes else "Nothing to braze with."
    if name == "spot row":
        if not request.on_flange:
            return "There is no flange."
        if "spot" not in request.processes:
            return "No resistance welder."
        if not request.both_sides:
            return "Its arms do not reach both sides."
        if request.layers > SPOT_LAYERS or request.thickness_mm > SPOT_MOST_MM:
            return "Too much metal for a resistance welder."
        return ""
    if not welds:
        return "Nothing to weld it with."
    if name == "plug row":
        return "" if request.on_flange else "There is no flange."
    if name == "butt" and request.layers > 1:
        return Said("{layers} sheets meet here: an edge cannot be butted.", layers=request.layers)
    if name == "joggle" and request.thickness_mm > JOGGLE_MOST_MM:
        return Said("{thickness_mm} cannot be stepped by hand.", thickness_mm=Mm(request.thickness_mm))
    if name in ("joggle", "lap") and request.drains_here and request.visible:
        return "Water stands in the lap, and it shows."
    return ""


def _yes(name: str, request: JointRequest) -> str:
    """Why a joint, in one sentence."""
    if name == "butt":
        seen = "it can be dressed so that nobody sees it, and " if request.visible else ""
        thin = "" if request.thickness_mm >= BUTT_LEAST_MM else "; thin sheet, take TIG or very short tacks"
        return Said("Flush: {seen}no lap holds water{thin}.", seen=seen, thin=thin)
    if name == "joggle":
        return "Flush outside and easier to fit; the step stiffens the open edge." + (
            " Seal it: water runs here." if request.drains_here else ""
        )
    if name == "lap":
        return "Quickest, stiff in the open, where nobody sees it."
    if name == "plug row":
        return "As the maker joined it, from one side."
    if name == "spot row":
        return "As the maker made it, with least heat."
    return "As the maker made it: a weld here would crack beside the old braze."


def _rust(name: str, request: JointRequest) -> float:
    worse = 1.25 if request.drains_here or request.closed_section else 1.0
    return round(min(1.0, RUST_TRAP[name] * worse), 3)


def _process(name: str, request: JointRequest) -> str:
    """What to make it with, of what is owned."""
    if name == "spot row":
        return "spot"
    if name == "braze":
        return "braze" if "braze" in request.processes else "tig"
    fine = request.visible or request.thickness_mm < BUTT_LEAST_MM
    wanted = ("tig", "mig") if name == "butt" and fine else ("mig", "tig")
    return next((each for each in wanted if each in request.processes), request.processes[0])


def place_of_joint(panel: str, layer: int | None, cut: Outline, deeper: Sequence[Outline]) -> dict[str, Any]:
    """What the drawing tells of the place of a cut's joint, as ``JointRequest`` takes it.

    A box is closed by any sheet with another behind it, and the skin is seen; a flange is told by its panel's name.

    Args: panel: its name; layer: 1 outermost, None in a view without layers; deeper: the sheets behind it.
    """
    flange = "flange" in panel.lower()
    return {
        "on_flange": flange,
        "visible": layer == 1 and not flange,
        "closed_section": bool(touching([cut], list(deeper))),
        "layers": 2 if flange else 1,
    }
