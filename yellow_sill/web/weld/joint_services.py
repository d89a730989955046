"""The joints of a repair: worked out from its sheets' patches, with what a person said of each, and when each was made."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.patch.around import places_along
from yellow_sill.core.patch.seen import Seen
from yellow_sill.core.weld.plan import (
    TREATED,
    PlannedJoint,
    WeldPlanRequest,
    WeldPlanTold,
    weld_plan,
)
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.cut.sheet_services import Sheet, sheets_of
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.patch.fit_services import gap_near
from yellow_sill.web.patch.services import Developed, developed_as_stored, new_welds
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.repairs.rule_services import told_rules

from .models import JointWord

#: What a person can say of a joint.
SAID = ("process", "both_sides", "from_side", "fixes_datum", "made_brazed", "tight_end")
#: A word belongs to the edge whose middle is within this of its place, mm.
SAME_MM = 15.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Joint:
    """A joint as the page shows it: the core's answer, its sheet, its path in the sheet's view, what was said of it."""

    told: PlannedJoint
    sheet: Sheet
    path: list[list[float]]
    at: list[float]
    word: JointWord | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Joints:
    """A repair's sheets from the inside out, the joints in the order of the work, and why a sheet's patch cannot be worked out, by its name."""

    sheets: list[Sheet]
    joints: list[Joint]
    told: WeldPlanTold | None
    faults: dict[str, str]


def joints_of(repair: Repair) -> Joints:
    """Raises: CoreError where the sheets contradict each other."""
    sheets = sheets_of(repair)
    records: list[dict[str, Any]] = []
    faults: dict[str, str] = {}
    edges: dict[str, dict[str, tuple[Seen, JointWord | None]]] = {}
    for sheet in sheets:
        try:
            result = developed_as_stored(sheet.cut)
        except CoreError as error:
            faults[sheet.told.name] = error.message
            continue
        made = _edges(sheet.cut, result)
        edges[sheet.told.name] = {edge.name: (edge, word) for edge, word, _ in made}
        records.append(
            {
                "name": sheet.told.name,
                "thickness_mm": result.part.thickness_mm,
                "behind": list(sheet.told.behind),
                "edges": [asked for *_, asked in made],
            }
        )
    if not records:
        return Joints(sheets=sheets, joints=[], told=None, faults=faults)
    known = {record["name"] for record in records}
    for record in records:
        record["behind"] = [name for name in record["behind"] if name in known]
    told = weld_plan(
        WeldPlanRequest.read({"sheets": records, "processes": told_rules(repair.vehicle)["processes"]})
    )
    by_name = {sheet.told.name: sheet for sheet in sheets}
    joints = []
    for joint in told.joints:
        edge, word = edges[joint.sheet][joint.edge]
        joints.append(
            Joint(
                told=joint,
                sheet=by_name[joint.sheet],
                path=[list(at) for at in edge.path],
                at=list(edge.middle),
                word=word,
            )
        )
    return Joints(sheets=sheets, joints=joints, told=told, faults=faults)


def _edges(cut: Cut, result: Developed) -> list[tuple[Seen, JointWord | None, dict[str, Any]]]:
    """The edges of a patch that are joined, with what was said of each, as the core takes them."""
    words = list(cut.joint_words.all())
    welds = [weld.at for weld in new_welds(cut, result.opening)]
    offer = cut.fit_offers.last()
    found = []
    free = [edge for edge in result.seen if edge.kind in ("free", "seam")]
    for edge in result.seen:
        how = result.made[edge.name].treatment
        made = "row" if edge.kind == "flange" and how in ("butt", "free") else how
        if made not in TREATED:
            continue
        word = word_at(words, edge.middle)
        row = places_along(welds, edge.path) if made in ("row", "flange", "return") else []
        asked: dict[str, Any] = {
            "name": edge.name, "path": edge.path, "made": made, "welds": row, "gap_mm": gap_near(offer, edge.path), "free_end": _touches(edge, free),
            "layers": 2 if TREATED[made] == "row" else 1,
        }  # fmt: skip
        if word:
            asked |= {name: getattr(word, name) for name in SAID}
        found.append((edge, word, asked))
    return found


def _touches(edge: Seen, free: Sequence[Seen]) -> bool:
    """Whether an edge runs out into a free one."""
    ends = (edge.path[0], edge.path[-1])
    return any(
        abs(a[0] - b[0]) + abs(a[1] - b[1]) < 1.0
        for other in free
        for a in ends
        for b in (other.path[0], other.path[-1])
    )


def word_at(words: Sequence[JointWord], at: Sequence[float]) -> JointWord | None:
    """What was said of the joint at a place."""
    near = [(abs(word.at[0] - at[0]) + abs(word.at[1] - at[1]), word) for word in words]
    best = min(near, key=lambda each: each[0], default=None)
    return best[1] if best and best[0] <= SAME_MM else None


@one_change
def say_joint(
    cut: Cut, at: Sequence[float], values: Mapping[str, Any], *, version: int | None, by: str
) -> JointWord:  # fmt: skip
    """Store what a person says of a joint. Raises: BadField for a process that cannot be; ChangedMeanwhile."""
    word = word_at(list(cut.joint_words.all()), at)
    if word is None:
        return JointWord.objects.create(cut=cut, at=list(at), changed_by=by, **values)
    word.save_as(version, by, **values)
    return word


@one_change
def joint_made(
    cut: Cut, at: Sequence[float], *, made_on: date | None, how: str, by: str, today: date
) -> JointWord:  # fmt: skip
    """Store that a joint is made: when, how and by whom; None takes it back. Raises: BadField for a day to come."""
    if made_on and made_on > today:
        raise BadField("That day has not come yet.", "made_on", "Give the day on which it was done.")
    word = word_at(list(cut.joint_words.all()), at)
    told = {"made_on": made_on, "made_by": by if made_on else "", "how": how.strip() if made_on else ""}
    if word is None:
        return JointWord.objects.create(cut=cut, at=list(at), changed_by=by, **told)
    word.set_fields(by, **told)
    return word
