"""The faces of a repair's sheets: which there are, what is on each, what may come next, which rules are broken."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, time
from typing import Any

from django.utils import timezone

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.outlines import touching
from yellow_sill.core.protect.check import RULES, Broken, ProtectRequest, protect_check
from yellow_sill.core.protect.seen import coats_seen, edge_area_m2, face_area_m2
from yellow_sill.core.protect.systems import FaceRequest, FaceTold, face_told
from yellow_sill.core.repairs.sheets import SHEET_STATES
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.cut.sheet_services import Sheet, sheets_of
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.once import once
from yellow_sill.web.patch.services import developed_as_stored
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.weld.models import WeldPlan
from yellow_sill.web.weld.services import energy_j, hottest_behind, weld_of

from .models import Coat, Face
from .product_services import own_products, products_at_hand, warmth_of

_WELDED = SHEET_STATES.index("welded")
#: Treatments whose edges close on another sheet.
MATING = ("lap", "joggle", "flange", "return")


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetFace:
    """A face of a sheet: its key and name, what is stored of it (None: nothing), its area, its drawn path (None: the whole sheet), how it stands."""

    sheet: Sheet
    key: str
    name: str
    surface: str
    record: Face | None
    area_m2: float
    path: list[list[float]] | None
    told: FaceTold
    broken: list[Broken]

    @property
    def address(self) -> str:
        return f"{self.sheet.cut.number}-{self.key}"


@once
def faces_of(repair: Repair, now: datetime) -> list[SheetFace]:
    """Every face of every sheet that a repair touches, from the inside out. Raises: CoreError."""
    vehicle, sheets = repair.vehicle, sheets_of(repair)
    warmth, owned = warmth_of(vehicle), [each.model_dump() for each in own_products(vehicle)]
    records = _records(repair)
    found: list[dict[str, Any]] = []
    for sheet in sheets:
        to_come = _weld_to_come(sheet, sheets)
        for key, name, usual, area, path in _listed(sheet, sheets):
            record = records.get((sheet.cut.pk, key))
            surface = (record.surface if record else "") or usual
            told = face_told(FaceRequest.read({
                "surface": surface, "bared_on": _bared(record), "coats": [_core_coat(coat) for coat in _coats(record)], "warmth": warmth, "now": now,
                "products": owned, "weld_to_come": to_come,
            }))  # fmt: skip
            found.append(
                {
                    "sheet": sheet,
                    "key": key,
                    "name": name,
                    "surface": surface,
                    "record": record,
                    "area_m2": area,
                    "path": path,
                    "told": told,
                    "to_come": to_come,
                }
            )
    broken = _broken(found, sheets, warmth, owned, now)
    return [
        SheetFace(**{name: value for name, value in each.items() if name != "to_come"}, broken=broken.get(each["name"], []))
        for each in found
    ]  # fmt: skip


def _records(repair: Repair) -> dict[tuple[int, str], Face]:
    faces = Face.objects.filter(cut__repair=repair).prefetch_related("coats")
    return {(face.cut_id, face.key): face for face in faces}


def _coats(record: Face | None) -> list[Coat]:
    return list(record.coats.all()) if record else []


def _core_coat(coat: Coat) -> dict[str, Any]:
    return {"product": coat.product, "at": coat.put_on}


def _bared(record: Face | None) -> datetime | None:
    if record is None or record.bared_on is None:
        return None
    return timezone.make_aware(datetime.combine(record.bared_on, time(0)))


def _listed(
    sheet: Sheet, sheets: Sequence[Sheet]
) -> list[tuple[str, str, str, float, list[list[float]] | None]]:
    """The faces of a sheet: key, name, usual surface, area m², path of an edge."""
    cut, name = sheet.cut, sheet.told.name
    area, usual = face_area_m2(cut.outline), _usual(cut)
    found: list[tuple[str, str, str, float, list[list[float]] | None]] = [
        ("outer", f"{name} outside", usual["outer"], area, None),
        ("inner", f"{name} inside", usual["inner"], area, None),
    ]
    try:
        result = developed_as_stored(cut)
    except CoreError:
        return found
    for edge in result.seen:
        how = result.made[edge.name].treatment
        if how in MATING or edge.kind == "flange":
            path = [list(at) for at in edge.path]
            found.append(
                (f"edge {edge.name}", f"{name} edge {edge.name}", "mating", edge_area_m2(path), path)
            )
    return found


def _usual(cut: Cut) -> dict[str, str]:
    """What the faces of a sheet look at, by the drawing."""
    outermost = not cut.panel.view.layered or cut.panel.layer == 1
    return {
        "outer": "outer" if outermost else "cavity",
        "inner": "cavity" if _has_behind(cut) else "underside",
    }


def looks_inside(cut: Cut) -> bool:
    """Whether a face of a sheet looks into a box, as somebody said, or by the drawing."""
    said = {face.key: face.surface for face in cut.faces.all() if face.surface}
    return "cavity" in (_usual(cut) | said).values()


def _has_behind(cut: Cut) -> bool:
    """Whether another sheet of the shell lies behind a cut."""
    if not cut.panel.view.layered:
        return False
    deeper = cut.panel.view.panels.filter(layer__gt=cut.panel.layer).values_list("outline", flat=True)
    return bool(touching([cut.outline], list(deeper)))


def _weld_to_come(sheet: Sheet, sheets: Sequence[Sheet]) -> bool:
    """Whether this sheet, or one of the repair in front of or behind it, is still to be welded."""
    near = [
        each
        for each in sheets
        if each is sheet or sheet.told.name in each.told.behind or each.told.name in sheet.told.behind
    ]
    return any(SHEET_STATES.index(each.told.state) < _WELDED for each in near)


@once
def welded_at(cut: Cut) -> datetime | None:
    """When the last weld of a sheet was made; None where nobody has said."""
    weld = WeldPlan.objects.filter(cut=cut).first()
    times = [datetime.fromisoformat(each["when"]) for each in weld.events] if weld else []
    days = [*cut.joint_words.exclude(made_on=None).values_list("made_on", flat=True)]
    days += list(cut.sheet_steps.filter(state="welded").values_list("made_on", flat=True))
    moments = [timezone.make_aware(at) if timezone.is_naive(at) else at for at in times]
    moments += [timezone.make_aware(datetime.combine(day, time(23, 59))) for day in days]
    return max(moments, default=None)


def _broken(
    found: Sequence[dict[str, Any]], sheets: Sequence[Sheet], warmth: list, owned: list, now: datetime
) -> dict[str, list[Broken]]:  # fmt: skip
    """The rules that faces do not keep, by the face's name."""
    last_weld = {sheet.cut.pk: welded_at(sheet.cut) for sheet in sheets}
    asked = []
    for each in found:
        record, cut = each["record"], each["sheet"].cut
        coats = _coats(record)
        weld = last_weld[cut.pk]
        before = [coat for coat in coats if weld is not None and coat.put_on < weld]
        asked.append({
            "name": each["name"], "surface": each["surface"], "metal": record.metal if record else "",
            "coats": [seen.model_dump() for seen in coats_seen([_core_coat(coat) for coat in coats], warmth, now)],
            "weld_to_come": each["to_come"], "closes": each["surface"] == "cavity" and each["to_come"],
            "behind_weld_c": _behind_c(cut) if before and each["key"] in ("outer", "inner") else None, "overruled": record.overruled if record else {},
        })  # fmt: skip
    if not asked:
        return {}
    told: dict[str, list[Broken]] = {}
    for one in protect_check(ProtectRequest.read({"faces": asked, "products": owned})):
        told.setdefault(one.face, []).append(one)
    return told


def _behind_c(cut: Cut) -> float | None:
    """How hot the back of a sheet gets beside its weld, °C; None where no weld is planned."""
    weld = weld_of(cut)
    return hottest_behind(weld) if weld.tack_plans and energy_j(weld) else None


def face_at(faces: Sequence[SheetFace], address: str) -> SheetFace | None:
    return next((each for each in faces if each.address == address), None)


def _stored(cut: Cut, key: str, by: str) -> Face:
    return Face.objects.get_or_create(cut=cut, key=key, defaults={"changed_by": by})[0]


@one_change
def say_face(
    cut: Cut, key: str, *, surface: str, metal: str, bared_on: date | None, version: int | None, by: str, today: date
) -> Face:  # fmt: skip
    """What a person says of a face. Raises: BadField for a day to come; ChangedMeanwhile."""
    if bared_on and bared_on > today:
        raise BadField("That day has not come yet.", "bared_on", "Give the day on which it was bared.")
    face = Face.objects.filter(cut=cut, key=key).first()
    if face is None:
        values = {"surface": surface, "metal": metal, "bared_on": bared_on}
        return Face.objects.create(cut=cut, key=key, changed_by=by, **values)
    face.save_as(version, by, surface=surface, metal=metal, bared_on=bared_on)
    return face


@one_change
def put_coat(
    repair: Repair, cut: Cut, keys: Sequence[str], name: str, *, put_on: datetime, note: str, now: datetime, by: str
) -> int:  # fmt: skip
    """A coat on some faces of a sheet. Returns: on how many. Raises: BadField: a product that is not at hand, a moment to come, or before a coat beneath."""
    product = next((each for each in products_at_hand(repair.vehicle) if each.name == name), None)
    if product is None:
        raise BadField(
            "That product is not at hand.", "product", "Choose one of the list, or write it down first."
        )
    if put_on > now:
        raise BadField(
            "That moment has not come yet.", "put_on", "Give the day and time at which it was put on."
        )
    if not keys:
        raise BadField("No face was chosen.", "faces", "Tick where it was put on.")
    for key in keys:
        face = _stored(cut, key, by)
        last = face.coats.last()
        if last and last.put_on > put_on:
            raise BadField(
                "A later coat lies on that face already.",
                "put_on",
                "Take that one back first, or give a later time.",
            )
        Coat.objects.create(
            face=face, product=product.model_dump(mode="json"), put_on=put_on, by=by, note=note.strip()
        )
    return len(keys)


@one_change
def take_coat_off(cut: Cut, key: str) -> None:
    """Take the last coat of a face back. Raises: BadField where there is none."""
    coat = Coat.objects.filter(face__cut=cut, face__key=key).last()
    if coat is None:
        raise BadField("There is no coat on that face.", "coat", "Reload the page.")
    coat.delete()


@one_change
def overrule(cut: Cut, key: str, code: str, why: str, *, by: str) -> None:
    """A rule does not count for a face, because; an empty reason takes that back. Raises: BadField for a rule that there is not."""
    if code not in RULES:
        raise BadField("There is no such rule.", "rule", "Reload the page.")
    face = _stored(cut, key, by)
    kept = {each: reason for each, reason in face.overruled.items() if each != code}
    face.set_fields(by, overruled=kept | ({code: why.strip()[:300]} if why.strip() else {}))
