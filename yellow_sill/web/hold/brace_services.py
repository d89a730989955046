"""Braces in the real world: what is fitted, its cut list, what it is in the way of, and what happens when one comes out."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from math import radians, tan

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.hold.access import blocked_by, in_the_way
from yellow_sill.core.hold.asked import Brace
from yellow_sill.core.hold.bodies import panels_of
from yellow_sill.core.hold.own_panels import counted
from yellow_sill.core.hold.tubes import FOOT_PLATE_DEG, SQUARE_DEG, CutList, TubeCut, cut_list
from yellow_sill.core.hold.verdict import Held
from yellow_sill.core.hold.words import between, part_name, said_plainly
from yellow_sill.core.said import Said, joined
from yellow_sill.core.shell.planes import Plane
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.shells.models import Panel, Vehicle

from .models import HoldSetup
from .order_services import work_order_of
from .services import Facts, body_of, facts_of, has_structure, held_of, request_of
from .setups import ENDS, TUBES, Fitted, Setup, setup_of, store_setup

#: How high a tube is drawn on the cut list.
TUBE_PX = 24
_WORSE = ("HELD", "SOFT", "LOOSE")


@dataclass(frozen=True, slots=True, kw_only=True)
class BraceRow:
    """One brace: in words, its tube, what it is in the way of, and the shell without it; ``fault`` where no tube fits."""

    fitted: Fitted
    words: str
    cut: TubeCut | None
    cut_words: str
    fault: str
    access: str
    blocks: list[str]
    without: Held | None
    too_early: bool

    @property
    def _mitres(self) -> tuple[float, float]:
        return (self.cut.mitre_start_deg, self.cut.mitre_end_deg) if self.cut else (0.0, 0.0)

    @property
    def _ends(self) -> str:
        return self.cut.ends if self.cut else ""

    @property
    def mitres(self) -> list[str]:
        """Each end in a word or two."""
        if self._ends == "bolted":
            return ["tab", "tab"]
        return [
            "plate" if deg > FOOT_PLATE_DEG else "square" if deg < SQUARE_DEG else f"{deg:.0f}°"
            for deg in self._mitres
        ]

    @property
    def drawn(self) -> dict[str, str]:
        """The tube with its mitres, in px of its little drawing."""
        lean = [
            TUBE_PX * tan(radians(deg)) if deg <= FOOT_PLATE_DEG and self._ends == "welded" else 0.0
            for deg in self._mitres
        ]
        return {"d": f"M10 8H410L{410 - lean[1]:.1f} {8 + TUBE_PX}H{10 + lean[0]:.1f}Z"}


def brace_sheet(vehicle: Vehicle, facts: Facts) -> tuple[list[BraceRow], dict[str, float]]:
    """Every brace, and how much bar of each size they take, mm. Raises: BadField."""
    request, now = request_of(facts), held_of(facts)
    coming = parts_ahead(vehicle, facts)
    rows: list[BraceRow] = []
    bar: dict[str, float] = {}
    by_pair = {(brace.start, brace.end): brace for brace in request.braces}
    for fitted in facts.setup.braces:
        brace = by_pair.get(fitted.pair)
        words = between(fitted.start, fitted.end)
        if brace is None:
            rows.append(
                BraceRow(
                    fitted=fitted, words=words, cut=None, cut_words="", fault="It ends on the chassis, which is away.", access="", blocks=[], without=None,
                    too_early=False,
                )
            )  # fmt: skip
            continue
        cut, fault = None, ""
        try:
            told: CutList = cut_list(request, [brace])
            cut = told.tubes[0]
            bar = {
                size: round(bar.get(size, 0.0) + told.bar_mm.get(size, 0.0), 1)
                for size in sorted({*bar, *told.bar_mm})
            }
        except BadField as error:
            fault = said_plainly(str(error.what))
        without = _without(facts, fitted)
        rows.append(
            BraceRow(
                fitted=fitted, words=words, cut=cut, cut_words=said_plainly(cut.words) if cut else "", fault=fault,
                access=", ".join(in_the_way(request, fitted.start, fitted.end, ())), blocks=_blocks(request, brace, coming), without=without,
                too_early=without is not None and _WORSE.index(without.verdict) > _WORSE.index(now.verdict),
            )
        )  # fmt: skip
    return rows, bar


def parts_ahead(vehicle: Vehicle, facts: Facts) -> list[str]:
    """Parts that are worked on: those out now, those with a piece out, and those whose steps in the order of work are not done."""
    order = work_order_of(vehicle)
    ahead = [step["action"][1:] for step in order.steps if not step["done_on"]] if order else []
    opened = {opening.panel for opening in facts.openings}
    cut = [part for part in request_of(facts).parts if opened & set(panels_of(part))]
    return list(dict.fromkeys([*facts.setup.out, *cut, *ahead]))


def taken_out_too_early(kept: Setup, facts: Facts, held: Held) -> list[str]:
    """Braces that a try leaves out although the shell would be better with them, in words. Raises: BadField."""
    still = {brace.pair for brace in facts.setup.braces}
    gone = tuple(brace for brace in kept.braces if brace.pair not in still)
    if not gone:
        return []
    with_them = held_of(replace(facts, setup=replace(facts.setup, braces=(*facts.setup.braces, *gone))))
    better = _WORSE.index(with_them.verdict) < _WORSE.index(held.verdict)
    return [between(brace.start, brace.end) for brace in gone] if better else []


def blocking(facts: Facts, part: str) -> list[str]:
    """Braces that block work on a part, in words. Raises: BadField."""
    request = request_of(facts)
    there = [
        (brace, how)
        for brace in request.braces
        if part in request.parts and (how := blocked_by(request, brace, part))
    ]
    return [joined((between(brace.start, brace.end), how)) for brace, how in there]


def _blocks(request, brace: Brace, parts: Sequence[str]) -> list[str]:
    there = [
        (part, how) for part in parts if part in request.parts and (how := blocked_by(request, brace, part))
    ]
    return [Said("{part}: {how}", part=part_name(part), how=how) for part, how in there]


def _without(facts: Facts, fitted: Fitted) -> Held | None:
    rest = tuple(brace for brace in facts.setup.braces if brace != fitted)
    try:
        return held_of(replace(facts, setup=replace(facts.setup, braces=rest)))
    except CoreError:
        return None


class TooEarly(Exception):
    """Without this brace the shell is worse than now; ``held`` is how it would be."""

    def __init__(self, fitted: Fitted, now: Held, held: Held) -> None:
        super().__init__(fitted, now, held)
        self.fitted, self.now, self.held = fitted, now, held


@one_change
def change_brace(
    vehicle: Vehicle, data: Mapping[str, str], *, version: int | None, by: str, today: date
) -> HoldSetup:
    """Change a brace's tube, ends or day, or take it out. ``data``: pair (A-B), tube, ends, fitted_on, remove, despite.

    Raises: TooEarly where it comes out and the shell gets worse; ChangedMeanwhile; BadField.
    """
    setup = Setup.of(setup_of(vehicle))
    fitted = next((brace for brace in setup.braces if "-".join(brace.pair) == data.get("pair")), None)
    if fitted is None:
        raise BadField("There is no such brace.", "pair", "It may have been taken out meanwhile.")
    rest = tuple(brace for brace in setup.braces if brace != fitted)
    if data.get("remove"):
        now, without = (
            held_of(facts_of(vehicle, setup)),
            held_of(facts_of(vehicle, replace(setup, braces=rest))),
        )
        if _WORSE.index(without.verdict) > _WORSE.index(now.verdict) and not data.get("despite"):
            raise TooEarly(fitted, now, without)
        return store_setup(vehicle, replace(setup, braces=rest), version=version, by=by, today=today)
    changed = replace(
        fitted,
        tube=data.get("tube", ""),
        ends=data.get("ends", ""),
        fitted_on=_day(data.get("fitted_on", ""), today),
    )
    if changed.tube not in TUBES or changed.ends not in ENDS:
        raise BadField("There is no such tube.", "tube", f"Choose one of: {', '.join(TUBES)}.")
    braces = tuple(changed if brace == fitted else brace for brace in setup.braces)
    return store_setup(vehicle, replace(setup, braces=braces), version=version, by=by, today=today)


def _day(text: str, today: date) -> str:
    try:
        day = date.fromisoformat(text)
    except ValueError:
        raise BadField("This is not a day.", "fitted_on", "Write it as 2026-05-31.") from None
    if day > today:
        raise BadField("This day is yet to come.", "fitted_on", "Write the day it was fitted.")
    return day.isoformat()


def uncounted_panels(vehicle: Vehicle, facts: Facts) -> list[tuple[str, str]]:
    """Panels that count for nothing in the hold: code and name."""
    known = counted(request_of(facts).parts)
    panels = (
        Panel.objects.filter(view__vehicle=vehicle).order_by("code").only("code", "name", "named_by_hand")
    )
    rows = {panel.code: panel.name for panel in panels}
    return [(code, name) for code, name in rows.items() if code not in known]


@one_change
def tie_panel(
    vehicle: Vehicle, panel: str, nodes: Sequence[str], *, version: int | None, by: str, today: date
) -> HoldSetup:
    """Tie a person's own panel to the places it is welded to; without places it counts for nothing again. Raises: ChangedMeanwhile; BadField."""
    setup = Setup.of(setup_of(vehicle))
    rest = tuple(tie for tie in setup.ties if tie[0] != panel)
    if not Panel.objects.filter(view__vehicle=vehicle, code=panel).exists():
        raise BadField("There is no such panel.", "tie", "Choose it from the list.")
    ties = (*rest, (panel, tuple(nodes))) if nodes else rest
    setup = replace(setup, ties=ties)
    held_of(facts_of(vehicle, setup))
    return store_setup(vehicle, setup, version=version, by=by, today=today)


def brace_lines(vehicle: Vehicle, setup: Setup, plane: Plane) -> list[tuple[list[float], list[float]]]:
    """The braces of a setup as lines on a drawing, mm; one whose ends the body does not know is left out. Raises: BadField."""
    if not setup.braces or not has_structure(vehicle):
        return []
    _, nodes = body_of(vehicle.body_type, tuple(vehicle.dimensions_mm.items()), setup.on_chassis)
    known = [brace.pair for brace in setup.braces if set(brace.pair) <= nodes.keys()]
    return [(plane.drawn(nodes[a]), plane.drawn(nodes[b])) for a, b in known]
