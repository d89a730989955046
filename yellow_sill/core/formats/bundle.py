"""The bundle: a whole vehicle as one zip. This module is its published format; ``bundle_schema`` is its JSON Schema.

vehicle.json holds everything; findings.csv and costs.csv repeat what a spreadsheet wants; photos/ holds the pictures.
"""

import io
import json
import zipfile
import zlib
from collections import Counter
from collections.abc import Mapping, Sequence
from datetime import date, datetime
from decimal import Decimal
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError

from ..cut.asked import Millimetres, Thickness
from ..cut.lost import LOST_KINDS
from ..cut.stretches import SaidOfStretch
from ..datum.network import KINDS as KINDS_OF_READING
from ..datum.network import LEAST_SIGMA_MM, MOST_POINTS, TRUST_SIGMA_MM
from ..datum.starting_set import POINT_KINDS, SOURCES
from ..datum.walk import STAGES as ROUND_STAGES
from ..errors import BadField, BadOutline, CoreError
from ..geometry import outline_polygon
from ..records import Coordinate, Corners, OneOf, Point, Record, first_fault, once
from ..repairs.hours import KINDS
from ..repairs.ribbon import STATES as RIBBON
from ..said import Said
from ..shell.file import ViewPart as ShellViewPart
from ..survey.growth import STAGES
from ..survey.rectify import Pixel
from ..survey.thickness import LEAST_PITCH_MM, MOST_MM, MOST_PITCH_MM
from .bundle_cut import ChoicePart, GrowthPart, NuggetPart, OwnPlanPart, RulesPart, SurroundingPart
from .bundle_hold import HoldPart, HoldSetupPart
from .csv import csv_text
from .datum_table import CODE

FORMAT = "yellow-sill.bundle/1"
MOST_FILES = 5000
MOST_BYTES = 2_000_000_000  #: unpacked, all files together
MOST_JSON_BYTES = 100_000_000
_FIXED_TIME = (2000, 1, 1, 0, 0, 0)  #: so that the same vehicle gives the same bytes

PHOTO_FILE = r"^[0-9a-f]{32}\.jpg$"
Text = Annotated[str, Field(max_length=20_000)]
Name = Annotated[str, Field(max_length=150)]
Number = Annotated[int, Field(ge=1, le=1_000_000)]


class BadBundle(CoreError):
    """A file that is no bundle, or one that does not fit together."""

    code = "BAD-BUNDLE"


class LookedPart(Record):
    layer: Annotated[int, Field(ge=1, le=4)]
    outline: Corners
    method: Annotated[str, Field(max_length=10)]
    made_on: date
    made_by: Name


class ViewPart(ShellViewPart):
    """A view with the regions looked at in it."""

    looked: list[LookedPart]


class VehiclePart(Record):
    make: Annotated[str, Field(min_length=1, max_length=60)]
    model: Annotated[str, Field(min_length=1, max_length=60)]
    year: Annotated[int, Field(ge=1880, le=2100)] | None
    body_no: Annotated[str, Field(max_length=40)]
    body_type: Annotated[str, Field(max_length=60)]
    dimensions_mm: dict[str, float]
    dimensions_typed: dict[str, str]
    currency: Annotated[str, Field(min_length=3, max_length=3)]
    views: Annotated[list[ViewPart], Field(min_length=1, max_length=20)]


class EvidencePart(Record):
    method: Literal["seen", "lamp", "tap", "probe", "scaler", "gauge"]
    result: Annotated[str, Field(max_length=12)]
    hits: int | None
    tries: int | None
    thickness_mm: float | None
    made_on: date
    made_by: Name


class InspectionPart(Record):
    stage: Annotated[str, OneOf(STAGES)]
    made_on: date
    made_by: Name
    outline: Corners
    area_mm2: float
    perimeter_mm: float
    evidence: list[EvidencePart]


class ReadingPart(Record):
    column: int
    row: int
    thickness_mm: Annotated[float, Field(ge=0, le=MOST_MM)]
    by_gauge: bool
    read_on: date
    by: Name


class FarSidePart(Record):
    answer: Text
    method: Annotated[str, Field(max_length=10)]
    answered_on: date
    by: Name
    whole: bool = False
    boxes: Annotated[list[tuple[float, float, float, float]], Field(max_length=2000)] = []


class PanelItemPart(Record):
    kind: Literal["behind", "salvage", "lacking", "missing"]
    text: Annotated[str, Field(max_length=200)]
    done: bool
    by: Name


class PanelNotesPart(Record):
    """What is known of one panel beyond its findings."""

    view: str
    panel: str
    far_side: FarSidePart | None
    items: list[PanelItemPart]
    surroundings: Annotated[list[SurroundingPart], Field(max_length=200)] = []


class SurveyPhotoPart(Record):
    view: str
    panel: str
    finding: Number | None
    file: Annotated[str, Field(pattern=PHOTO_FILE)]
    caption: Annotated[str, Field(max_length=200)]
    taken_on: date
    by: Name
    trace: list[Pixel]
    reference: list[Pixel]
    size_mm: list[float] | None
    distances_mm: list[float] | None
    marks: list[Pixel]
    on_panel: list[Pixel]
    seen_from: Literal["", "drawn", "behind"] = ""


class FindingPart(Record):
    number: Number
    view: str
    panel: str
    title: Annotated[str, Field(max_length=80)]
    outline: Corners
    outline_typed: Text
    area_mm2: float
    bounds_mm: Annotated[list[float], Field(min_length=4, max_length=4)]
    grade: Literal["", "O", "S", "P", "T", "H", "F"]
    why: Text
    note: Text
    found_on: date
    found_by: Name
    overruled_to: Literal["", "O", "S", "P", "T", "H", "F"]
    overruled_reason: Text
    old_kind: Annotated[str, Field(max_length=10)]
    old_test: Annotated[str, Field(max_length=10)]
    old_verdict: Literal["", "undo", "keep"]
    grid_pitch_mm: Annotated[float, Field(ge=LEAST_PITCH_MM, le=MOST_PITCH_MM)]
    inspections: Annotated[list[InspectionPart], Field(min_length=1)]
    readings: list[ReadingPart]


class StepPart(Record):
    state: Annotated[str, OneOf(RIBBON)]
    made_on: date
    by: Name
    note: Annotated[str, Field(max_length=300)]
    despite: Annotated[str, Field(max_length=2000)] = ""


class DatumPointPart(Record):
    code: Annotated[str, Field(pattern=CODE.pattern)]
    name: Annotated[str, Field(max_length=60)]
    kind: Annotated[str, OneOf(POINT_KINDS)]
    how: Annotated[str, Field(max_length=200)]
    x_mm: Coordinate
    y_mm: Coordinate
    z_mm: Coordinate
    typed: list[Annotated[str, Field(max_length=20)]]
    source: Annotated[str, OneOf(SOURCES)]
    source_note: Annotated[str, Field(max_length=200)]
    tolerance_mm: Annotated[float, Field(gt=0, le=100)]
    trusted: bool
    trust_sigma_mm: Annotated[float, Field(ge=LEAST_SIGMA_MM, le=20)] = TRUST_SIGMA_MM
    mirror_code: Annotated[str, Field(max_length=12)]


class DatumReadingPart(Record):
    kind: Annotated[str, OneOf(KINDS_OF_READING)]
    codes: Annotated[list[str], Field(min_length=1, max_length=3)]
    value: float
    typed: Annotated[str, Field(max_length=40)]
    by: Name
    made_at: datetime
    device: Annotated[str, Field(max_length=6)]
    struck_why: Annotated[str, Field(max_length=200)]


class RoundPart(Record):
    number: Number
    stage: Annotated[str, OneOf(ROUND_STAGES)]
    about: Annotated[str, Field(max_length=12)]
    taken_on: date
    by: Name
    note: Annotated[str, Field(max_length=2000)]
    tape_sigma_mm: Annotated[float, Field(gt=0, le=100)]
    height_sigma_mm: Annotated[float, Field(gt=0, le=100)]
    plan: Annotated[list[tuple[Annotated[str, OneOf(KINDS_OF_READING)], list[str]]], Field(max_length=2000)]
    readings: list[DatumReadingPart]


class StandPart(Record):
    id: Annotated[str, Field(min_length=1, max_length=6)]
    x_mm: Coordinate
    y_mm: Coordinate
    packed_mm: Annotated[float, Field(ge=0, le=1000)]
    most_mm: Annotated[float, Field(gt=0, le=1000)]


class StandSetPart(Record):
    stands: Annotated[list[StandPart], Field(max_length=4)]
    packers_mm: Annotated[list[Annotated[float, Field(gt=0, le=200)]], Field(max_length=20)]
    packers_typed: Annotated[str, Field(max_length=120)]
    rigid: bool
    log: list[dict[str, Any]]


class DatumsPart(Record):
    """The datum book, the measuring rounds and the stands."""

    points: Annotated[list[DatumPointPart], Field(max_length=MOST_POINTS)] = []
    rounds: list[RoundPart] = []
    stand_set: StandSetPart | None = None


class TransferPart(Record):
    number: Number
    name: Annotated[str, Field(max_length=60)]
    kind: Annotated[str, OneOf(LOST_KINDS)]
    first_name: Annotated[str, Field(max_length=40)]
    second_name: Annotated[str, Field(max_length=40)]
    first_at: Point
    second_at: Point
    apart_mm: float | None
    way: Literal["distances", "offset"]
    first_mm: float
    second_mm: float
    near: Point
    at: Point
    error_mm: float
    remarks: list[dict[str, Any]]
    measured_on: date
    by: Name


class PatchPart(Record):
    thickness_mm: Thickness
    gap_mm: Millimetres
    k_factor: float
    trim_allowance_mm: Millimetres
    sides: dict[str, dict[str, Any]]
    mirror_hand: bool


class WeldPart(Record):
    process: Literal["mig", "tig", "spot", "braze"]
    joint: Literal["butt", "lap", "joggle", "plug"]
    pitch_mm: Millimetres
    cooling: Literal["still", "blown"]
    limit_c: float
    ambient_c: float
    tack_energy_j: float | None
    cautions: list[str]
    cautions_on: date | None = None
    proved: Annotated[str, Field(max_length=300)]
    tack_plans: list[dict[str, Any]]


class CutPart(Record):
    number: Number
    view: str
    panel: str
    findings: list[int]
    proposed_corners: Corners
    corners: Corners
    outline: Corners
    weld_length_mm: float
    area_mm2: float
    remarks: list[dict[str, Any]]
    patch: PatchPart | None
    weld: WeldPart | None
    transfer_marks: list[TransferPart] = []
    said: Annotated[list[SaidOfStretch], Field(max_length=200)] = []


class WorkPart(Record):
    worked_on: date
    kind: Annotated[str, OneOf(KINDS)]
    minutes: Annotated[int, Field(gt=0, le=1440)]
    typed: Annotated[str, Field(max_length=20)]
    note: Annotated[str, Field(max_length=300)]
    by: Name


class CostPart(Record):
    bought_on: date
    supplier: Annotated[str, Field(max_length=80)]
    item: Annotated[str, Field(max_length=120)]
    kind: Literal["steel", "part", "consumable", "coating", "tool", "service"]
    quantity: Annotated[Decimal, Field(gt=0, max_digits=10, decimal_places=3)]
    unit_price: Annotated[Decimal, Field(ge=0, max_digits=12, decimal_places=4)]
    tax_rate: Annotated[Decimal, Field(ge=0, le=100, max_digits=5, decimal_places=2)]
    tax_included: bool
    by: Name


class NotePart(Record):
    written_on: date
    text: Text
    by: Name


class PhotoPart(Record):
    file: Annotated[str, Field(pattern=PHOTO_FILE)]
    caption: Annotated[str, Field(max_length=200)]
    taken_on: date
    by: Name


class NothingLostPart(Record):
    """Who said on which day that nothing goes with a repair's pieces; ``cuts`` marks the cuts it was said of."""

    on: date
    by: Name
    cuts: Annotated[str, Field(max_length=16)]


class RepairPart(Record):
    number: Number
    title: Annotated[str, Field(max_length=80)]
    findings: list[int]
    style: Literal["rectangle", "hull"]
    margin_mm: Millimetres
    corner_radius_mm: Millimetres
    web_mm: Millimetres
    nothing_lost: NothingLostPart | None = None
    steps: Annotated[list[StepPart], Field(min_length=1)]
    cuts: list[CutPart]
    choices: Annotated[list[ChoicePart], Field(max_length=100)] = []
    growths: Annotated[list[GrowthPart], Field(max_length=500)] = []
    nuggets: Annotated[list[NuggetPart], Field(max_length=5000)] = []
    own_plans: Annotated[list[OwnPlanPart], Field(max_length=200)] = []
    work: list[WorkPart]
    costs: list[CostPart]
    notes: list[NotePart]
    photos: list[PhotoPart]


class Bundle(Record):
    """Everything known of one vehicle."""

    format: Literal["yellow-sill.bundle/1"]
    vehicle: VehiclePart
    findings: list[FindingPart]
    panel_notes: list[PanelNotesPart]
    survey_photos: list[SurveyPhotoPart]
    datums: DatumsPart = DatumsPart()
    hold_setup: HoldSetupPart | None = None
    hold: HoldPart = HoldPart()
    plan_rules: RulesPart | None = None
    repairs: list[RepairPart]
    work: list[WorkPart]
    costs: list[CostPart]


def bundle_schema() -> dict[str, Any]:
    """The JSON Schema of vehicle.json."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **Bundle.model_json_schema()}


def write_bundle(bundle: Bundle, photos: Mapping[str, bytes]) -> bytes:
    """Pack a bundle.

    Args: bundle: the vehicle; photos: the pictures' bytes by the file name in PhotoPart.
    Returns: the zip. The same vehicle gives the same bytes.
    """
    stream = io.BytesIO()
    currency = bundle.vehicle.currency
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as archive:

        def add(name: str, data: str | bytes, compress: int = zipfile.ZIP_DEFLATED) -> None:
            info = zipfile.ZipInfo(name, _FIXED_TIME)
            info.compress_type, info.external_attr = compress, 0o644 << 16
            archive.writestr(info, data)

        add("vehicle.json", json.dumps(bundle.model_dump(mode="json"), ensure_ascii=False, indent=1))
        add("schema.json", json.dumps(bundle_schema(), indent=1))
        add("findings.csv", "\ufeff" + findings_csv(bundle))
        add("costs.csv", "\ufeff" + costs_csv(bundle, currency))
        for name in sorted(photos):
            add(f"photos/{name}", photos[name], zipfile.ZIP_STORED)
    return stream.getvalue()


def findings_csv(bundle: Bundle) -> str:
    head = [
        "finding",
        "title",
        "view",
        "panel",
        "grade",
        "why",
        "area_mm2",
        "u0_mm",
        "v0_mm",
        "u1_mm",
        "v1_mm",
        "found_on",
        "found_by",
        "repairs",
    ]
    repairs: dict[int, list[str]] = {number: [] for number in (finding.number for finding in bundle.findings)}
    for repair in bundle.repairs:
        for number in repair.findings:
            repairs.setdefault(number, []).append(f"R-{repair.number:02d}")
    return csv_text(
        head,
        (
            [
                f.number,
                f.title,
                f.view,
                f.panel,
                f.grade,
                f.why,
                f.area_mm2,
                *f.bounds_mm,
                f.found_on.isoformat(),
                f.found_by,
                " ".join(repairs[f.number]),
            ]
            for f in bundle.findings
        ),
    )


def costs_csv(bundle: Bundle, currency: str) -> str:
    head = [
        "repair",
        "bought_on",
        "supplier",
        "item",
        "kind",
        "quantity",
        "unit_price",
        "currency",
        "tax_rate_pct",
        "tax_included",
        "entered_by",
    ]
    lines = [("", cost) for cost in bundle.costs] + [
        (f"R-{repair.number:02d}", cost) for repair in bundle.repairs for cost in repair.costs
    ]
    return csv_text(
        head,
        (
            [
                code,
                c.bought_on.isoformat(),
                c.supplier,
                c.item,
                c.kind,
                c.quantity,
                c.unit_price,
                currency,
                c.tax_rate,
                "yes" if c.tax_included else "no",
                c.by,
            ]
            for code, c in lines
        ),
    )


#: What a zip that was cut short, scrambled or locked may raise while it is read.
DAMAGED = (zipfile.BadZipFile, zlib.error, EOFError, OSError, RuntimeError, NotImplementedError)


def read_bundle(data: bytes) -> tuple[Bundle, dict[str, bytes]]:
    """Unpack and check a bundle.

    Returns: the vehicle and its pictures by file name.
    Raises: BadBundle: no zip, too large, not our format, a value out of range (with its path), a missing photo or panel.
    """
    try:
        archive = zipfile.ZipFile(io.BytesIO(data))
        members = archive.infolist()
    except (zipfile.BadZipFile, ValueError, OSError):
        raise BadBundle(
            "This file is no bundle: it is not a zip.", "bundle", "Choose the .zip that was exported."
        ) from None
    if len(members) > MOST_FILES or sum(member.file_size for member in members) > MOST_BYTES:
        raise BadBundle("This bundle is larger than 2 GB unpacked.", "bundle", "It cannot be one of ours.")
    names = {member.filename: member for member in members}
    if len(names) < len(members):
        twice = Counter(member.filename for member in members).most_common(1)[0][0]
        raise BadBundle(
            Said("'{twice}' is in this zip twice.", twice=twice[:60]),
            "bundle",
            "Nobody can say which of them counts: export it again.",
        )
    if "vehicle.json" not in names or names["vehicle.json"].file_size > MOST_JSON_BYTES:
        raise BadBundle(
            "There is no vehicle.json in this zip.", "bundle", "Choose the .zip that was exported."
        )
    try:
        text = archive.read("vehicle.json")
        json.loads(text, object_pairs_hook=once)
        bundle = Bundle.model_validate_json(text)
    except BadField as error:
        raise BadBundle(
            error.what, "vehicle.json", "The file was changed by hand: take one of them out."
        ) from None
    except (ValueError, RecursionError) as error:
        if not isinstance(error, ValidationError):
            raise BadBundle(
                "vehicle.json is not JSON.",
                "vehicle.json",
                "The file was changed or comes from a newer version.",
            ) from None
        fault = first_fault(error)
        raise BadBundle(
            fault.what, f"vehicle.json: {fault.where}", "The file was changed or comes from a newer version."
        ) from None
    except DAMAGED:
        raise BadBundle(
            "This zip is damaged.", "bundle", "Copy it again from where it was exported."
        ) from None
    _check_links(bundle)
    photos = {}
    for what, photo in photos_of(bundle):
        name = f"photos/{photo.file}"
        if name not in names:
            raise BadBundle(
                Said("A photo of {what} is missing.", what=what), name, "Export the bundle again."
            )
        try:
            photos[photo.file] = archive.read(name)
        except DAMAGED:
            raise BadBundle(
                "A photo in this zip is damaged.", name, "Copy the bundle again from where it was exported."
            ) from None
    return bundle, photos


def photos_of(bundle: Bundle) -> list[tuple[str, PhotoPart | SurveyPhotoPart]]:
    """Every photo with what it belongs to, in words."""
    return [(f"R-{repair.number:02d}", photo) for repair in bundle.repairs for photo in repair.photos] + [
        (p.panel, p) for p in bundle.survey_photos
    ]


def _check_datums(datums: DatumsPart) -> None:
    codes = [point.code for point in datums.points]
    if len({code.strip().casefold() for code in codes}) < len(codes):
        raise BadBundle("Two datum points bear the same name.", "vehicle.json: datums.points")
    numbers = [each.number for each in datums.rounds]
    if len(set(numbers)) < len(numbers):
        raise BadBundle("Two rounds bear the same number.", "vehicle.json: datums.rounds")
    for i, each in enumerate(datums.rounds):
        for k, reading in enumerate(each.readings):
            if unknown := [code for code in reading.codes if code not in codes]:
                raise BadBundle(
                    Said(
                        "Round {number} reads a point {unknown} that is not in the book.",
                        number=each.number,
                        unknown=unknown[0],
                    ),
                    f"vehicle.json: datums.rounds[{i}].readings[{k}]",
                )


def _check_outlines(bundle: Bundle) -> None:
    """Every outline of a bundle is one: no bow-tie, none without area."""

    def check(outline: Sequence, where: str) -> None:
        try:
            outline_polygon(outline, where)
        except BadOutline as error:
            raise BadBundle(error.what, f"vehicle.json: {where}", error.mend) from None

    for i, view in enumerate(bundle.vehicle.views):
        for k, panel in enumerate(view.panels):
            check(panel.outline, f"vehicle.views[{i}].panels[{k}].outline")
    for i, finding in enumerate(bundle.findings):
        check(finding.outline, f"findings[{i}].outline")
        for k, look in enumerate(finding.inspections):
            check(look.outline, f"findings[{i}].inspections[{k}].outline")
    for i, repair in enumerate(bundle.repairs):
        for k, cut in enumerate(repair.cuts):
            check(cut.corners, f"repairs[{i}].cuts[{k}].corners")
            check(cut.outline, f"repairs[{i}].cuts[{k}].outline")


def _check_shell(bundle: Bundle) -> None:
    views = [view.name for view in bundle.vehicle.views]
    if len(set(views)) < len(views):
        raise BadBundle("Two views bear the same name.", "vehicle.json: vehicle.views")
    for i, view in enumerate(bundle.vehicle.views):
        codes = [panel.code for panel in view.panels]
        if len(set(codes)) < len(codes):
            raise BadBundle(
                Said("Two panels of the view '{name}' bear the same code.", name=view.name),
                f"vehicle.json: vehicle.views[{i}].panels",
            )


def _check_links(bundle: Bundle) -> None:
    _check_shell(bundle)
    _check_outlines(bundle)
    panels = {(view.name, panel.code) for view in bundle.vehicle.views for panel in view.panels}
    numbers = [finding.number for finding in bundle.findings]
    if len(set(numbers)) < len(numbers):
        raise BadBundle("Two findings bear the same number.", "vehicle.json: findings")
    for i, finding in enumerate(bundle.findings):
        if (finding.view, finding.panel) not in panels:
            raise BadBundle(
                Said("Finding {number} is on a panel that the shell does not have.", number=finding.number),
                f"vehicle.json: findings[{i}].panel",
            )
    for i, notes in enumerate(bundle.panel_notes):
        if (notes.view, notes.panel) not in panels:
            raise BadBundle(
                Said("Notes are on a panel {panel} that the shell does not have.", panel=notes.panel),
                f"vehicle.json: panel_notes[{i}].panel",
            )
        if len({own.name for own in notes.surroundings}) < len(notes.surroundings):
            raise BadBundle(
                Said("Two things round {panel} bear the same name.", panel=notes.panel),
                f"vehicle.json: panel_notes[{i}].surroundings",
            )
    for i, photo in enumerate(bundle.survey_photos):
        if (photo.view, photo.panel) not in panels or photo.finding not in (None, *numbers):
            raise BadBundle(
                "A photo is of a panel or finding that is not in the bundle.",
                f"vehicle.json: survey_photos[{i}]",
            )
    _check_datums(bundle.datums)
    codes = [repair.number for repair in bundle.repairs]
    if len(set(codes)) < len(codes):
        raise BadBundle("Two repairs bear the same number.", "vehicle.json: repairs")
    for i, repair in enumerate(bundle.repairs):
        for number in [*repair.findings, *(n for cut in repair.cuts for n in cut.findings)]:
            if number not in numbers:
                raise BadBundle(
                    Said(
                        "R-{number:02d} mends finding {number2}, which is not in the bundle.",
                        number=repair.number,
                        number2=number,
                    ),
                    f"vehicle.json: repairs[{i}].findings",
                )
        numbered = [cut.number for cut in repair.cuts]
        if len(set(numbered)) < len(numbered):
            raise BadBundle(
                Said("Two cuts of R-{number:02d} bear the same number.", number=repair.number),
                f"vehicle.json: repairs[{i}].cuts",
            )
        for cut in repair.cuts:
            if (cut.view, cut.panel) not in panels:
                raise BadBundle(
                    Said(
                        "A cut of R-{number:02d} is in a panel that the shell does not have.",
                        number=repair.number,
                    ),
                    f"vehicle.json: repairs[{i}].cuts",
                )
        for what in ("choices", "growths", "nuggets", "own_plans"):
            if any((part.view, part.panel) not in panels for part in getattr(repair, what)):
                raise BadBundle(
                    Said(
                        "A plan of R-{number:02d} is for a panel that the shell does not have.",
                        number=repair.number,
                    ),
                    f"vehicle.json: repairs[{i}].{what}",
                )
        for what, keys in (
            ("choices", [(c.view, c.panel) for c in repair.choices]), ("own_plans", [(p.view, p.panel, p.name) for p in repair.own_plans]),
        ):  # fmt: skip
            if len(set(keys)) < len(keys):
                raise BadBundle(
                    Said("R-{number:02d} plans the same thing twice.", number=repair.number),
                    f"vehicle.json: repairs[{i}].{what}",
                )
