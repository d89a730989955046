"""Whether the parts of a bundle fit together."""

from collections.abc import Callable, Hashable, Iterable, Sequence
from typing import cast

from ..errors import BadField, BadOutline
from ..geometry import outline_polygon
from ..parts.receipt import ReceiptRequest, receipt
from ..said import Said
from ..strip.register import RegisterRequest, register
from .bundle_base import BadBundle
from .bundle_datums import DatumsPart
from .bundle_money import ReceiptPart, SurplusPart
from .bundle_needs import NeedPart
from .bundle_order import check_calendar
from .bundle_parts import Bundle
from .bundle_record import PhotoPart
from .bundle_repairs import RepairPart
from .bundle_shell import CurveWordPart, EdgeWordPart
from .bundle_strip import StripPartPart
from .bundle_survey import SurveyPhotoPart
from .bundle_weld import CouponPart

#: Whatever has a photo of its own.
Pictured = PhotoPart | SurveyPhotoPart | CouponPart | StripPartPart | NeedPart | ReceiptPart | SurplusPart


def photos_of(bundle: Bundle) -> list[tuple[str, Pictured]]:
    """Every photo with what it belongs to, in words."""
    found: list[tuple[str, Pictured]] = [
        (f"R-{repair.number:02d}", photo) for repair in bundle.repairs for photo in repair.photos
    ]
    found += [("the vehicle", photo) for photo in bundle.photos]
    found += [(photo.panel, photo) for photo in bundle.survey_photos]
    more: list[Pictured] = [
        *bundle.welding.coupons,
        *bundle.strip,
        *bundle.needs,
        *bundle.money.receipts,
        *bundle.money.surplus,
    ]
    return found + [(each.caption, each) for each in more if each.file]


def _once(keys: Iterable[Hashable], what: str, where: str) -> None:
    """Raises: BadBundle where one key comes twice."""
    seen = set()
    for key in keys:
        if key in seen:
            raise BadBundle(what, f"vehicle.json: {where}")
        seen.add(key)


def _check_datums(datums: DatumsPart) -> None:
    codes = [point.code for point in datums.points]
    names = (code.strip().casefold() for code in codes)
    _once(names, "Two datum points bear the same name.", "datums.points")
    numbers = (each.number for each in datums.rounds)
    _once(numbers, "Two rounds bear the same number.", "datums.rounds")
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


def _check_needs(needs: Sequence[NeedPart]) -> None:
    _once((each.number for each in needs), "Two needs bear the same number.", "needs")
    for i, each in enumerate(needs):
        numbers = [quote.number for quote in each.quotes]
        _once(numbers, "Two quotes bear the same number.", f"needs[{i}].quotes")
        _once((quote.name for quote in each.quotes), "Two quotes bear the same name.", f"needs[{i}].quotes")
        if each.chosen is not None and each.chosen not in numbers:
            raise BadBundle("A quote was taken that is not there.", f"vehicle.json: needs[{i}].chosen")


def _check_money(bundle: Bundle) -> None:
    """Receipts add up or say why they stand; every number is there once; what is booked has a payment."""
    money = bundle.money
    for what in ("receipts", "statements", "budgets", "suppliers", "orders", "surplus", "papers"):
        _once(
            (each.number for each in getattr(money, what)),
            "Two records bear the same number.",
            f"money.{what}",
        )
    _once((each.name for each in money.suppliers), "Two suppliers bear the same name.", "money.suppliers")
    keys = [line.key for each in money.statements for line in each.lines]
    _once(keys, "One payment is told of twice.", "money.statements")
    costs = [*bundle.costs, *(cost for repair in bundle.repairs for cost in repair.costs)]
    told = [key for each in money.receipts for key in each.paid_by] + [
        key for each in costs for key in each.paid_by
    ]
    _once(told, "One payment paid two things.", "money")
    if unknown := [key for key in told if key not in set(keys)]:
        raise BadBundle(
            f"Something was paid by a payment {unknown[0]} that is on no statement.", "vehicle.json: money"
        )
    for i, each in enumerate(money.receipts):
        asked = each.model_dump(include=set(ReceiptRequest.model_fields) - {"lines"})
        lines = [
            line.model_dump(include={"item", "quantity", "tax_rate", "discount"}) | {"price": line.unit_price}
            for line in each.lines
        ]
        try:
            adds_up = receipt(ReceiptRequest.read(asked | {"lines": lines})).adds_up
        except BadField as error:
            raise BadBundle(error.what, f"vehicle.json: money.receipts[{i}]", error.mend) from None
        if adds_up is False and not each.despite:
            raise BadBundle(
                "A receipt does not add up, and nobody says why it stands.",
                f"vehicle.json: money.receipts[{i}]",
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
    views = (view.name for view in bundle.vehicle.views)
    _once(views, "Two views bear the same name.", "vehicle.views")
    for i, view in enumerate(bundle.vehicle.views):
        codes = (panel.code for panel in view.panels)
        what = Said("Two panels of the view '{name}' bear the same code.", name=view.name)
        _once(codes, what, f"vehicle.views[{i}].panels")


def _check_said(bundle: Bundle, panels: set[tuple[str, str]]) -> None:
    """What was said of edges and curves is of panels that are there, and of each thing once."""
    told = bundle.shell
    for name, words in (("edges", told.edges), ("curves", told.curves)):
        for i, word in enumerate(cast("list[EdgeWordPart | CurveWordPart]", words)):
            if (word.view, word.panel) not in panels:
                raise BadBundle(
                    Said(
                        "Something is said of a panel {panel} that the shell does not have.", panel=word.panel
                    ),
                    f"vehicle.json: shell.{name}[{i}].panel",
                )
    _once(
        ((word.view, word.panel) for word in told.curves), "One panel's curve is said twice.", "shell.curves"
    )
    _once((word.code for word in told.cavities), "One cavity is told of twice.", "shell.cavities")
    _once((word.code for word in told.hung), "One hung part is told of twice.", "shell.hung")


def _check_photos(bundle: Bundle) -> None:
    """A pair is of two photos of this vehicle; a photo's place is in a view that there is."""
    photos = [*bundle.photos, *(photo for repair in bundle.repairs for photo in repair.photos)]
    files, views = {photo.file for photo in photos}, {view.name for view in bundle.vehicle.views}
    for photo in photos:
        if photo.view and photo.view not in views:
            raise BadBundle(
                Said("A photo lies in a view '{view}' that the shell does not have.", view=photo.view),
                "vehicle.json: photos",
            )
    for i, pair in enumerate(bundle.photo_pairs):
        if pair.before not in files or pair.after not in files or pair.before == pair.after:
            raise BadBundle(
                "Before and after are not two photos of this vehicle.", f"vehicle.json: photo_pairs[{i}]"
            )
    _once(
        ((pair.before, pair.after) for pair in bundle.photo_pairs),
        "Two photos are laid over one another twice.",
        "photo_pairs",
    )


def check_links(bundle: Bundle) -> None:
    """Raises: BadBundle: the first of what does not fit together."""
    for check in link_checks(bundle):
        check()


def link_checks(bundle: Bundle) -> list[Callable[[], object]]:
    """What is looked at, one by one; each raises BadBundle (or another CoreError) where something does not fit together."""
    panels = {(view.name, panel.code) for view in bundle.vehicle.views for panel in view.panels}
    numbers = {finding.number for finding in bundle.findings}
    checks: list[Callable[[], object]] = [
        lambda: _check_shell(bundle), lambda: _check_outlines(bundle), lambda: _check_findings(bundle, panels),
        lambda: _check_notes(bundle, panels, numbers), lambda: _check_said(bundle, panels), lambda: _check_datums(bundle.datums),
        lambda: _check_needs(bundle.needs), lambda: _check_money(bundle), lambda: _check_numbers(bundle), lambda: check_calendar(bundle.calendar),
        lambda: _check_photos(bundle),
    ]  # fmt: skip
    for i, repair in enumerate(bundle.repairs):
        checks.append(lambda i=i, repair=repair: _check_repair(repair, i, panels, numbers))  # type: ignore[misc]
        checks.append(lambda i=i, repair=repair: _check_plans(repair, i, panels))  # type: ignore[misc]
    return [*checks, lambda: _check_files(bundle)]


def _check_numbers(bundle: Bundle) -> None:
    """What bears a number bears one of its own; what comes off waits for nothing in a ring."""
    repairs = (repair.number for repair in bundle.repairs)
    _once(repairs, "Two repairs bear the same number.", "repairs")
    for what in ("coupons", "hot_works"):
        numbered = (each.number for each in getattr(bundle.welding, what))
        _once(numbered, "Two records bear the same number.", f"welding.{what}")
    _once(
        (each.number for each in bundle.protection.products),
        "Two products bear the same number.",
        "protection.products",
    )
    register(
        RegisterRequest.read(
            {
                "parts": [
                    {"number": each.number, "name": each.name, "after": each.after} for each in bundle.strip
                ]
            }
        )
    )


def _check_files(bundle: Bundle) -> None:
    """Each photo has a file of its own."""
    files = [(photo.file, f"survey_photos[{i}].file") for i, photo in enumerate(bundle.survey_photos)]
    files += [(photo.file, f"photos[{i}].file") for i, photo in enumerate(bundle.photos)]
    files += [
        (photo.file, f"repairs[{i}].photos[{k}].file")
        for i, repair in enumerate(bundle.repairs)
        for k, photo in enumerate(repair.photos)
    ]
    files += [
        (each.file, f"welding.coupons[{i}].file")
        for i, each in enumerate(bundle.welding.coupons)
        if each.file
    ]
    files += [(each.file, f"strip[{i}].file") for i, each in enumerate(bundle.strip) if each.file]
    files += [(each.file, f"needs[{i}].file") for i, each in enumerate(bundle.needs) if each.file]
    files += [
        (each.file, f"money.receipts[{i}].file") for i, each in enumerate(bundle.money.receipts) if each.file
    ]
    files += [
        (each.file, f"money.surplus[{i}].file") for i, each in enumerate(bundle.money.surplus) if each.file
    ]
    seen = set()
    for file, where in files:
        if file in seen:
            raise BadBundle("Two photos have the same file.", f"vehicle.json: {where}")
        seen.add(file)


def _check_findings(bundle: Bundle, panels: set[tuple[str, str]]) -> None:
    numbers = (finding.number for finding in bundle.findings)
    _once(numbers, "Two findings bear the same number.", "findings")
    for i, finding in enumerate(bundle.findings):
        if (finding.view, finding.panel) not in panels:
            raise BadBundle(
                Said("Finding {number} is on a panel that the shell does not have.", number=finding.number),
                f"vehicle.json: findings[{i}].panel",
            )
        cells = ((reading.column, reading.row) for reading in finding.readings)
        _once(cells, "Two readings of a thickness lie in one cell.", f"findings[{i}].readings")


def _check_notes(bundle: Bundle, panels: set[tuple[str, str]], numbers: set[int]) -> None:
    """Notes of panels, what lies round them, and photos."""
    of = ((notes.view, notes.panel) for notes in bundle.panel_notes)
    _once(of, "One panel has notes twice.", "panel_notes")
    for i, notes in enumerate(bundle.panel_notes):
        if (notes.view, notes.panel) not in panels:
            raise BadBundle(
                Said("Notes are on a panel {panel} that the shell does not have.", panel=notes.panel),
                f"vehicle.json: panel_notes[{i}].panel",
            )
        names = (own.name for own in notes.surroundings)
        what = Said("Two things round {panel} bear the same name.", panel=notes.panel)
        _once(names, what, f"panel_notes[{i}].surroundings")
    for i, photo in enumerate(bundle.survey_photos):
        if (photo.view, photo.panel) not in panels or photo.finding not in (None, *numbers):
            raise BadBundle(
                "A photo is of a panel or finding that is not in the bundle.",
                f"vehicle.json: survey_photos[{i}]",
            )


def _check_repair(repair: RepairPart, i: int, panels: set[tuple[str, str]], numbers: set[int]) -> None:
    """The findings and cuts of a repair. Args: i: its place in the bundle."""
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
    numbered = (cut.number for cut in repair.cuts)
    what = Said("Two cuts of R-{number:02d} bear the same number.", number=repair.number)
    _once(numbered, what, f"repairs[{i}].cuts")
    for k, cut in enumerate(repair.cuts):
        _once((face.key for face in cut.faces), "One face is told of twice.", f"repairs[{i}].cuts[{k}].faces")
        marks = (mark.number for mark in cut.transfer_marks)
        _once(marks, "Two transfer marks bear the same number.", f"repairs[{i}].cuts[{k}].transfer_marks")
        if (cut.view, cut.panel) not in panels:
            raise BadBundle(
                Said(
                    "A cut of R-{number:02d} is in a panel that the shell does not have.",
                    number=repair.number,
                ),
                f"vehicle.json: repairs[{i}].cuts",
            )


def _check_plans(repair: RepairPart, i: int, panels: set[tuple[str, str]]) -> None:
    """What was chosen and planned for the panels of a repair. Args: i: its place in the bundle."""
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
        twice = Said("R-{number:02d} plans the same thing twice.", number=repair.number)
        _once(keys, twice, f"repairs[{i}].{what}")
