"""What still holds a vehicle's shell: its structure in the state of survey, repairs and stands; kept by what it follows from."""

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

from django.db import transaction
from django.db.models import Count, Max
from django.urls import reverse

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.hold.bodies import BODIES, all_out_first, rules_of, vehicle_structure
from yellow_sill.core.hold.braces import BracePlan, BraceRequest, advise
from yellow_sill.core.hold.condition import Opening, Spot, share_of_panel, with_condition
from yellow_sill.core.hold.order import OrderPlan, OrderRequest, removal_order
from yellow_sill.core.hold.structure import HoldRequest
from yellow_sill.core.hold.unitary import DOORS, ENGINE
from yellow_sill.core.hold.verdict import Held, Judge
from yellow_sill.core.hold.words import reason
from yellow_sill.web.frame.strip import Hold
from yellow_sill.web.shells.models import Vehicle
from yellow_sill.web.survey.models import Finding

from .models import HoldSetup
from .works import works

#: Tubes that a garage has: outside and wall, mm.
TUBES = {"20x2": (20.0, 2.0), "25x2": (25.0, 2.0), "30x2": (30.0, 2.0), "40x3": (40.0, 3.0)}
ENDS = {"welded": "Welded in", "bolted": "Bolted at both ends"}
#: So many parts are put in order at once: more takes minutes.
MOST_PARTS = 8
#: Where stands may be put.
STAND_PLACES = ("FML", "FMR", "RBL", "RBR", "SEL", "SER", "RHL", "RHR", "RKL", "RKR", "RRL", "RRR")


@dataclass(frozen=True, slots=True, kw_only=True)
class Setup:
    """How the shell stands, as stored or as tried."""

    stands: tuple[str, ...]
    braces: tuple[tuple[str, str], ...]
    tube: str
    ends: str
    out: tuple[str, ...]
    engine_in: bool
    doors_on: bool

    @classmethod
    def of(cls, stored: HoldSetup) -> "Setup":
        return cls(
            stands=tuple(stored.stands), braces=tuple((a, b) for a, b in stored.braces), tube=stored.tube, ends=stored.ends, out=tuple(stored.out),
            engine_in=stored.engine_in, doors_on=stored.doors_on,
        )  # fmt: skip

    def stored(self) -> dict[str, Any]:
        return {
            "stands": list(self.stands), "braces": [list(pair) for pair in self.braces], "tube": self.tube, "ends": self.ends, "out": list(self.out),
            "engine_in": self.engine_in, "doors_on": self.doors_on,
        }  # fmt: skip


def setup_of(vehicle: Vehicle) -> HoldSetup:
    """The vehicle's setup; unsaved, as usual, where it has none yet."""
    return HoldSetup.objects.filter(vehicle=vehicle).first() or HoldSetup(vehicle=vehicle, version=0)


@transaction.atomic
def keep_setup(vehicle: Vehicle, setup: Setup, *, version: int | None, by: str) -> HoldSetup:
    """Store how the shell stands. Raises: ChangedMeanwhile; BadField from the core."""
    held_of(facts_of(vehicle, setup))
    stored = HoldSetup.objects.filter(vehicle=vehicle).first()
    if stored is None:
        return HoldSetup.objects.create(vehicle=vehicle, changed_by=by, **setup.stored())
    stored.save_as(version, by, **setup.stored())
    return stored


def has_structure(vehicle: Vehicle) -> bool:
    return vehicle.body_type in BODIES


@dataclass(frozen=True, slots=True, kw_only=True)
class Facts:
    """Everything a state follows from; what is worked out is kept by it."""

    body_type: str
    dimensions: tuple[tuple[str, float], ...]
    spots: tuple[Spot, ...]
    openings: tuple[Opening, ...]
    setup: Setup


def facts_of(vehicle: Vehicle, setup: Setup) -> Facts:
    """The facts of today."""
    done = works(vehicle)
    return Facts(
        body_type=vehicle.body_type, dimensions=tuple(vehicle.dimensions_mm.items()), spots=tuple(_spots(vehicle, done.mended)),
        openings=done.openings, setup=setup,
    )  # fmt: skip


@lru_cache(maxsize=64)
def request_of(facts: Facts) -> HoldRequest:
    """The structure in a state.

    Raises: BadField: a body type without a structure, an unknown part, place or tube.
    """
    return HoldRequest.read(_values(facts))


def _values(facts: Facts) -> dict[str, Any]:
    setup = facts.setup
    structure = vehicle_structure(facts.body_type, dict(facts.dimensions))
    if structure is None:
        raise BadField("There is no structure for this body type yet.", "body_type", "Saloons have one so far.")
    values = with_condition(structure, facts.spots, facts.openings)
    for name in setup.out:
        if name not in values["parts"]:
            raise BadField(f"There is no part {name}.", "out", "Choose it from the list.")
        values["parts"][name]["present"] = False
    if setup.tube not in TUBES or setup.ends not in ENDS:
        raise BadField("There is no such tube.", "tube", f"Choose one of: {', '.join(TUBES)}.")
    size, wall = TUBES[setup.tube]
    values["braces"] = [{"from": a, "to": b, "size_mm": size, "wall_mm": wall, "ends": setup.ends} for a, b in setup.braces]
    values["stands"] = list(setup.stands)
    lumps = [*([ENGINE] if setup.engine_in else []), *([DOORS] if setup.doors_on else [])]
    values["lumps"] = [{"node": node, "kg": kg} for lump in lumps for node, kg in lump.loads.items()]
    return values


def _spots(vehicle: Vehicle, mended: frozenset[int]) -> list[Spot]:
    """The rust that is still in the metal."""
    stamp = vehicle.findings.aggregate(count=Count("pk"), last=Max("changed_at"))
    drawn = vehicle.views.aggregate(last=Max("changed_at"))
    return [spot for number, spot in _all_spots(vehicle.pk, drawn["last"], *stamp.values()) if number not in mended]


@lru_cache(maxsize=32)
def _all_spots(vehicle_id: int, *_stamp) -> list[tuple[int, Spot]]:
    found = Finding.objects.filter(vehicle_id=vehicle_id).values_list("number", "panel__code", "grade", "area_mm2", "panel__outline")
    return [(number, Spot(panel=code, grade=grade, share=share_of_panel(area, outline))) for number, code, grade, area, outline in found]


@lru_cache(maxsize=64)
def held_of(facts: Facts) -> Held:
    """What holds the shell. Raises: BadField."""
    request = request_of(facts)
    return _judge_of(request).judge(request.parts, request.braces)


def _judge_of(request: HoldRequest) -> Judge:
    """The judge of a structure, kept while only the state of its parts changes."""
    whole = {name: {"thickness_mm": part.thickness_mm} for name, part in request.parts.items()}
    plain = request.model_dump(mode="json", by_alias=True) | {"parts": whole, "braces": []}
    return _judge(json.dumps(plain, sort_keys=True))


@lru_cache(maxsize=8)
def _judge(values: str) -> Judge:
    return Judge(HoldRequest.read(json.loads(values)))


def advice(facts: Facts) -> BracePlan:
    """Where the next brace helps most. Raises: BadField."""
    size, wall = TUBES[facts.setup.tube]
    request = BraceRequest.read(_values(facts) | {"size_mm": size, "wall_mm": wall, "ends": facts.setup.ends})
    return advise(_judge_of(request_of(facts)), request.parts, list(request.braces), request)


def order_plan(facts: Facts, parts: Sequence[str]) -> OrderPlan:
    """The order in which to renew whole parts, beside everything out first. Raises: BadField."""
    if not 2 <= len(parts) <= MOST_PARTS:
        raise BadField(f"Tick 2 to {MOST_PARTS} parts.", "job", "Renew the rest in a second go.")
    values = _values(replace(facts, setup=replace(facts.setup, out=())))
    asked = {"jobs": [{"id": part, "parts": [part]} for part in parts], "rules": rules_of(parts), "own_order": all_out_first(parts)}
    return _order(json.dumps(values | asked, sort_keys=True))


@lru_cache(maxsize=16)
def _order(values: str) -> OrderPlan:
    return removal_order(OrderRequest.read(json.loads(values)))


def strip_hold(vehicle: Vehicle) -> Hold | None:
    """The HOLD block of the strip; None for a body type without a structure."""
    if not has_structure(vehicle):
        return None
    url = reverse("hold:hold", args=[vehicle.pk])
    try:
        held = held_of(facts_of(vehicle, Setup.of(setup_of(vehicle))))
    except CoreError as error:
        return Hold(state="", why=str(error), url=url)
    return Hold(state=held.verdict.lower(), why=reason(held), url=url)


def tried(stored: Setup, data: Mapping[str, Any]) -> Setup:
    """The setup that a query or a form tells; ``data`` is a QueryDict. Without ``try`` in it: as stored."""
    if "try" not in data:
        return stored
    pairs = [tuple(told.split("-", 1)) for told in data.getlist("brace") if "-" in told]
    if data.get("from") and data.get("to"):
        pairs.append((data["from"], data["to"]))
    return Setup(
        stands=tuple(data.getlist("stand")), braces=tuple(dict.fromkeys(pairs)), tube=data.get("tube", "25x2"), ends=data.get("ends", "welded"),
        out=tuple(dict.fromkeys(data.getlist("out"))), engine_in="engine" in data, doors_on="doors" in data,
    )  # fmt: skip
