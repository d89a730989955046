"""The survey report on paper: cover, forecast, a drawing and a list for every view."""

from yellow_sill.core.days import day_words
from yellow_sill.core.formats.drawings import view_sketch
from yellow_sill.core.formats.record_pdf import RecordSheet, Section, record_pdf
from yellow_sill.core.said import Day, Metres, Mm2, Quoted, Said
from yellow_sill.core.shell import LAYERS
from yellow_sill.web.frame import units
from yellow_sill.web.frame.pictures import photo_path
from yellow_sill.web.frame.sheets import sheet_said
from yellow_sill.web.shells.models import ShellView, Vehicle

from .coverage_services import Cover, cover_of
from .listing import forecast
from .models import Finding, Inspection, LookedRegion, PanelItem

#: A report shows so many photos; all of them are in the bundle.
MOST_PHOTOS = 24


def _surveyed(vehicle: Vehicle) -> str:
    """From when to when, and by whom."""
    looks = Inspection.objects.filter(finding__vehicle=vehicle).values_list("made_on", "made_by")
    looked = [*looks, *LookedRegion.objects.filter(view__vehicle=vehicle).values_list("made_on", "made_by")]
    if not looked:
        return "Nobody has looked it over yet."
    days, names = [day for day, _ in looked], sorted({name for _, name in looked})
    spell = (
        day_words(min(days))
        if min(days) == max(days)
        else f"{day_words(min(days))} to {day_words(max(days))}"
    )
    return f"{spell}, by {', '.join(names)}."


def report_file(vehicle: Vehicle) -> bytes:
    """The report as a PDF."""
    cover = cover_of(vehicle, 8)
    found = list(
        vehicle.findings.select_related("panel__view").defer(
            "panel__view__features", "panel__view__silhouette"
        )
    )
    items = PanelItem.objects.filter(panel__view__vehicle=vehicle).select_related("panel")
    aside = [(item.panel.code, f"{item.get_kind_display()}: {item.text}") for item in items]
    sections = [
        _whole(vehicle, cover, len(found)),
        Section("Look here next", rows=[(place.code, place.why) for place, _ in cover.next_places]),
        *(
            _view(view, [f for f in found if f.panel.view_id == view.pk])
            for view in vehicle.views.prefetch_related("panels").defer("features")
        ),
        Section("Behind, to save, lacking, missing", rows=aside),
        Section("Photos", photos=_photos(vehicle)),
    ]
    cells = [
        ("Vehicle", str(vehicle)),
        ("Body no.", vehicle.body_no or "–"),
        ("Year", str(vehicle.year or "–")),
        ("Units", units.unit.get()),
    ]
    kept = [section for section in sections if section.rows or section.drawings or section.photos]
    return record_pdf(sheet_said(RecordSheet(title=f"Survey: {vehicle}", cells=cells, sections=kept)))


def _whole(vehicle: Vehicle, cover: Cover, found: int) -> Section:
    """The whole shell: how many findings, how much was looked at, what it is likely to come to."""
    likely = forecast(vehicle)
    layers = ", ".join(f"{name} {share * 100:.0f} %" for name, share in cover.layers)
    looked = f"{cover.whole * 100:.0f} % of the sheet by area ({layers}). What nobody has looked at is unknown, not sound."
    end = Said(
        "{area} of metal, {weld} of weld, {hours:.0f} h; once in five above {more_area}, {more_weld}, {more_hours:.0f} h. "
        "From {cases} opened findings.",
        area=Mm2(likely.area_mm2.p50, 0, large=True),
        weld=Metres(likely.weld_mm.p50),
        hours=likely.hours.p50,
        more_area=Mm2(likely.area_mm2.p80, 0, large=True),
        more_weld=Metres(likely.weld_mm.p80),
        more_hours=likely.hours.p80,
        cases=likely.cases,
    )
    rows = [
        ("Findings", str(found)),
        ("Surveyed", _surveyed(vehicle)),
        ("Looked at", looked),
        ("Likely in the end", end),
    ]
    return Section("The whole shell", rows=rows)


def _view(view: ShellView, here: list[Finding]) -> Section:
    """A drawing of a view and a list of what was found in it."""
    panels = [
        (panel.outline, panel.holes) for panel in view.panels.all() if not view.layered or panel.layer == 1
    ]
    drawings = [(view.title, view_sketch(panels, [(f"{f.number}", f.outline) for f in here]))] if here else []
    rows = [
        (
            f"{f.number} {f.grade_word}",
            Said(
                "{head}, {panel}, {layer}: {area}. {why}",
                head=f.head,
                panel=f.panel.code,
                layer=Said(LAYERS[f.panel.layer - 1]),
                area=Mm2(f.area_mm2, 1, large=True),
                why=f.why,
            ),
        )
        for f in here
    ]
    none = [("None", "Nothing recorded here yet.")]
    return Section(f"{view.title}: {len(here)} found", rows=rows or none, drawings=drawings)


def _photos(vehicle: Vehicle) -> list[tuple[bytes | None, str]]:
    return [
        (
            photo_path(photo.file).read_bytes() if photo_path(photo.file).is_file() else None,
            Said(
                "{what}, {day}",
                what=Quoted(photo.caption) if photo.caption else photo.panel.name,
                day=Day(photo.taken_on),
            ),
        )
        for photo in vehicle.survey_photos.select_related("panel").order_by("taken_on", "pk")[:MOST_PHOTOS]
    ]
