"""The welds of a repair: every joint of every sheet, from the inside out, with process, layers, access, gap, count, and the order along a row."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from ..cut.asked import Thickness
from ..cut.joints import SPOT_LAYERS, SPOT_MOST_MM
from ..cut.rows import plug_hole_mm
from ..cut.stretches import FLANGE_PITCH_MM, flange_welds
from ..errors import BadField
from ..outlines import length_of
from ..records import Point, Record
from ..repairs.sheets import SheetIs, inside_out
from ..said import Count, Listed, Mm, Quoted, Said, joined
from .settings import BUTT_GAP_MOST_MM
from .tacks import PITCH_MM

#: How an edge of a patch is made, and what is welded there; a free edge, a hem and an open seam get nothing.
TREATED = {"butt": "butt", "lap": "lap", "joggle": "joggle", "flange": "row", "return": "row", "row": "row"}
KIND_WORDS = {
    "butt": "Butt", "lap": "Lap", "joggle": "Joggled lap", "plug row": "Plug row", "spot row": "Spot row", "braze": "Brazed",
}  # fmt: skip
#: One move of the clamps covers so much of a row, mm (rule of thumb: flanges spring apart beyond it).
CLAMP_REACH_MM = 120.0
BRAZE_GAP_MM = 0.1
MOST_SHEETS, MOST_EDGES, MOST_PLACES = 40, 120, 400
_Name = Annotated[str, Field(min_length=1, max_length=60)]
Process = Literal["mig", "tig", "spot", "braze"]


class JointEdge(Record):
    """An edge of a patch as it is joined.

    Attributes:
        path: along it, mm; made: how it is treated; meets: the other sheet, its thickness; layers: all that lie on each other there.
        both_sides: whether a hand and a tool reach both (None: nobody has said); from_side: the side the torch comes from, in words.
        welds: places of the new row; gap_mm: as it was measured on the last offer-up, None where nobody did.
        fixes_datum, free_end: it fixes a datum; it runs out into a free edge. tight_end: which end of the row is held fast. process: as the person wants it.
    """

    name: _Name
    path: Annotated[list[Point], Field(min_length=2, max_length=2000)]
    made: Literal["butt", "lap", "joggle", "flange", "return", "row"]
    meets: Annotated[str, Field(max_length=60)] = ""
    meets_mm: Thickness | None = None
    layers: Annotated[int, Field(ge=1, le=6)] = 1
    both_sides: bool | None = None
    from_side: Annotated[str, Field(max_length=60)] = ""
    made_brazed: bool = False
    welds: Annotated[list[Point], Field(max_length=MOST_PLACES)] = []
    gap_mm: Annotated[float, Field(ge=-100, le=100)] | None = None
    fixes_datum: bool = False
    free_end: bool = False
    tight_end: Literal["", "first", "last"] = ""
    process: Process | Literal[""] = ""


class JointSheet(Record):
    """A sheet with the edges that are joined; ``behind``: names of the sheets of this repair that lie behind it."""

    name: _Name
    thickness_mm: Thickness
    behind: Annotated[list[_Name], Field(max_length=20)] = []
    edges: Annotated[list[JointEdge], Field(max_length=MOST_EDGES)] = []


class WeldPlanRequest(Record):
    """A repair's sheets, and what there is to weld with."""

    sheets: Annotated[list[JointSheet], Field(min_length=1, max_length=MOST_SHEETS)]
    processes: Annotated[list[Process], Field(min_length=1, max_length=4)] = ["mig"]
    pitch_mm: Annotated[float, Field(ge=5, le=200)] = PITCH_MM


@dataclass(frozen=True, slots=True, kw_only=True)
class ClampMove:
    """One setting of the clamps: which welds of the row are made in it, in their order (numbers along the row)."""

    welds: list[int]


@dataclass(frozen=True, slots=True, kw_only=True)
class PlannedJoint:
    """One joint.

    Attributes:
        number: in the order of the work; kind: see KIND_WORDS; process; thicknesses_mm: from this side inwards; side: what reaches it.
        gap_mm: to fit it up with; gap_found_mm: as measured, None where nobody did; gap_ok None likewise.
        count, what: so many tacks, plugs or spots; hole_mm: of a plug; along: order along the row, with the moves of the clamps.
        why: why it comes here; watch: what to mind.
    """

    number: int
    sheet: str
    edge: str
    kind: str
    process: str
    layers: int
    thicknesses_mm: list[float]
    length_mm: float
    side: Said | str
    gap_mm: float
    gap_found_mm: float | None
    gap_ok: bool | None
    count: int
    what: str
    hole_mm: float | None
    along: list[ClampMove]
    why: Said | str
    watch: list[Said | str]
    words: Said


@dataclass(frozen=True, slots=True, kw_only=True)
class WeldPlanTold:
    """The joints in the order of the work, and how much there is of each: metres of seam, tacks, plugs, spots."""

    joints: list[PlannedJoint]
    seam_mm: float
    tacks: int
    plugs: int
    spots: int
    words: Said


def weld_plan(request: WeldPlanRequest) -> WeldPlanTold:
    """Every joint of a repair in the order of the work: inner sheets first, in each the joint that fixes a datum, free ends last.

    Args: request: see WeldPlanRequest.
    Raises: BadField: a sheet or an edge twice, a sheet behind itself, a process that is not owned.
    Source: rules of thumb, docs/methods.md section 5.
    """
    order = inside_out(
        [SheetIs(name=each.name, state="fitted", behind=each.behind) for each in request.sheets]
    )
    by_name = {each.name: each for each in request.sheets}
    joints: list[PlannedJoint] = []
    for at, told in enumerate(order):
        sheet = by_name[told.name]
        _require_edges(sheet, request)
        kinds = {edge.name: _kind(edge, sheet, request.processes) for edge in sheet.edges}
        for edge in sorted(sheet.edges, key=lambda each: _place(each, kinds[each.name][0])):
            joints.append(_joint(len(joints) + 1, sheet, edge, kinds[edge.name], request, innermost=at == 0))
    count = lambda what: sum(joint.count for joint in joints if joint.what == what)  # noqa: E731
    seam = sum(joint.length_mm for joint in joints if joint.what == "tacks")
    sheets = Count(len(request.sheets), "sheet", "sheets")
    words = (
        Said("{joints} in {sheets}, from the inside out.", joints=Count(len(joints), "joint", "joints"), sheets=sheets)
        if joints
        else Said("Nothing is welded: no edge of these sheets is joined.")
    )  # fmt: skip
    return WeldPlanTold(
        joints=joints,
        seam_mm=round(seam, 1),
        tacks=count("tacks"),
        plugs=count("plugs"),
        spots=count("spots"),
        words=words,
    )


def _require_edges(sheet: JointSheet, request: WeldPlanRequest) -> None:
    """Raises: BadField."""
    seen = set()
    for edge in sheet.edges:
        if edge.name in seen:
            raise BadField(
                Said("{sheet} has two edges {edge}.", sheet=Quoted(sheet.name), edge=Quoted(edge.name)),
                "sheets",
                "Give each its own name.",
            )
        seen.add(edge.name)
        if edge.process and edge.process not in request.processes:
            raise BadField(
                Said(
                    "{edge} is to be made by a process that is not owned.",
                    edge=Quoted(f"{sheet.name} {edge.name}"),
                ),
                "processes",
                "Say what you weld with, or take another process there.",
            )


def _place(edge: JointEdge, kind: str) -> tuple[bool, bool, bool, float]:
    """Where a joint comes among those of its sheet: a datum's first, free ends last, rows before seams, the longest first."""
    return not edge.fixes_datum, edge.free_end, kind not in ("plug row", "spot row"), -length_of(edge.path)


def _kind(edge: JointEdge, sheet: JointSheet, processes: Sequence[str]) -> tuple[str, str]:
    """What is made of an edge and by which process."""
    made = TREATED[edge.made]
    welds = [each for each in processes if each in ("mig", "tig")]
    if edge.made_brazed and "braze" in processes and edge.process in ("", "braze"):
        return "braze", "braze"
    if made != "row":
        return made, edge.process if edge.process in ("mig", "tig") else (welds or list(processes))[0]
    if edge.process == "spot" or (not edge.process and not _no_spot(edge, sheet, processes)):
        return "spot row", "spot"
    return "plug row", edge.process or ("mig" if "mig" in processes else (welds or list(processes))[0])


def _no_spot(edge: JointEdge, sheet: JointSheet, processes: Sequence[str]) -> Said | str:
    """Why a row cannot be spot-welded; empty where it can."""
    if "spot" not in processes:
        return "No resistance welder."
    if edge.both_sides is None:
        return "Whether its arms reach both sides is not known."
    if not edge.both_sides:
        return "Its arms do not reach both sides."
    if max(edge.layers, 2) > SPOT_LAYERS or sheet.thickness_mm > SPOT_MOST_MM:
        return "Too much metal for a resistance welder."
    return ""


def _joint(
    number: int,
    sheet: JointSheet,
    edge: JointEdge,
    kind_and_process: tuple[str, str],
    request: WeldPlanRequest,
    *,
    innermost: bool,
) -> PlannedJoint:
    kind, process = kind_and_process
    length = length_of(edge.path)
    row = kind in ("plug row", "spot row")
    count = (len(edge.welds) or flange_welds(length)) if row else max(2, round(length / request.pitch_mm) + 1)
    what = "spots" if kind == "spot row" else "plugs" if row else "tacks"
    layers = 1 if kind == "butt" else max(edge.layers, 2)
    other = edge.meets_mm or sheet.thickness_mm
    gap = _gap(kind, process, sheet.thickness_mm)
    found = edge.gap_mm
    hole = plug_hole_mm(sheet.thickness_mm) if kind == "plug row" else None
    return PlannedJoint(
        number=number, sheet=sheet.name, edge=edge.name, kind=kind, process=process, layers=layers,
        thicknesses_mm=[sheet.thickness_mm, *[other] * (layers - 1)], length_mm=round(length, 1), side=_side(edge, kind),
        gap_mm=gap, gap_found_mm=found, gap_ok=None if found is None else -0.1 <= found <= max(gap, 0.2) + 0.1, count=count, what=what, hole_mm=hole,
        along=_along(edge, count, length) if row else [], why=_why(edge, innermost), watch=_watch(edge, sheet, kind, process, found, gap, request.processes),
        words=_words(sheet.name, edge.name, kind, process, count, what, hole),
    )  # fmt: skip


def _words(sheet: str, edge: str, kind: str, process: str, count: int, what: str, hole: float | None) -> Said:
    counted = Count(count, what.removesuffix("s"), what)
    if hole is not None:
        return Said(
            "{kind} along {edge} of {sheet}, {process}: {count}, holes {hole}.",
            kind=Said(KIND_WORDS[kind]),
            edge=Quoted(edge),
            sheet=Quoted(sheet),
            process=Said(process.upper()),
            count=counted,
            hole=Mm(hole),
        )
    return Said(
        "{kind} along {edge} of {sheet}, {process}: {count}.",
        kind=Said(KIND_WORDS[kind]),
        edge=Quoted(edge),
        sheet=Quoted(sheet),
        process=Said({"spot": "spot welder", "braze": "brazed"}.get(process, process.upper())),
        count=counted,
    )


def _gap(kind: str, process: str, thickness_mm: float) -> float:
    if kind == "butt" and process == "mig":
        return min(thickness_mm, BUTT_GAP_MOST_MM)
    return BRAZE_GAP_MM if kind == "braze" else 0.0


def _side(edge: JointEdge, kind: str) -> Said | str:
    """What reaches a joint from where."""
    torch = (
        Said("Torch from {side}", side=Quoted(edge.from_side))
        if edge.from_side
        else Said("Torch from this side")
    )
    if kind == "spot row":
        return "An arm on each side"
    if edge.both_sides:
        return Said("{torch}; dolly and lamp reach the back.", torch=torch)
    if edge.both_sides is None:
        return Said("{torch}; whether the back is reached is not known.", torch=torch)
    return Said("{torch}; the back is not reached.", torch=torch)


def _why(edge: JointEdge, innermost: bool) -> Said | str:
    if edge.fixes_datum:
        return "First: it fixes a datum, the rest follows it."
    if edge.free_end:
        return "Last: it runs out into a free edge, where what is left of the pull goes."
    return "Innermost sheet: nothing reaches it later." if innermost else "After the sheets behind it."


def _watch(
    edge: JointEdge, sheet: JointSheet, kind: str, process: str, found: float | None, gap: float, processes: Sequence[str]
) -> list[Said | str]:  # fmt: skip
    told: list[Said | str] = []
    if kind in ("plug row", "spot row") and edge.welds == []:
        told.append(
            Said(
                "No old row is known here: reckoned at {pitch}. Never fewer than the maker's.",
                pitch=Mm(FLANGE_PITCH_MM),
            )
        )
    if kind == "plug row":
        if "spot" in processes and (why := _no_spot(edge, sheet, processes)):
            told.append(Said("Plugs, not spots: {why}", why=Said(why) if isinstance(why, str) else why))
        told.append("Weld-through primer between, bright metal in the hole, start in its middle.")
    if kind == "spot row":
        told.append("Clean, flat contact. Peel a scrap of the same sheets first.")
    if kind in ("lap", "joggle"):
        told.append("Weld-through primer between, and both edges sealed: water creeps in.")
    if kind == "butt" and edge.both_sides is None:
        told.append("Look whether the back is reached: for the dolly, the lamp and the paint.")
    if edge.made_brazed and kind != "braze":
        told.append("The maker brazed it: all old braze must be off, or the weld cracks beside it.")
    if found is not None and not -0.1 <= found <= max(gap, 0.2) + 0.1:
        told.append(
            Said("The gap was {found}, it should be {gap}.", found=Mm(found, 1), gap=Mm(gap, 1))
            if found > 0
            else Said("It lapped over by {found}: trim first.", found=Mm(-found, 1))
        )
    if found is None:
        told.append("Nobody has measured its gap.")
    return told


def row_order(count: int, tight_end: str = "") -> list[int]:
    """In which order the welds of a row are made: from the middle to both ends, or from the end that is held fast.

    Args: count: how many; tight_end: "", "first" or "last".
    Returns: numbers along the row, 1 the first.

    >>> row_order(5), row_order(4), row_order(3, "last")
    ([3, 2, 4, 1, 5], [2, 3, 1, 4], [3, 2, 1])
    """
    numbers = list(range(1, count + 1))
    if tight_end:
        return numbers if tight_end == "first" else numbers[::-1]
    return sorted(numbers, key=lambda n: (abs(n - (count + 1) / 2), n))


def _along(edge: JointEdge, count: int, length: float) -> list[ClampMove]:
    """The order along a row, parted where the clamps are moved."""
    each = max(1, int(CLAMP_REACH_MM // max(length / max(count, 1), 1e-6)))
    order = row_order(count, edge.tight_end)
    return [ClampMove(welds=order[i : i + each]) for i in range(0, count, each)]


def plan_words(told: WeldPlanTold) -> Said:
    """How much there is to weld, in a line."""
    parts: list[str] = [
        Said("{count}", count=Count(count, one, many))
        for count, one, many in (
            (told.tacks, "tack", "tacks"),
            (told.plugs, "plug", "plugs"),
            (told.spots, "spot", "spots"),
        )
        if count
    ]
    return joined([told.words, Said("{parts}.", parts=Listed(tuple(parts)))] if parts else [told.words])


def amounts(joints: Sequence[PlannedJoint]) -> dict[str, dict[str, float]]:
    """How much there is to weld of some joints, by process: seam_mm, row_mm, plugs, hole_mm (of the first plug row)."""
    told: dict[str, dict[str, float]] = {}
    for joint in joints:
        row = told.setdefault(joint.process, {"seam_mm": 0.0, "row_mm": 0.0, "plugs": 0, "hole_mm": 0.0})
        row["seam_mm" if joint.what == "tacks" else "row_mm"] += joint.length_mm
        if joint.what == "plugs":
            row["plugs"] += joint.count
            row["hole_mm"] = row["hole_mm"] or joint.hole_mm or 0.0
    return told
