"""What is looked at on a welded sheet: lamp, back, dressed thickness, datum."""

from collections.abc import Sequence
from typing import Any

from yellow_sill.core.errors import BadField
from yellow_sill.core.weld.checks import WeldChecks, WeldChecksRequest, weld_checks
from yellow_sill.web.cut.gate_services import gates
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.frame import days
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.once import once

from .models import WeldCheck
from .services import thickness_of

#: What can be said, and with which values.
LOOKS = ("lamp", "back_seen")
_STATES = {"yes": True, "no": False, "": None}
SAME_MM = 4.0


@once
def check_of(cut: Cut) -> WeldCheck:
    """The stored check; unsaved where nobody has looked."""
    return WeldCheck.objects.filter(cut=cut).first() or WeldCheck(cut=cut, version=0)


def checks_told(cut: Cut) -> WeldChecks:
    """How a welded sheet stands. Raises: CoreError."""
    check = check_of(cut)
    return weld_checks(
        WeldChecksRequest.read(
            {
                "thickness_mm": thickness_of(cut),
                "lamp": check.lamp,
                "pinholes": check.pinholes,
                "back_seen": check.back_seen,
                "readings": [
                    {"at": each["at"], "thickness_mm": each["thickness_mm"]} for each in check.readings
                ],
                "datum": _datum(cut),
            }
        )
    )


def _datum(cut: Cut) -> bool | None:
    """Whether the round after welding is in; None where there is none yet."""
    if cut.repair.state != "welded":
        return None
    asked = gates(cut.repair, "dressed", days.today())
    gate = asked[1] if asked else None
    if gate is None or (not gate.open and gate.round is None):
        return None
    return gate.open


@one_change
def say_look(cut: Cut, what: str, value: str, *, by: str) -> None:
    """Store how a look turned out. Raises: BadField for a look or an answer that there is not."""
    if what not in LOOKS or value not in _STATES:
        raise BadField("Nobody knows that look.", "what", "Reload the page.")
    _stored(cut).set_fields(by, **{what: _STATES[value]})


@one_change
def mark_pinhole(cut: Cut, at: Sequence[float], *, by: str) -> None:
    """A place where light comes through; one that is marked already is welded again, and with that the lamp must be held there once more."""
    check = _stored(cut)
    holes = [dict(each) for each in check.pinholes]
    near = next((each for each in holes if _apart(each["at"], at) <= SAME_MM), None)
    if near is None:
        holes.append({"at": [round(at[0], 1), round(at[1], 1)], "again": False})
    else:
        near["again"] = not near["again"]
    check.set_fields(by, pinholes=holes, lamp=None)


@one_change
def drop_pinhole(cut: Cut, number: int, *, by: str) -> None:
    """Raises: BadField where there is no such one."""
    check = _stored(cut)
    check.set_fields(by, pinholes=_without(check.pinholes, number, "pinhole"))


@one_change
def read_thickness(cut: Cut, at: Sequence[float], thickness_mm: float, *, by: str) -> None:
    """A gauge's reading on the dressed weld. Raises: BadField."""
    if not 0 < thickness_mm <= 20:
        raise BadField("That is no thickness of sheet.", "thickness", "Type it like 0.8.")
    check = _stored(cut)
    reading: dict[str, Any] = {
        "at": [round(at[0], 1), round(at[1], 1)],
        "thickness_mm": thickness_mm,
        "by": by,
    }
    check.set_fields(by, readings=[*check.readings, reading])


@one_change
def drop_reading(cut: Cut, number: int, *, by: str) -> None:
    """Raises: BadField where there is no such one."""
    check = _stored(cut)
    check.set_fields(by, readings=_without(check.readings, number, "reading"))


def _without(rows: Sequence[Any], number: int, what: str) -> list[Any]:
    """The rows but for one, counted from 1. Raises: BadField where there is no such one."""
    if not 1 <= number <= len(rows):
        raise BadField(f"That {what} is not there any more.", what, "Reload the page.")
    return [each for n, each in enumerate(rows, start=1) if n != number]


def _stored(cut: Cut) -> WeldCheck:
    return WeldCheck.objects.filter(cut=cut).first() or WeldCheck.objects.create(cut=cut)


def _apart(one: Sequence[float], other: Sequence[float]) -> float:
    return max(abs(one[0] - other[0]), abs(one[1] - other[1]))
