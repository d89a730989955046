"""How a shell stands: as stored, and as a query or a form tries it."""

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, replace
from datetime import date
from typing import Any, Self
from urllib.parse import urlencode

from yellow_sill.core.errors import BadField
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.once import once
from yellow_sill.web.shells.models import Vehicle

from .models import HoldSetup, HoldState

#: Tubes that a garage has: outside and wall, mm.
TUBES = {"20x2": (20.0, 2.0), "25x2": (25.0, 2.0), "30x2": (30.0, 2.0), "40x3": (40.0, 3.0)}
ENDS = {"welded": "Welded in", "bolted": "Bolted at both ends"}
MOST_CUTS = 40


@dataclass(frozen=True, slots=True, kw_only=True)
class Fitted:
    """A brace between two nodes with its tube and ends; ``fitted_on`` is empty while it is only tried."""

    start: str
    end: str
    tube: str
    ends: str
    fitted_on: str = ""

    @property
    def pair(self) -> tuple[str, str]:
        return self.start, self.end

    @property
    def code(self) -> str:
        """As it stands in an address."""
        return f"{self.start}-{self.end}-{self.tube}-{self.ends}"


@dataclass(frozen=True, slots=True, kw_only=True)
class CutTo:
    """A panel that is cut to a place, from its nearer end: the view, the panel's code, the place in the view, mm."""

    view: str
    panel: str
    u: float
    v: float

    @property
    def code(self) -> str:
        return f"{self.view}:{self.panel}:{self.u:g}:{self.v:g}"

    @classmethod
    def of(cls, code: str) -> Self:
        """Raises: BadField."""
        try:
            view, panel, u, v = code.split(":")
            return cls(view=view, panel=panel, u=float(u), v=float(v))
        except ValueError:
            raise BadField("There is no such cut.", "cut", "Tap the panel again where it is cut.") from None


@dataclass(frozen=True, slots=True, kw_only=True)
class Setup:
    """How the shell stands; fields as in HoldSetup. ``ties``: (panel, nodes)."""

    stands: tuple[str, ...] | None
    braces: tuple[Fitted, ...]
    tube: str
    ends: str
    out: tuple[str, ...]
    new: tuple[str, ...]
    cuts: tuple[CutTo, ...]
    engine_in: bool
    doors_on: bool
    on_chassis: bool
    ties: tuple[tuple[str, tuple[str, ...]], ...]
    softness: float

    @classmethod
    def of(cls, stored: HoldSetup) -> Self:
        return cls.read({name: getattr(stored, name) for name in cls.__dataclass_fields__})

    @classmethod
    def read(cls, values: Mapping[str, Any]) -> Self:
        """From stored values; what an older state did not know yet is as usual."""
        known = {"new": [], "cuts": [], "ties": [], "on_chassis": True, "softness": 1.0} | dict(values)
        return cls(
            stands=None if known["stands"] is None else tuple(known["stands"]), braces=tuple(Fitted(**brace) for brace in known["braces"]),
            tube=known["tube"], ends=known["ends"], out=tuple(known["out"]), new=tuple(known["new"]),
            cuts=tuple(CutTo(view=view, panel=panel, u=u, v=v) for view, panel, u, v in known["cuts"]),
            engine_in=known["engine_in"], doors_on=known["doors_on"], on_chassis=known["on_chassis"],
            ties=tuple((tie["panel"], tuple(tie["nodes"])) for tie in known["ties"]), softness=known["softness"],
        )  # fmt: skip

    def stored(self) -> dict[str, Any]:
        return {
            "stands": None if self.stands is None else list(self.stands), "braces": [asdict(brace) for brace in self.braces], "tube": self.tube,
            "ends": self.ends, "out": list(self.out), "new": list(self.new), "cuts": [[cut.view, cut.panel, cut.u, cut.v] for cut in self.cuts],
            "engine_in": self.engine_in, "doors_on": self.doors_on, "on_chassis": self.on_chassis,
            "ties": [{"panel": panel, "nodes": list(nodes)} for panel, nodes in self.ties], "softness": self.softness,
        }  # fmt: skip

    def fitted_by(self, day: str) -> "Setup":
        """The same with today's date on every brace that has none."""
        return replace(
            self,
            braces=tuple(
                brace if brace.fitted_on else replace(brace, fitted_on=day) for brace in self.braces
            ),
        )


@once
def setup_of(vehicle: Vehicle) -> HoldSetup:
    """The vehicle's setup; unsaved, as usual, where it has none yet."""
    return HoldSetup.objects.filter(vehicle=vehicle).first() or HoldSetup(vehicle=vehicle, version=0)


@one_change
def store_setup(vehicle: Vehicle, setup: Setup, *, version: int | None, by: str, today: date) -> HoldSetup:
    """Store how the shell stands from today on. Raises: ChangedMeanwhile."""
    setup = setup.fitted_by(today.isoformat())
    values = setup.stored()
    stored = HoldSetup.objects.filter(vehicle=vehicle).first()
    if stored is None:
        stored = HoldSetup.objects.create(vehicle=vehicle, changed_by=by, **values)
    else:
        stored.save_as(version, by, **values)
    HoldState.objects.create(vehicle=vehicle, made_on=today, by=by, setup=values)
    return stored


def setup_on(vehicle: Vehicle, day: date) -> Setup:
    """How the shell stood at the end of a day; as usual before anything was kept."""
    state = vehicle.hold_states.filter(made_on__lte=day).last()
    return Setup.read(state.setup) if state else Setup.of(HoldSetup(vehicle=vehicle))


def tried(stored: Setup, data: Mapping[str, Any]) -> Setup:
    """The setup that a query or a form tells; ``data`` is a QueryDict. Without ``try`` in it: as stored.

    Raises: BadField for a cut that cannot be read.
    """
    if "try" not in data:
        return stored
    tube, ends = data.get("tube", "25x2"), data.get("ends", "welded")
    codes = [
        *data.getlist("brace"),
        *([f"{data['from']}-{data['to']}"] if data.get("from") and data.get("to") else []),
    ]
    return Setup(
        stands=tuple(data.getlist("stand")), braces=_braces(codes, stored, tube, ends), tube=tube, ends=ends, out=tuple(dict.fromkeys(data.getlist("out"))),
        new=tuple(part for part in dict.fromkeys(data.getlist("new")) if part not in data.getlist("out")),
        cuts=tuple(dict.fromkeys(CutTo.of(code) for code in data.getlist("cut")[:MOST_CUTS])), engine_in="engine" in data, doors_on="doors" in data,
        on_chassis="off_chassis" not in data, ties=stored.ties, softness=stored.softness,
    )  # fmt: skip


def tried_query(setup: Setup, stands: Sequence[str]) -> str:
    """The address that tries a setup on the board, as ``tried`` reads it. Args: stands: the nodes it stands on."""
    query = [("try", "1"), ("tube", setup.tube), ("ends", setup.ends)]
    query += (
        [("out", part) for part in setup.out]
        + [("new", part) for part in setup.new]
        + [("cut", cut.code) for cut in setup.cuts]
    )
    query += [("brace", f"{each.start}-{each.end}-{each.tube}-{each.ends}") for each in setup.braces] + [
        ("stand", name) for name in stands
    ]
    flags = {"engine": setup.engine_in, "doors": setup.doors_on, "off_chassis": not setup.on_chassis}
    return urlencode([*query, *((name, "1") for name, on in flags.items() if on)])


def _braces(codes: list[str], stored: Setup, tube: str, ends: str) -> tuple[Fitted, ...]:
    """Braces from ``A-B`` or ``A-B-tube-ends``, each pair of places once."""
    known = {frozenset(brace.pair): brace for brace in stored.braces}
    found: dict[frozenset[str], Fitted] = {}
    for code in codes:
        words = code.split("-")
        if len(words) not in (2, 4):
            continue
        pair = frozenset(words[:2])
        before = known.get(pair)
        kind = tuple(words[2:]) or ((before.tube, before.ends) if before else (tube, ends))
        fitted = Fitted(
            start=words[0],
            end=words[1],
            tube=kind[0],
            ends=kind[1],
            fitted_on=before.fitted_on if before else "",
        )
        found.setdefault(pair, fitted)
    return tuple(found.values())
