"""What still holds a vehicle's shell: its structure in the state of survey, repairs and setup; kept by what it follows from."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from functools import lru_cache
from typing import Any

from django.db.models import Avg, OuterRef, Subquery
from django.urls import reverse

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.hold.asked import HoldRequest
from yellow_sill.core.hold.bodies import BODIES, body_layout, stand_places, usual_stands, vehicle_structure
from yellow_sill.core.hold.braces import BracePlan, BraceRequest, advise
from yellow_sill.core.hold.condition import (
    Opening,
    Spot,
    area_of_panel,
    opening_to,
    share_of_area,
    with_condition,
)
from yellow_sill.core.hold.own_panels import Tie, tied
from yellow_sill.core.hold.sides import both_sides, both_sides_words
from yellow_sill.core.hold.verdict import Held, Judge
from yellow_sill.core.hold.words import cure, reason
from yellow_sill.core.said import Said
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.once import once
from yellow_sill.web.frame.revision import by_revision
from yellow_sill.web.frame.strip import Hold
from yellow_sill.web.shells.models import Panel, Vehicle
from yellow_sill.web.survey.models import EvidenceItem, Finding, GridReading, LookedRegion

from .models import HoldSetup
from .setups import ENDS, TUBES, CutTo, Setup, setup_of, setup_on, store_setup
from .works import works

#: Taped dimensions by name, mm.
Sizes = tuple[tuple[str, float], ...]


def has_structure(vehicle: Vehicle) -> bool:
    return vehicle.body_type in BODIES


@dataclass(frozen=True, slots=True, kw_only=True)
class Facts:
    """Everything a state follows from; what is worked out is kept by it."""

    body_type: str
    dimensions: Sizes
    spots: tuple[Spot, ...]
    openings: tuple[Opening, ...]
    setup: Setup
    ties: tuple[Tie, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Metal:
    """What survey and repairs say of the metal: findings by number, pieces out, findings that are mended."""

    spots: list[tuple[int, Spot]]
    openings: tuple[Opening, ...]
    mended: frozenset[int]


@once
def metal_of(vehicle: Vehicle, day: date | None = None) -> Metal:
    """The metal of now, or at the end of a day as far as repairs go."""
    done = works(vehicle, day)
    return Metal(spots=_spots(vehicle), openings=done.openings, mended=done.mended)


def facts_of(
    vehicle: Vehicle,
    setup: Setup,
    metal: Metal | None = None,
    *,
    mended: Collection[int] = (),
    without: str = "",
    openings: Sequence[Opening] = (),
) -> Facts:
    """The facts of a setup.

    Args:
        metal: as it is now, by default. mended: findings to take for mended beside those that are.
        without: code of a repair whose pieces are taken for in; openings: more that are out.
    Raises: BadField for a cut that cannot be.
    """
    metal = metal or metal_of(vehicle)
    holes = [opening for opening in metal.openings if not without or opening.why != without]
    gone = metal.mended | set(mended)
    return Facts(
        body_type=vehicle.body_type, dimensions=tuple(vehicle.dimensions_mm.items()), spots=tuple(spot for number, spot in metal.spots if number not in gone),
        openings=(*holes, *openings, *_cut_openings(vehicle, setup.cuts)), setup=setup, ties=_ties(vehicle, setup),
    )  # fmt: skip


def facts_now(vehicle: Vehicle) -> Facts:
    """The facts as the shell stands. Raises: BadField."""
    return facts_of(vehicle, Setup.of(setup_of(vehicle)))


def facts_on(vehicle: Vehicle, day: date) -> Facts:
    """The facts of the end of a day, with the rust that is known today. Raises: BadField."""
    return facts_of(vehicle, setup_on(vehicle, day), metal_of(vehicle, day))


def _cut_openings(vehicle: Vehicle, cuts: Sequence[CutTo]) -> list[Opening]:
    openings = []
    for cut in cuts:
        panel = (
            Panel.objects.filter(view__vehicle=vehicle, view__name=cut.view, code=cut.panel)
            .select_related("view")
            .first()
        )
        if panel is None:
            raise BadField(
                f"There is no panel {cut.panel} in this view.", "cut", "Tap the panel again where it is cut."
            )
        openings.append(
            opening_to(
                panel.code,
                panel.view.plane,
                panel.outline,
                (cut.u, cut.v),
                Said("cut to here, {panel}", panel=panel.name),
            )
        )
    return openings


def _ties(vehicle: Vehicle, setup: Setup) -> tuple[Tie, ...]:
    if not setup.ties:
        return ()
    codes = [panel for panel, _ in setup.ties]
    thickness = dict(
        Panel.objects.filter(view__vehicle=vehicle, code__in=codes).values_list("code", "thickness_mm")
    )
    return tuple(
        Tie(panel=panel, thickness_mm=thickness[panel], nodes=nodes)
        for panel, nodes in setup.ties
        if panel in thickness
    )


@lru_cache(maxsize=32)
def _whole(body_type: str, dimensions: Sizes, on_chassis: bool, ties: tuple[Tie, ...]) -> dict[str, Any]:
    """A whole, sound structure as plain values. Raises: BadField."""
    structure = vehicle_structure(body_type, dict(dimensions), on_chassis=on_chassis)
    if structure is None:
        raise BadField(
            "There is no structure for this body type.", "body_type", f"Those with one: {', '.join(BODIES)}."
        )
    return tied(structure, ties)


@lru_cache(maxsize=32)
def body_of(body_type: str, dimensions: Sizes, on_chassis: bool):
    """The body's layout and its nodes. Raises: BadField."""
    return body_layout(body_type, dict(dimensions), on_chassis=on_chassis)


def layout_of(body_type: str, dimensions: Sizes, on_chassis: bool):
    return body_of(body_type, dimensions, on_chassis)[0]


def stand_nodes(facts: Facts) -> list[str]:
    """Places a stand may be put under."""
    return stand_places(layout_of(facts.body_type, facts.dimensions, facts.setup.on_chassis))


def stands_of(facts: Facts) -> list[str]:
    """The nodes the shell stands on: those chosen, or the usual ones where none was, or where the chosen went with the chassis."""
    nodes = _whole(facts.body_type, facts.dimensions, facts.setup.on_chassis, facts.ties)["nodes"]
    chosen = facts.setup.stands
    if chosen is None or (chosen and not set(chosen) & nodes.keys()):
        return usual_stands(layout_of(facts.body_type, facts.dimensions, facts.setup.on_chassis))
    return [name for name in chosen if name in nodes]


@lru_cache(maxsize=64)
def request_of(facts: Facts) -> HoldRequest:
    """The structure in a state.

    Raises: BadField: a body type without a structure, an unknown part, place or tube.
    """
    return HoldRequest.read(values_of(facts))


def values_of(facts: Facts) -> dict[str, Any]:
    """The structure in a state as plain values; raises as ``request_of``."""
    setup = facts.setup
    _check_tube(setup.tube, setup.ends)
    whole = _whole(facts.body_type, facts.dimensions, setup.on_chassis, facts.ties)
    values = with_condition(whole, facts.spots, facts.openings, setup.new)
    known = (
        values["parts"]
        if setup.on_chassis
        else _whole(facts.body_type, facts.dimensions, True, ())["parts"] | values["parts"]
    )
    for name in (*setup.out, *setup.new):
        if name not in known:
            raise BadField(f"There is no part {name}.", "out", "Choose it from the list.")
    for name in setup.out:
        if name in values["parts"]:
            values["parts"][name]["present"] = False
    values["braces"] = [
        told for brace in setup.braces if (told := _brace_values(brace, values["nodes"], setup.on_chassis))
    ]
    values["stands"] = stands_of(facts)
    return values | _ground_values(facts)


def _ground_values(facts: Facts) -> dict[str, Any]:
    setup = facts.setup
    lumps = layout_of(facts.body_type, facts.dimensions, setup.on_chassis).lumps(
        engine=setup.engine_in, doors=setup.doors_on
    )
    return {"lumps": lumps, "softness": setup.softness}


def _brace_values(brace, nodes: Collection[str], on_chassis: bool) -> dict[str, Any] | None:
    """A brace as plain values; None where it ends on the chassis, which is away. Raises: BadField."""
    _check_tube(brace.tube, brace.ends)
    if not on_chassis and not set(brace.pair) <= set(nodes):
        return None
    size, wall = TUBES[brace.tube]
    return {"from": brace.start, "to": brace.end, "size_mm": size, "wall_mm": wall, "ends": brace.ends}


def _check_tube(tube: str, ends: str) -> None:
    if tube not in TUBES or ends not in ENDS:
        raise BadField("There is no such tube.", "tube", f"Choose one of: {', '.join(TUBES)}.")


@by_revision(32, "survey", "shells")
def _spots(vehicle: Vehicle) -> list[tuple[int, Spot]]:
    """All rust that was found, by the finding's number."""
    grid = (
        GridReading.objects.filter(finding=OuterRef("pk"))
        .values("finding")
        .annotate(mean=Avg("thickness_mm"))
        .values("mean")
    )
    looked = (
        EvidenceItem.objects.filter(finding=OuterRef("pk"), thickness_mm__isnull=False)
        .order_by("-made_on", "-pk")
        .values("thickness_mm")[:1]
    )
    found = Finding.objects.filter(vehicle=vehicle).annotate(grid=Subquery(grid), looked=Subquery(looked))
    panels = {panel.pk: panel for panel in Panel.objects.filter(findings__vehicle=vehicle).distinct()}
    wholes = {key: area_of_panel(panel.outline) for key, panel in panels.items()}
    rows = found.values_list("number", "panel_id", "grade", "area_mm2", "grid", "looked")
    return [
        (
            number,
            Spot(
                panel=panels[key].code,
                grade=grade,
                share=share_of_area(area, wholes[key]),
                left=None if (read := mean or one) is None else read / panels[key].thickness_mm,
            ),
        )
        for number, key, grade, area, mean, one in rows
    ]


@lru_cache(maxsize=128)
def held_of(facts: Facts) -> Held:
    """What holds the shell. Raises: BadField."""
    request = request_of(facts)
    return judge_of(facts).judge(request.parts, request.braces)


def judge_of(facts: Facts) -> Judge:
    """The judge of a shell as it stands, kept while only its parts and braces change. Raises: BadField."""
    setup = facts.setup
    return _judge(
        facts.body_type,
        facts.dimensions,
        setup.on_chassis,
        facts.ties,
        tuple(stands_of(facts)),
        setup.engine_in,
        setup.doors_on,
        setup.softness,
    )


@lru_cache(maxsize=12)
def _judge(
    body_type: str,
    dimensions: Sizes,
    on_chassis: bool,
    ties: tuple[Tie, ...],
    stands: tuple[str, ...],
    engine: bool,
    doors: bool,
    softness: float,
) -> Judge:
    lumps = layout_of(body_type, dimensions, on_chassis).lumps(engine=engine, doors=doors)
    whole = _whole(body_type, dimensions, on_chassis, ties)
    return Judge(HoldRequest.read(whole | {"stands": list(stands), "lumps": lumps, "softness": softness}))


@lru_cache(maxsize=64)
def advice(facts: Facts, doomed: tuple[str, ...] = ()) -> BracePlan:
    """Where the next brace helps most; no anchor is on ``doomed`` parts, which come out soon. Raises: BadField."""
    size, wall = TUBES[facts.setup.tube]
    values = values_of(facts)
    tube = {
        "size_mm": size,
        "wall_mm": wall,
        "ends": facts.setup.ends,
        "doomed": [part for part in doomed if part in values["parts"]],
    }
    request = BraceRequest.read(values | tube)
    return advise(judge_of(facts), request.parts, list(request.braces), request)


def both_sides_of(facts: Facts) -> str:
    """What is open on both sides at once, in a sentence or two; empty where nothing is. Raises: BadField."""
    return both_sides_words(both_sides(request_of(facts).parts, facts.openings, facts.setup.out))


def cure_of(facts: Facts) -> str:
    """What would hold a shell that is not held, in a sentence. Raises: BadField."""
    return cure(advice(facts))


@one_change
def keep_setup(vehicle: Vehicle, setup: Setup, *, version: int | None, by: str, today: date) -> HoldSetup:
    """Store how the shell stands. Raises: ChangedMeanwhile; BadField from the core."""
    held_of(facts_of(vehicle, setup))
    return store_setup(vehicle, setup, version=version, by=by, today=today)


@dataclass(frozen=True, slots=True, kw_only=True)
class Along:
    """One state on the way of a repair: when, the verdict and why."""

    when: str
    held: Held
    why: str
    facts: Facts


def along(vehicle: Vehicle, code: str, openings: Sequence[Opening], findings: Collection[int]) -> list[Along]:
    """Before and after a repair: as it stands, with its pieces out, with the new ones in.

    Args: code: the repair's; openings: its pieces; findings: numbers of what it mends.
    Raises: BadField.
    """
    setup, metal = Setup.of(setup_of(vehicle)), metal_of(vehicle)
    states = {
        "Now": facts_of(vehicle, setup, metal),
        "Piece out": facts_of(vehicle, setup, metal, mended=findings, without=code, openings=openings),
        "New in": facts_of(vehicle, setup, metal, mended=findings, without=code),
    }
    return [
        Along(when=when, held=(held := held_of(facts)), why=reason(held), facts=facts)
        for when, facts in states.items()
    ]


def verdicts_out(vehicle: Vehicle, code: str, ways: Mapping[str, Sequence[Opening]]) -> dict[str, str]:
    """The verdict with other pieces of a repair out, by the name of the way they are cut; ways that nobody can tell of are left out."""
    setup, metal, told = Setup.of(setup_of(vehicle)), metal_of(vehicle), {}
    for name, openings in ways.items():
        try:
            told[name] = held_of(facts_of(vehicle, setup, metal, without=code, openings=openings)).verdict
        except BadField:
            continue
    return told


def is_surveyed(vehicle: Vehicle) -> bool:
    """Whether anybody has looked at the metal at all; what nobody has looked at is not sound, it is unknown."""
    return vehicle.findings.exists() or LookedRegion.objects.filter(view__vehicle=vehicle).exists()


def strip_hold(vehicle: Vehicle) -> Hold | None:
    """The HOLD block of the strip; None for a body type without a structure."""
    if not has_structure(vehicle):
        return None
    url = reverse("hold:hold", args=[vehicle.pk])
    try:
        held = held_of(facts_now(vehicle))
    except CoreError as error:
        return Hold(state="", why=str(error), url=url)
    if held.verdict == "HELD" and not is_surveyed(
        vehicle
    ):  # what is out already is known; what rust took is not
        return Hold(state="", why="Nobody has looked it over yet: what holds it is not known.", url=url)
    return Hold(state=held.verdict.lower(), why=reason(held), url=url)
