"""Faces of the shell, openings and flat panels: out of square, leaning."""

from collections.abc import Callable
from functools import partial
from typing import Annotated

import numpy as np
from pydantic import Field

from ..errors import BadField
from ..records import Record
from ..said import Said
from .measures import Measured, lozenge, weights_of
from .network import PointId


class Face(Record):
    """Points that should lie square to the shell: a plane of three or more, or the four corners of an opening in order round it."""

    id: PointId
    points: Annotated[list[PointId], Field(min_length=3, max_length=20)]
    opening: bool = False


def squareness(face: Face, number: int, names: list[str], nominal: np.ndarray) -> list[Measured]:
    where = f"faces[{number}]"
    if unknown := [name for name in face.points if name not in names]:
        raise BadField(
            Said("Face {id}: there is no point {unknown}.", id=face.id, unknown=unknown[0]),
            f"{where}.points",
            "Check the name.",
        )
    at = [names.index(name) for name in face.points]
    if len(set(at)) < len(at):
        raise BadField(
            Said("Face {id}: {points} is named twice.", id=face.id, points=face.points[0]),
            f"{where}.points",
            "Name each point once.",
        )
    if face.opening:
        if len(at) != 4:
            raise BadField(
                Said("Face {id}: an opening has four corners, {at} given.", id=face.id, at=len(at)),
                f"{where}.points",
                "Name them in order round it.",
            )
        one, other = (
            partial(
                Said,
                "the diagonal {points} to {points2} is {by} too long",
                points=face.points[k],
                points2=face.points[k + 2],
            )
            for k in (0, 1)
        )
        return [
            (
                Said("{id} out of square", id=face.id),
                "mm",
                one,
                other,
                lozenge(nominal, at[0], at[1], at[3], at[2]),
            )
        ]
    axes, normal = _in_plane(nominal[at], f"Face {face.id}", where)
    out: list[Measured] = []
    for along in axes:
        axis = int(np.abs(along).argmax())
        towards = along * np.sign(along[axis])
        words = partial(
            Said, "{id} leans {by} over its {axis}", id=face.id, axis=("length", "width", "height")[axis]
        )
        out.append(
            (
                Said("{id} lean over its {axis}", id=face.id, axis=("length", "width", "height")[axis]),
                "mm per m",
                words,
                words,
                _lean(nominal, at, towards, normal),
            )
        )
    return out


def _in_plane(points: np.ndarray, what: str, where: str) -> tuple[np.ndarray, np.ndarray]:
    """Two directions in a plane through the points, and its normal."""
    _, size, ways = np.linalg.svd(points - points.mean(axis=0))
    if size[1] < 20:
        raise BadField(
            Said("{what}: its points lie in one line.", what=what),
            f"{where}.points",
            "Name three that span a plane.",
        )
    normal = ways[2]
    flat = np.eye(3)[np.argsort(np.abs(normal))[:2]]
    axes = flat - np.outer(flat @ normal, normal)
    return axes / np.linalg.norm(axes, axis=1)[:, None], normal


def _lean(
    nominal: np.ndarray, at: list[int], along: np.ndarray, normal: np.ndarray
) -> Callable[[np.ndarray], float]:
    """How far the points depart along the normal, per metre along one direction in the plane."""
    arm = (nominal[at] - nominal[at].mean(axis=0)) / 1000
    across = np.cross(normal, along)
    weights = weights_of(np.column_stack([np.ones(len(at)), arm @ along, arm @ across]), 1)
    return lambda places: float(weights @ ((places[at] - nominal[at]) @ normal))
