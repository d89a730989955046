"""What a dossier says, section by section: the title, the metal, the rounds, each repair, what is not known."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date
from functools import partial

from django.utils import timezone

from yellow_sill.core.days import day_words
from yellow_sill.core.errors import CoreError
from yellow_sill.core.formats.dossier import not_printed, without_names
from yellow_sill.core.formats.record_pdf import Photo as Picture
from yellow_sill.core.formats.record_pdf import RecordSheet, Section
from yellow_sill.core.formats.sketch import Sketch
from yellow_sill.core.geometry import bounds_of, middle_of
from yellow_sill.core.protect.look_again import LookAgain, LookAgainRequest, WaxedBox, look_again
from yellow_sill.core.protect.products import WAXES
from yellow_sill.core.record.metal import RANKS, MapRequest
from yellow_sill.core.repairs.ribbon import STATES
from yellow_sill.core.said import Count, Said, joined
from yellow_sill.web.cut.gate_services import far_sides
from yellow_sill.web.datums.models import Round
from yellow_sill.web.datums.round_services import averages, fit_of
from yellow_sill.web.frame import units
from yellow_sill.web.frame.pictures import thumbnails
from yellow_sill.web.frame.sheets import sheet_said
from yellow_sill.web.logbook.models import Photo
from yellow_sill.web.logbook.record import check_words, gather, photo_words, record_sections
from yellow_sill.web.protect.face_services import looks_inside
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import ShellView, Vehicle

from .kinds import KINDS
from .metal_services import map_of
from .pair_services import laid_pictures

#: The longer side of a photo by what was chosen, px.
PHOTOS = {"none": 0, "small": 500, "large": 1400}
#: Photos of no repair stand in sections of so many.
A_SECTION = 30


@dataclass(frozen=True, slots=True, kw_only=True)
class Choices:
    """What goes into a dossier; ``others``: photos of no repair too."""

    repairs: tuple[int, ...]
    money: bool
    names: bool
    photos: str
    form: str
    bundle: bool
    others: bool = False

    def told(self) -> Said:
        """In words, for the title sheet and the list."""
        return joined(
            [
                Said("{count}", count=Count(len(self.repairs), "repair", "repairs")),
                Said("with what it cost") if self.money else Said("without money"),
                Said("with names") if self.names else Said("without names"),
                Said("{photos} photos", photos=self.photos)
                if self.photos != "none"
                else Said("without photos"),
                *([Said("those of no repair too")] if self.others and self.photos != "none" else []),
                Said("the bundle inside") if self.bundle else Said("without the bundle"),
            ],
            ", ",
        )


def sheet_of(
    vehicle: Vehicle,
    choices: Choices,
    *,
    today: date,
    progress: Callable[[float], None] = lambda _share: None,
    keep: Callable[[bytes], Picture] = lambda data: data,
) -> RecordSheet:
    """All that a dossier says. Args: keep: puts a photo away until it is printed, and tells where. Raises: CoreError."""
    repairs = list(vehicle.repairs.filter(number__in=choices.repairs))
    sections = [_title(vehicle, choices, today), *_metal(vehicle), *_rounds(vehicle)]
    others = _others(vehicle)
    sections += _told_of(repairs, others if choices.others else [], choices, progress, keep)
    left = 0 if choices.others else len(others)
    boxes, unknown = _cavities(repairs, today), _unknown(vehicle, repairs, left)
    sections += [boxes, replace(unknown, new_page=not _says(boxes))]
    cells = [
        ("Vehicle", str(vehicle)),
        ("Body no.", vehicle.body_no or "–"),
        ("Made", day_words(today)),
        ("Units", units.unit.get()),
    ]
    said = sheet_said(
        RecordSheet(
            title=f"Dossier: {vehicle}", cells=cells, sections=[each for each in sections if _says(each)]
        )
    )
    if letters := not_printed(said):
        missing = Section(
            "Not printed",
            rows=[
                (
                    "Letters",
                    Said(
                        "No font here has {letters}; they stand as their numbers.", letters=" ".join(letters)
                    ),
                )
            ],
        )
        said = sheet_said(RecordSheet(title=said.title, cells=said.cells, sections=[*said.sections, missing]))
    if choices.names:
        return said
    return RecordSheet(
        title=said.title,
        cells=said.cells,
        sections=without_names(said.sections, people_of(vehicle)),
        foot=said.foot,
    )


def _told_of(
    repairs: Sequence[Repair], others: Sequence[Photo], choices: Choices, progress: Callable[[float], None], keep: Callable[[bytes], Picture],
) -> Iterator[Section]:  # fmt: skip
    """Each repair, and photos of none; each photo is put away at once."""
    heaps = [others[at : at + A_SECTION] for at in range(0, len(others), A_SECTION)]
    told = [
        *(partial(_repair, repair, choices) for repair in repairs),
        *(partial(_photos, heap, n, PHOTOS[choices.photos]) for n, heap in enumerate(heaps)),
    ]
    for n, sections in enumerate(told):
        progress(n / len(told))
        for section in sections():
            kept = [
                (keep(data) if isinstance(data, bytes) else data, words) for data, words in section.photos
            ]
            yield replace(section, photos=kept)


def _others(vehicle: Vehicle) -> list[Photo]:
    """The photos of which somebody said that they are of no repair."""
    return list(vehicle.photos.filter(repair=None).exclude(sorted_by=""))


def _photos(photos: Sequence[Photo], nth: int, longest_px: int) -> Iterator[Section]:
    """A page or two of photos of no repair. Args: nth: so many such sections come before it."""
    first = nth * A_SECTION + 1
    small = thumbnails([photo.file for photo in photos], longest_px) if longest_px else []
    yield Section(
        f"Photos of no repair, {first} to {first + len(photos) - 1}", new_page=True,
        photos=[(data, photo_words(photo, data is not None)) for data, photo in zip(small, photos, strict=False)],
    )  # fmt: skip


def _says(section: Section) -> bool:
    return bool(section.rows or section.table or section.drawings or section.photos)


def people_of(vehicle: Vehicle) -> list[str]:
    """The names of everybody who wrote anything down, as they signed it."""
    found: set[str] = {vehicle.changed_by, vehicle.owner.get_username(), vehicle.owner.get_full_name()}
    for kind in KINDS.values():
        fields = {field.name for field in kind.record._meta.concrete_fields}
        for name in (
            "by",
            "made_by",
            "changed_by",
            "found_by",
            "begun_by",
            "watched_by",
            "agreed_by",
            "customer",
        ):
            if name in fields:
                found |= set(kind.of(vehicle.pk).values_list(name, flat=True).distinct())
    return sorted(name for name in found if name)


def _title(vehicle: Vehicle, choices: Choices, today: date) -> Section:
    last = vehicle.repairs.order_by("-state_on").first()
    what = "The record of work on the shell of {vehicle}, made on {day} from what was written down while it was done."
    code = "The code in the head of each page is the sum of all that is said here; Yellow Sill's command verify sees whether a byte of the file was altered."
    caution = (
        "No structural approval. Chassis, seat-belt, suspension and steering mounts need qualified inspection; "
        "local rules and licensed practice come first."
    )
    rows = [
        ("What it is", Said(what, vehicle=str(vehicle), day=day_words(today))),
        ("In it", choices.told()),
        ("Words of", Said("Those who did the work. Nobody else has checked them.")),
        ("Last entry", day_words(last.state_on) if last else "–"),
        ("Code", Said(code)),
        ("Not", Said(caution)),
    ]
    return Section(str(vehicle), rows=rows)


def _metal(vehicle: Vehicle) -> list[Section]:
    asked, told = map_of(vehicle)
    rows = [(f"{what.capitalize()}", f"{100 * share:.1f} %") for what, share in told.shares.items()]
    if told.seams_original is not None:
        rows.append(
            (
                "Edges",
                Said(
                    "{share:.1f} % of the length of the edges of what was looked at is original",
                    share=100 * told.seams_original,
                ),
            )
        )
    counted = [(RANKS[rank], share) for rank, share in told.by_rank.items() if rank and share is not None]
    rows += [
        (words, Said("{share:.1f} % original of what was looked at", share=100 * share))
        for words, share in counted
    ]
    rows += [("" if n else "Known", words) for n, words in enumerate(told.words)]
    marked = {each.view for each in asked.pieces} | {each.view for each in asked.old}
    drawn = [(view.title, _map_sketch(view, asked)) for view in vehicle.views.all() if view.name in marked]
    pieces = [["Repair", "Sheet", "State", "Since", "Thickness"]] + [
        [f"R-{each.repair:02d}", each.code, each.state, day_words(each.since) if each.since else "–", f"{each.thickness_mm:g} mm" if each.thickness_mm else "–"]
        for each in asked.pieces
    ]  # fmt: skip
    return [
        Section("The metal, by what it is", rows=rows, drawings=drawn),
        Section("New metal", table=pieces if len(pieces) > 1 else []),
    ]


def _map_sketch(view: ShellView, asked: MapRequest) -> Sketch:
    drawn = Sketch()
    outer = [panel for panel in view.panels.all() if not view.layered or panel.layer == 1]
    for panel in outer:
        drawn.stroke("panel", panel.outline, closed=True)
    for old in asked.old:
        if old.view == view.name:
            drawn.stroke("mark", old.outline, closed=True)
    named: set[int] = set()
    tall = 0.05 * (view.bounds[2] - view.bounds[0]) / 2
    for each in asked.pieces:
        if each.view == view.name:
            drawn.stroke("cut" if each.is_out else "new", each.outline, closed=True)
            if each.repair not in named:
                drawn.label(f"R-{each.repair:02d}", middle_of(bounds_of(each.outline)), tall)
            named.add(each.repair)
    return drawn


def _rounds(vehicle: Vehicle) -> list[Section]:
    """Every measuring round in words; of the first and the last one all points, and the lengths that both read."""
    rounds = [each for each in vehicle.rounds.all() if fit_of(each).result]
    rows = [
        (day_words(each.taken_on), Said("{round}: {words}", round=str(each), words=check_words(each)))
        for each in rounds
    ]
    sections = [Section("Measuring rounds", rows=rows)]
    if len(rounds) > 1:
        sections += [_points(rounds[0], rounds[-1]), _lengths(rounds[0], rounds[-1])]
    return sections


def _points(first: Round, last: Round) -> Section:
    results = [fit_of(each).result for each in (first, last)]
    before, after = ({point.id: point for point in result.points} if result else {} for result in results)
    way = lambda point: f"{point.dx_mm:+.1f} {point.dy_mm:+.1f} {point.dz_mm:+.1f}"  # noqa: E731
    table = [["Point", f"Round {first.number}: aft, right, up, mm", f"Round {last.number}"]] + [
        [code, way(before[code]), way(after[code])] for code in before if code in after
    ]  # fmt: skip
    return Section("Out of place, before and after", table=table if len(table) > 1 else [])


def _lengths(first: Round, last: Round) -> Section:
    read = [{each.key: each for each in averages(round_)} for round_ in (first, last)]
    table = [["Between", f"Round {first.number}", f"Round {last.number}", "Change"]]
    for key, each in read[0].items():
        if key in read[1] and len(each.codes) == 2:
            after = read[1][key].value
            table.append(
                [
                    " – ".join(each.codes),
                    f"{each.value:.1f} mm",
                    f"{after:.1f} mm",
                    f"{after - each.value:+.1f} mm",
                ]
            )
    return Section("Diagonals and lengths, before and after", table=table if len(table) > 1 else [])


def _repair(repair: Repair, choices: Choices) -> Iterator[Section]:
    """A repair: its head, what was behind, then all that its record says."""
    behind = [
        (panel.code, answer.answer) for panel, answer, _ in far_sides(repair) if answer and answer.answer
    ]
    state = Said("{state}, since {day}", state=repair.state, day=day_words(repair.state_on))
    rows: list[tuple[str, str]] = [("State", state), *((f"Behind {code}", words) for code, words in behind)]
    yield Section(f"{repair.code} {repair.title}", rows=rows, new_page=True)
    for section in record_sections(gather(repair), money=choices.money, photo_px=PHOTOS[choices.photos]):
        yield Section(
            f"{repair.code}: {section.head}", rows=section.rows, table=section.table, columns=section.columns, drawings=section.drawings,
            photos=section.photos,
        )  # fmt: skip
    if px := PHOTOS[choices.photos]:
        yield Section(
            f"{repair.code}: Before and after, laid over one another", photos=laid_pictures(repair, px)
        )


def cavities_of(repairs: list[Repair], today: date) -> list[LookAgain]:
    """The boxes of some repairs, by when their wax is to be looked at next."""
    boxes = []
    for repair in repairs:
        for cut in repair.cuts.select_related("panel__view").prefetch_related("faces__coats"):
            if looks_inside(cut):
                coats = [coat for face in cut.faces.all() for coat in face.coats.all()]
                waxed = [
                    timezone.localtime(coat.put_on).date()
                    for coat in coats
                    if coat.product.get("kind") in WAXES
                ]
                boxes.append(WaxedBox(name=f"{repair.code} {cut.panel.code} inside", waxed=waxed))
    return look_again(LookAgainRequest(boxes=boxes, today=today))


def _cavities(repairs: list[Repair], today: date) -> Section:
    rows: list[tuple[str, str]] = [(each.name, each.words) for each in cavities_of(repairs, today)]
    return Section("Boxes, and when their wax is to be looked at", rows=rows, new_page=True)


def _unknown(vehicle: Vehicle, repairs: list[Repair], left: int) -> Section:
    """What nobody knows, or nobody has written down, and what is left out. Args: left: so many photos of no repair are."""
    rows: list[tuple[str, str]] = []
    try:
        _, told = map_of(vehicle)
        if (share := told.shares["not looked at"]) > 0:
            rows.append(("Not looked at", Said("{share:.0f} % of the metal", share=100 * share)))
    except CoreError:
        rows.append(("Metal", Said("The metal map cannot be told.")))
    if ungraded := vehicle.findings.filter(grade="", overruled_to="").count():
        rows.append(("Not graded", Said("{count}", count=Count(ungraded, "finding", "findings"))))
    for repair in repairs:
        if repair.state != STATES[-1]:
            rows.append((repair.code, Said("is not signed off: it is {state}.", state=repair.state)))
        for panel, _answer, why in far_sides(repair):
            if why and repair.state not in (STATES[0],):
                rows.append((repair.code, Said("What is behind {panel}: {why}.", panel=panel.code, why=why)))
        for cut in repair.cuts.select_related("weld"):
            weld = getattr(cut, "weld", None)
            if weld is not None and not weld.proved:
                rows.append(
                    (
                        repair.code,
                        Said(
                            "The weld setting of cut {number} is not recorded as proved.", number=cut.number
                        ),
                    )
                )
    open_ = vehicle.repairs.exclude(number__in=[repair.number for repair in repairs]).count()
    if open_:
        rows.append(
            (
                "Left out",
                Said("{count} not in this dossier", count=Count(open_, "more repair is", "more repairs are")),
            )
        )
    if left:
        photos = Count(left, "photo of no repair is", "photos of no repair are")
        rows.append(("Left out", Said("{count} not in this dossier", count=photos)))
    nothing = [("–", Said("Nothing that was asked for is lacking here."))]
    return Section("What is not known", rows=rows or nothing)
