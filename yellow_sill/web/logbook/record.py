"""The record of a repair: gathered once, shown on screen and on paper."""

from dataclasses import dataclass
from typing import Any

from yellow_sill.core.datum.drawn import verdict_words
from yellow_sill.core.days import day_words
from yellow_sill.core.errors import CoreError
from yellow_sill.core.formats.drawings import cut_sketch, tack_sketch
from yellow_sill.core.formats.record_pdf import RecordSheet, Section, record_pdf
from yellow_sill.core.formats.sketch import Sketch
from yellow_sill.core.formats.svg import svg_parts
from yellow_sill.core.geometry import bounds_of, size_of, widened
from yellow_sill.core.parts.lines import Sum as MoneySum
from yellow_sill.core.patch.pattern import FlatPart
from yellow_sill.core.repairs.hours import KIND_WORDS, by_kind, clock
from yellow_sill.core.said import Day, Mm, Quoted, Said, first_low, joined
from yellow_sill.web.cut.models import Cut, CutGrowth, PanelChoice, TransferMark
from yellow_sill.web.cut.stretch_services import stretches_of
from yellow_sill.web.datums.models import Round
from yellow_sill.web.datums.round_services import fit_of
from yellow_sill.web.frame import units
from yellow_sill.web.frame.pictures import photo_path, thumbnails
from yellow_sill.web.frame.sheets import sheet_said
from yellow_sill.web.parts.models import CostLine
from yellow_sill.web.parts.services import CostSums, sums, with_sums
from yellow_sill.web.patch.models import Patch
from yellow_sill.web.patch.services import Developed, developed_as_stored, pattern_marks, sketch
from yellow_sill.web.protect.record_services import protect_rows
from yellow_sill.web.repairs.models import Repair, RibbonStep
from yellow_sill.web.survey.models import Finding
from yellow_sill.web.weld.models import WeldPlan
from yellow_sill.web.weld.record_services import weld_rows

from .models import Note, Photo, WorkEntry

WINDOW_MM = 60.0  #: metal shown round a cut
PHOTO_PX = 1000  #: the longer side of a photo on paper


@dataclass(frozen=True, slots=True, kw_only=True)
class CutFacts:
    """A cut with its patch and weld: its size (mm), what was made and put on it, its drawings by name, as sketches and as SVG."""

    cut: Cut
    stretches: list[str]
    size: tuple[float, float]
    pattern: Developed | None
    weld: WeldPlan | None
    told: list[tuple[str, str]]
    transfers: list[TransferMark]
    sketches: dict[str, Sketch]
    pictures: dict[str, Any]


@dataclass(frozen=True, slots=True, kw_only=True)
class RecordFacts:
    """Everything the record says, in the order it says it; photos with whether their file is there."""

    repair: Repair
    findings: list[Finding]
    steps: list[RibbonStep]
    growths: list[CutGrowth]
    choices: list[PanelChoice]
    cuts: list[CutFacts]
    checks: list[tuple[Round, str]]
    work: list[WorkEntry]
    hours: list[tuple[str, str]]
    hours_total: str
    costs: list[tuple[CostLine, MoneySum]]
    cost_sums: CostSums
    notes: list[Note]
    photos: list[tuple[Photo, bool]]


def gather(repair: Repair) -> RecordFacts:
    """Everything the record says, in the order it says it."""
    vehicle = repair.vehicle
    cuts = list(repair.cuts.without_drawings().select_related("patch", "weld").prefetch_related("findings"))
    work = list(repair.work_entries.all())
    return RecordFacts(
        repair=repair,
        findings=list(repair.findings.select_related("panel").prefetch_related("evidence")),
        steps=list(repair.steps.all()),
        growths=list(repair.growths.select_related("panel")),
        choices=list(repair.choices.select_related("panel")),
        cuts=[_cut(cut) for cut in cuts],
        checks=[
            (check, f"{check.get_stage_display()}, round {check.number}: {check_words(check)}")
            for check in vehicle.rounds.filter(about=repair.code)
        ],
        work=work,
        hours=[
            (KIND_WORDS[kind], clock(spent))
            for kind, spent in by_kind((entry.kind, entry.minutes) for entry in work)
        ],
        hours_total=clock(sum(entry.minutes for entry in work)),
        costs=with_sums(vehicle, repair.cost_lines.all()),
        cost_sums=sums(vehicle, repair.cost_lines.all()),
        notes=list(repair.notes.all()),
        photos=[(photo, photo_path(photo.file).is_file()) for photo in repair.photos.all()],
    )


def _cut(cut: Cut) -> CutFacts:
    bounds = bounds_of(cut.outline)
    window = widened(bounds, WINDOW_MM)
    rust = [(f"{finding.number} {finding.grade or '?'}", finding.outline) for finding in cut.findings.all()]
    drawings = {"cut": cut_sketch(cut.panel.outline, rust, [cut.outline], window)}
    pattern = weld = None
    try:
        hand = cut.patch.mirror_hand
        pattern = developed_as_stored(cut)
        drawings["pattern"] = sketch(pattern, hand, pattern_marks(cut))
    except (Patch.DoesNotExist, CoreError):
        pass
    try:
        weld = cut.weld
        tacks = [
            (tack["n"], tuple(tack["at"]))
            for plan in weld.tack_plans
            for tack in plan["tacks"]
            if tack["pass"] <= 2
        ]
        if tacks:
            drawings["tacks"] = tack_sketch(cut.outline, tacks)
    except WeldPlan.DoesNotExist:
        pass
    return CutFacts(
        cut=cut,
        stretches=[each.words for each in stretches_of(cut)],
        size=size_of(bounds),
        pattern=pattern,
        weld=weld,
        told=[*weld_rows(cut), *protect_rows(cut)],
        transfers=list(cut.transfer_marks.all()),
        sketches=drawings,
        pictures={name: svg_parts(drawn) for name, drawn in drawings.items()},
    )


def check_words(check: Round) -> str:
    """What a datum round said, in one sentence."""
    fit = fit_of(check)
    return verdict_words(fit.result, None)[0] if fit.result else fit.error.what


def growth_words(growth: CutGrowth) -> str:
    """What a cut grew by."""
    return Said(
        "{day}: {words} Drawn anew with {weld} more weld, about {minutes:.0f} minutes more.",
        day=Day(growth.made_on),
        words=growth.words,
        weld=Mm(growth.added_weld_mm, 0),
        minutes=growth.added_min,
    )


def choice_words(choice: PanelChoice) -> str:
    """Which way was chosen, out of which."""
    others = [
        first_low(option["words"])
        for option in choice.options
        if option["name"] != choice.chosen and option["possible"]
    ]
    return Said("{words}, {day}", words=choice.words, day=Day(choice.decided_on)) + (
        Said("; compared with {others}.", others=joined(others, ", ")) if others else "."
    )


def _transfer_words(mark: TransferMark) -> str:
    return Said(
        "{mark}: {first} {first_name}, {second} {second_name}",
        mark=Quoted(str(mark)),
        first=Mm(mark.first_mm, bare=True),
        first_name=Quoted(mark.first_name),
        second=Mm(mark.second_mm, bare=True),
        second_name=Quoted(mark.second_name),
    )


def step_words(step: RibbonStep) -> str:
    despite = f" ({step.despite_words}: {step.despite})" if step.despite else ""
    return f"{step.state}, {step.by}{': ' + step.note if step.note else ''}{despite}"


def record_file(repair: Repair) -> bytes:
    """The record as a PDF."""
    vehicle = repair.vehicle
    cells = [
        ("Vehicle", str(vehicle)),
        ("Body no.", vehicle.body_no or "–"),
        ("State", repair.state),
        ("Since", day_words(repair.state_on)),
        ("Units", units.unit.get()),
    ]
    sections = record_sections(gather(repair))
    return record_pdf(
        sheet_said(RecordSheet(title=f"{repair.code}: {repair.title}", cells=cells, sections=sections))
    )


def record_sections(facts: RecordFacts, *, money: bool = True, photo_px: int = PHOTO_PX) -> list[Section]:
    """All that is told of a repair. Args: money: whether what it cost is told; photo_px: the longer side of a photo, 0 for none."""
    sections = [
        *_found_and_decided(facts),
        *(_cut_section(item) for item in facts.cuts),
        *_spent(facts, money, photo_px),
    ]
    return [
        section for section in sections if section.rows or section.table or section.drawings or section.photos
    ]


def _found_and_decided(facts: RecordFacts) -> list[Section]:
    """What was found, the ribbon, which way and why, growth, datum checks."""
    found = [
        (
            f"{f.number} {f.grade_word}",
            Said("{head}, {panel}: {why}", head=f.head, panel=f.panel.name, why=f.why),
        )
        for f in facts.findings
    ]
    choices = [
        (choice.panel.name, Said("{words} {why}", words=choice_words(choice), why=Quoted(choice.why)))
        for choice in facts.choices
    ]
    steps = [(day_words(step.made_on), step_words(step)) for step in facts.steps]
    growths = [(f"Cut {growth.cut_number}", growth_words(growth)) for growth in facts.growths]
    checks = [(day_words(check.taken_on), words) for check, words in facts.checks]
    return [
        Section("What was found", rows=found),
        Section("The way it went", rows=steps, columns=3),
        Section("Which way, and why", rows=choices),
        Section("Planned and found", rows=growths),
        Section("Datum checks", rows=checks),
    ]


def _cut_section(item: CutFacts) -> Section:
    """One cut with its patch and weld. Args: item: see ``_cut``."""
    cut = item.cut
    rows = [("Cut out", _cut_words(cut, item.size)), ("Its outline", joined(item.stretches, "; "))]
    if item.pattern:
        rows.append(("Patch", _patch_words(item.pattern.pattern, cut.patch)))
    if item.weld:
        rows.append(("Weld", _weld_words(item.weld)))
    rows += item.told
    if item.transfers:
        rows.append(("Transferred", joined((_transfer_words(mark) for mark in item.transfers), "; ")))
    words = {"cut": "Cut line", "pattern": "Flat pattern", "tacks": "Tacks, first passes"}
    drawings = [(words[name], drawn) for name, drawn in item.sketches.items()]
    return Section(f"Cut {cut.number}", rows=rows, drawings=drawings)


def _cut_words(cut: Cut, size: tuple[float, float]) -> str:
    return Said(
        "{wide} × {high} of {panel}, {thickness} mm; weld {weld}",
        wide=Mm(size[0], 0, bare=True),
        high=Mm(size[1], 0),
        panel=cut.panel.name,
        thickness=f"{cut.panel.thickness_mm:g}",
        weld=Mm(cut.weld_length_mm, 0),
    )


def _patch_words(flat: FlatPart, patch: Patch) -> str:
    x0, y0, x1, y1 = flat.bounding_box_mm
    return Said(
        "flat {wide} × {high}, {thickness} mm sheet, {bends} bends, {mass:.3f} kg",
        wide=Mm(x1 - x0, 1, bare=True),
        high=Mm(y1 - y0, 1),
        thickness=f"{patch.thickness_mm:g}",
        bends=len(flat.bends),
        mass=flat.mass_kg,
    )


def _weld_words(weld: WeldPlan) -> str:
    proved = f"Proved: {weld.proved}" if weld.proved else "Setting not recorded as proved."
    tacks = sum(len(plan["tacks"]) for plan in weld.tack_plans)
    return f"{weld.process.upper()}, {weld.joint}; {tacks} tacks. {proved}"


def _spent(facts: RecordFacts, money: bool, photo_px: int) -> list[Section]:
    """Hours, parts with what they cost, mistakes, notes, photos."""
    total = facts.cost_sums.total
    hours = [
        (
            day_words(e.worked_on),
            f"{e.get_kind_display()}, {clock(e.minutes)}, {e.by}{': ' + e.note if e.note else ''}",
        )
        for e in facts.work
    ]
    costs = [
        (day_words(line.bought_on), f"{line.item}, {line.supplier}" + (f": {amount.gross}" if money else ""))
        for line, amount in facts.costs
    ]
    shown = facts.photos if photo_px else []
    small = thumbnails([photo.file for photo, _ in shown], photo_px)
    photos = [(data, photo_words(*each)) for data, each in zip(small, shown, strict=True)]
    noted: dict[str, list[tuple[str, str]]] = {"mistake": [], "learnt": [], "": []}
    for n in facts.notes:
        noted[n.about].append((day_words(n.written_on), f"{n.text} ({n.by})"))
    return [
        Section(f"Hours: {facts.hours_total}", rows=hours, columns=2),
        Section(
            f"Cost: {total.gross} with tax, {total.net} without" if money else "Parts and services",
            rows=costs,
            columns=2,
        ),
        Section("Mistakes, and how they were put right", rows=noted["mistake"]),
        Section("Learnt", rows=noted["learnt"]),
        Section("Notes", rows=noted[""]),
        Section("Photos", photos=photos),
    ]


def photo_words(photo: Photo, there: bool) -> str:
    """What stands below a photo. Args: there: whether its file is."""
    words = f"{_day(photo)} {photo.stage} {photo.caption}".replace("  ", " ")
    return words if there else f"{words} (file missing)"


def _day(photo: Photo) -> str:
    return day_words(photo.taken_on) if photo.taken_on else "Day unknown:"
