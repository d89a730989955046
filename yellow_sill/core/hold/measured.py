"""What was worked out beside what was measured: the movement between two states at the datum points, and how well they agree."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from pydantic import Field

from ..errors import BadField
from ..records import Record
from ..said import Mm, Said
from .asked import Coordinate, HoldRequest, Name
from .verdict import Judge

#: A datum point farther from every node that is in is carried by none of them, mm.
FARTHEST_MM = 450.0
#: Predictions are right within this share of themselves at best.
MODEL_SHARE = 0.5
#: How many standard errors a common factor must stand above nothing to be told.
TOLD_FROM = 2.0

Place = Annotated[list[Coordinate], Field(min_length=3, max_length=3)]


class Measured(Record):
    """A point's measured movement, mm, in the frame of the trusted points, and what chance alone may do (95 %)."""

    id: Name
    moved_mm: Place
    noise_mm: Annotated[float, Field(ge=0, le=100)]


class MeasuredRequest(Record):
    """The structure in both states, the datum points' places, those that hold the frame, and what was measured."""

    before: HoldRequest
    after: HoldRequest
    points: Annotated[dict[Name, Place], Field(min_length=1, max_length=200)]
    frame: Annotated[list[Name], Field(max_length=200)] = []
    measured: Annotated[list[Measured], Field(max_length=200)]


@dataclass(frozen=True, slots=True, kw_only=True)
class PointCompared:
    """One point: predicted and measured movement, mm; ``agree`` None where no node carries it."""

    id: str
    node: str
    predicted_mm: list[float]
    measured_mm: list[float]
    noise_mm: float
    agree: bool | None


@dataclass(frozen=True, slots=True, kw_only=True)
class ComparedHold:
    """Point by point, the largest first; the common factor measured over predicted with its standard error, where it can be told."""

    points: list[PointCompared]
    agree: int
    told: int
    factor: float | None
    factor_sigma: float | None
    sentences: list[str]


def hold_measured(request: MeasuredRequest) -> ComparedHold:
    """Compare a predicted change with a measured one.

    Args: request: see MeasuredRequest; both states are of the same shell.
    Returns: see ComparedHold.
    Raises: BadField: states with other nodes, a measured point without a place; and as ``hold`` does.
    Source: nodes carry the points near them as rigid pieces; the movement of the frame's points is taken out by least squares; docs/methods.md section 9.
    """
    if list(request.before.nodes) != list(request.after.nodes):
        raise BadField(
            "The two states are of different shells.", "after.nodes", "Give the same nodes in both."
        )
    earlier, later = Judge(request.before), Judge(request.after)
    first = earlier.solved(request.before.parts, request.before.braces)
    second = later.solved(request.after.parts, request.after.braces)
    places = np.array(list(request.before.nodes.values()), float)
    change = second.moved - first.moved
    return against_measured(
        list(request.before.nodes),
        places,
        first.alive & second.alive,
        change,
        request.points,
        request.frame,
        request.measured,
    )


def against_measured(
    names: Sequence[str], places: np.ndarray, alive: np.ndarray, change: np.ndarray, points: Mapping[str, Sequence[float]], frame: Sequence[str],
    measured: Sequence[Measured],
) -> ComparedHold:  # fmt: skip
    """The same for a change of the nodes (n x 6, mm and rad) that is there already."""
    for i, each in enumerate(measured):
        if each.id not in points:
            raise BadField(
                Said("Point {id} has no place.", id=each.id),
                f"measured[{i}].id",
                "Give its place among the points.",
            )
    carried = {name: _carried(np.array(at, float), places, alive, change) for name, at in points.items()}
    there = {name: each for name, each in carried.items() if each is not None}
    held = [name for name in frame if name in there]
    rigid = _rigid(
        np.array([points[name] for name in held], float).reshape(-1, 3),
        np.array([there[name][1] for name in held]).reshape(-1, 3),
    )
    centre = rigid_centre(points, held)
    out, rows = [], []
    for each in measured:
        if each.id not in there:
            out.append(
                PointCompared(
                    id=each.id,
                    node="",
                    predicted_mm=[],
                    measured_mm=list(each.moved_mm),
                    noise_mm=each.noise_mm,
                    agree=None,
                )
            )
            continue
        node, moved = there[each.id]
        at, seen = np.array(points[each.id], float), np.array(each.moved_mm, float)
        predicted = moved - (rigid[:3] + np.cross(rigid[3:], at - centre))
        apart = float(np.linalg.norm(seen - predicted))
        rows.append((at - centre, predicted, seen, each.noise_mm))
        out.append(
            PointCompared(
                id=each.id, node=names[node], predicted_mm=[round(float(v), 2) for v in predicted], measured_mm=[round(float(v), 2) for v in seen],
                noise_mm=round(each.noise_mm, 2), agree=apart <= each.noise_mm + MODEL_SHARE * float(np.linalg.norm(predicted)) + 0.05,
            )
        )  # fmt: skip
    told = [point for point in out if point.agree is not None]
    seen_moving = {each.id for each in measured}
    frame_at = [np.array(points[name], float) - centre for name in held if name not in seen_moving]
    factor, sigma = _factor(rows, frame_at)
    size = lambda point: (  # noqa: E731
        -max(float(np.linalg.norm(point.measured_mm)), float(np.linalg.norm(point.predicted_mm or [0])))
    )
    agree = sum(bool(point.agree) for point in told)
    return ComparedHold(
        points=sorted(out, key=size), agree=agree, told=len(told), factor=None if factor is None else round(factor, 2),
        factor_sigma=None if sigma is None else round(sigma, 2), sentences=_sentences(out, agree, len(told), factor, sigma),
    )  # fmt: skip


def _factor(
    rows: Sequence[tuple[np.ndarray, np.ndarray, np.ndarray, float]], frame_at: Sequence[np.ndarray]
) -> tuple[float | None, float | None]:
    """The common factor measured over predicted and its standard error; None, None where it cannot be told.

    What all points far from the frame share is mostly the frame's own error, a turn that grows with the distance. So a rigid movement of
    the whole is adjusted beside the factor; the points of the frame, which did not move as far as they tell, hold it.

    Args: rows: place from the middle of the frame, predicted and measured movement (mm), noise (mm, 95 %); frame_at: places of frame points.
    """
    if not rows:
        return None, None
    least = min(row[3] for row in rows)
    all_rows = [*rows, *((at, np.zeros(3), np.zeros(3), least) for at in frame_at)]
    design, seen = np.zeros((3 * len(all_rows), 7)), np.zeros(3 * len(all_rows))
    for i, (at, predicted, moved, noise) in enumerate(all_rows):
        here, weight = slice(3 * i, 3 * i + 3), 1.96 / max(noise, 0.05)
        design[here, 0] = weight * predicted
        if frame_at:
            design[here, 1:4] = weight * np.eye(3)
            design[here, 4:7] = (
                weight * np.array([np.cross(axis, at) for axis in np.eye(3)]).T / 1000
            )  # turns in mm per m
        seen[here] = weight * moved
    normal = design.T @ design
    if normal[0, 0] <= 0:
        return None, None
    covariance = np.linalg.pinv(normal)
    sigma = float(covariance[0, 0]) ** 0.5
    return (float((covariance @ design.T @ seen)[0]), sigma) if 0 < sigma * TOLD_FROM < 1 else (None, None)


def rigid_centre(points: Mapping[str, Sequence[float]], held: Sequence[str]) -> np.ndarray:
    """The middle of the points that hold the frame."""
    return np.array([points[name] for name in held], float).mean(axis=0) if held else np.zeros(3)


def _carried(
    at: np.ndarray, places: np.ndarray, alive: np.ndarray, change: np.ndarray
) -> tuple[int, np.ndarray] | None:
    """The node that carries a point, and the point's movement with it."""
    away = np.where(alive, np.linalg.norm(places - at, axis=1), np.inf)
    node = int(away.argmin())
    if away[node] > FARTHEST_MM:
        return None
    return node, change[node, :3] + np.cross(change[node, 3:], at - places[node])


def _rigid(at: np.ndarray, moved: np.ndarray) -> np.ndarray:
    """The rigid movement (shift mm, turn rad) about their middle that explains points' movements best; three or more can also turn."""
    if not len(at):
        return np.zeros(6)
    if len(at) < 3:
        return np.concatenate([moved.mean(axis=0), np.zeros(3)])
    arm = at - at.mean(axis=0)
    rows = np.zeros((len(at), 3, 6))
    rows[:, [0, 1, 2], [0, 1, 2]] = 1
    rows[:, 0, 4], rows[:, 0, 5] = arm[:, 2], -arm[:, 1]
    rows[:, 1, 3], rows[:, 1, 5] = -arm[:, 2], arm[:, 0]
    rows[:, 2, 3], rows[:, 2, 4] = arm[:, 1], -arm[:, 0]
    return np.linalg.lstsq(rows.reshape(-1, 6), moved.ravel(), rcond=1e-9)[0]


def _sentences(
    points: Sequence[PointCompared], agree: int, told: int, factor: float | None, sigma: float | None
) -> list[str]:
    if not told:
        return ["No measured point is near metal that the structure knows."]
    said: list[str] = [
        Said(
            "{agree} of {told} points {moved} within noise and half of what was predicted.",
            agree=agree,
            told=told,
            moved=Said("moved as worked out,") if factor is not None else Said("lie"),
        )
    ]
    largest = max(float(np.linalg.norm(point.predicted_mm)) for point in points if point.agree is not None)
    if factor is None:
        said.append(
            Said(
                "The largest movement worked out is {largest}: too little against the readings' noise to tell how soft the shell is.",
                largest=Mm(largest, 1),
            )
        )
    else:
        said.append(
            Said(
                "Measured movements are {factor:.1f} times those worked out (standard error {sigma:.1f}).",
                factor=factor,
                sigma=sigma,
            )
        )
    for point in points:
        if point.agree is False:
            more = float(np.linalg.norm(point.measured_mm)) - float(np.linalg.norm(point.predicted_mm))
            said.append(
                Said(
                    "{id} moved {by} {more} than worked out: read it again, or look what is open near it.",
                    id=point.id,
                    by=Mm(abs(more), 1),
                    more="more" if more > 0 else "less",
                )
            )
    return said[:5]
