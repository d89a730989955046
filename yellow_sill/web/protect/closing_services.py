"""The box that a repair closes: its faces, what must still be done inside, where poured water goes, and its wax."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from django.utils import timezone

from yellow_sill.core.errors import CoreError
from yellow_sill.core.protect.cavity import WaxPlan, WaxRequest, cavity_wax
from yellow_sill.core.protect.closing import Closing, ClosingRequest, closing_check
from yellow_sill.core.protect.drains import openings_along, pockets_of
from yellow_sill.core.repairs.gate import Gate, Ready
from yellow_sill.core.repairs.sheets import SHEET_STATES
from yellow_sill.core.shell.cavity_records import Cavity
from yellow_sill.web.cut.sheet_services import sheets_of
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.whole_services import cavities_here

from .face_services import SheetFace, faces_of, looks_inside
from .models import BoxWord

_WELDED = SHEET_STATES.index("welded")


@dataclass(frozen=True, slots=True, kw_only=True)
class Box:
    """The box of a repair: the cavity it is (None where the drawing knows none), others it may be, its check, its wax (None: not known), what was asked."""

    cavity: Cavity | None
    cavities: list[Cavity]
    word: BoxWord | None
    faces: list[SheetFace]
    told: Closing
    wax: WaxPlan | None
    pockets: list[dict[str, Any]]
    poured: list[str]
    still: list[dict[str, Any]]


def closes_a_box(faces: Sequence[SheetFace]) -> bool:
    """Whether a repair closes a box: some of its faces look into one."""
    return any(face.surface == "cavity" for face in faces)


def closing_sheet(repair: Repair) -> str:
    """The name of the sheet that closes a box once it is on, its check not passed; empty where none does. Raises: CoreError."""
    inside = [sheet for sheet in sheets_of(repair) if looks_inside(sheet.cut)]
    if not inside:
        return ""
    if BoxWord.objects.filter(repair=repair).exists():
        box = box_of(repair, timezone.now())
        if box is None or box.told.ready:
            return ""
    return inside[-1].told.name


def box_of(repair: Repair, now: datetime) -> Box | None:
    """The box that a repair closes; None where it closes none. Raises: CoreError."""
    faces = faces_of(repair, now)
    if not closes_a_box(faces):
        return None
    word = BoxWord.objects.filter(repair=repair).first()
    codes = {face.sheet.cut.panel.code for face in faces}
    cavities = [each for each in cavities_here(repair.vehicle) if codes & {face.code for face in each.faces}]
    wanted = word.cavity if word else ""
    cavity = next((each for each in cavities if each.code == wanted), cavities[0] if cavities else None)
    pockets = word.pockets if word and word.pockets else pockets_of(cavity) if cavity else []
    still = word.still if word and word.still else _still(faces)
    poured = [place for place in (word.poured if word else []) if place in {each["name"] for each in pockets}]
    told = closing_check(
        ClosingRequest.read(
            {
                "box": cavity.name if cavity else f"The box of {repair.code}",
                "faces": [_inner(face) for face in faces if face.surface in ("cavity", "mating")],
                "still": still,
                "pockets": pockets,
                "poured": poured,
            }
        )
    )
    return Box(
        cavity=cavity,
        cavities=cavities,
        word=word,
        faces=faces,
        told=told,
        wax=_wax(cavity, faces),
        pockets=pockets,
        poured=poured,
        still=still,
    )


def _inner(face: SheetFace) -> dict[str, Any]:
    broken = [one for one in face.broken if not one.overruled]
    finished = False if broken and face.told.finished else face.told.finished
    return {"name": face.name, "finished": finished, "area_m2": face.area_m2}


def _still(faces: Sequence[SheetFace]) -> list[dict[str, Any]]:
    """What is usually still to be done inside: the back of each seam that is not welded yet; whether it is reached nobody has said."""
    sheets = {face.sheet.told.name: face.sheet for face in faces if face.surface == "cavity"}
    return [
        {"what": f"Dress the seam of {name} from behind", "tool": "dolly", "reaches": None}
        for name, sheet in sheets.items()
        if SHEET_STATES.index(sheet.told.state) < _WELDED
    ]


def _wax(cavity: Cavity | None, faces: Sequence[SheetFace]) -> WaxPlan | None:
    """How the cavity is waxed, as far as the drawing shows its openings."""
    area = sum(face.area_m2 for face in faces if face.surface == "cavity")
    if cavity is None or area <= 0 or cavity.length_mm <= 0:
        return None
    asked = {
        "name": cavity.name,
        "length_mm": cavity.length_mm,
        "area_m2": area,
        "openings": openings_along(cavity),
    }
    try:
        return cavity_wax(WaxRequest.read(asked))
    except CoreError:
        return None


@one_change
def keep_box(repair: Repair, values: Mapping[str, Any], *, version: int | None, by: str) -> BoxWord:
    """Store what a person says of the box. Raises: CoreError where it contradicts itself; ChangedMeanwhile."""
    closing_check(
        ClosingRequest.read({"box": repair.code, "pockets": values["pockets"], "poured": values["poured"], "still": values["still"]})
    )  # fmt: skip
    stored = BoxWord.objects.filter(repair=repair).first()
    if stored is None:
        return BoxWord.objects.create(repair=repair, changed_by=by, **values)
    stored.save_as(version, by, **values)
    return stored


def closing_gate(repair: Repair, to: str, day: date) -> tuple[list[Ready], Gate | None] | None:
    """What is asked before the last sheet of a box is welded; None where a repair closes none."""
    if to != "welded" or repair.state != "fitted":
        return None
    try:
        box = box_of(repair, timezone.now())
    except CoreError as error:
        return [], Gate(stage="closing", open=False, reason=error.message, round=None)
    if box is None:
        return None
    return [], Gate(stage="closing", open=box.told.ready, reason=box.told.words, round=None)
