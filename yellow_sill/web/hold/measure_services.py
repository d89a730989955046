"""Worked out beside measured: two rounds against the states the shell was in, and one weight with one dial."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date
from itertools import pairwise

from yellow_sill.core.errors import BadField
from yellow_sill.core.hold.calibrate import CalibrateRequest, Calibration, calibrate
from yellow_sill.core.hold.measured import ComparedHold, Measured, against_measured
from yellow_sill.web.datums.models import Round
from yellow_sill.web.datums.round_services import fit_of, movements
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.shells.models import Vehicle

from .models import DialReading
from .services import Facts, facts_now, facts_on, judge_of, request_of, values_of
from .setups import Setup, setup_of, setup_on, store_setup


def measured_change(vehicle: Vehicle, before: Round, after: Round) -> tuple[ComparedHold, Facts, Facts]:
    """What two rounds measured beside what the states of their days should have moved. Raises: CoreError."""
    first, second = facts_on(vehicle, before.taken_on), facts_on(vehicle, after.taken_on)
    if first.setup.on_chassis != second.setup.on_chassis:
        raise BadField(
            "The body was on its chassis in one round and off it in the other.",
            "against",
            "Choose two rounds with the same.",
        )
    solved = [
        judge_of(facts).solved((asked := request_of(facts)).parts, asked.braces) for facts in (first, second)
    ]
    judge = judge_of(second)
    change = solved[1].moved - solved[0].moved
    points = {point.code: point.nominal for point in vehicle.datum_points.all()}
    result = fit_of(after).result
    frame = [point.id for point in result.points if point.holds_the_frame] if result else []
    moved = [
        Measured(id=move.id, moved_mm=[move.dx_mm, move.dy_mm, move.dz_mm], noise_mm=move.noise_mm)
        for move in movements(before, after)
    ]
    structure = judge.structure
    compared = against_measured(
        list(structure.index),
        structure.places,
        solved[0].alive & solved[1].alive,
        change,
        points,
        frame,
        moved,
    )
    return compared, first, second


#: What moves a shell by millimetres when it changes; a brace fitted to a shell at rest moves nothing.
MOVES = ("engine_in", "doors_on", "stands", "out", "new", "cuts", "on_chassis")


def telling_pair(vehicle: Vehicle, rounds: Sequence[Round]) -> tuple[Round, Round]:
    """The two rounds, one after the other, between which most was done that moves the shell; the first and the last where nothing was."""
    states = [setup_on(vehicle, each.taken_on) for each in rounds]
    changed = [sum(getattr(a, name) != getattr(b, name) for name in MOVES) for a, b in pairwise(states)]
    at = max(range(len(changed)), key=changed.__getitem__)
    return (rounds[at], rounds[at + 1]) if changed[at] else (rounds[0], rounds[-1])


def told_by_dial(vehicle: Vehicle, node: str, kg: float, read_mm: float) -> Calibration:
    """How soft the shell is by a dial, as it stands. Raises: BadField."""
    return calibrate(
        CalibrateRequest.read(values_of(facts_now(vehicle)) | {"node": node, "kg": kg, "read_mm": read_mm})
    )


@one_change
def keep_dial(vehicle: Vehicle, node: str, kg: float, read_mm: float, *, by: str, today: date) -> Calibration:
    """Keep a dial's reading and take the shell for as soft as it says. Raises: BadField."""
    told = told_by_dial(vehicle, node, kg, read_mm)
    DialReading.objects.create(
        vehicle=vehicle,
        node=node,
        kg=kg,
        read_mm=read_mm,
        predicted_mm=told.predicted_mm,
        softness=told.softness,
        made_on=today,
        by=by,
    )
    set_softness(vehicle, told.softness, by=by, today=today)
    return told


@one_change
def set_softness(vehicle: Vehicle, softness: float, *, by: str, today: date) -> None:
    """Take the shell for so soft from now on; 1 is as planned."""
    setup = Setup.of(setup_of(vehicle))
    store_setup(vehicle, replace(setup, softness=softness), version=None, by=by, today=today)
