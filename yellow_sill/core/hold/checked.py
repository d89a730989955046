"""A structure that was asked about, checked and made ready: nothing unknown, nothing that cannot stand in space."""

from collections.abc import Iterable, Mapping
from typing import Any

import numpy as np

from ..errors import BadField
from ..said import Said
from .asked import MOST_SEARCH_NODES, Brace, HoldRequest
from .structure import Structure


def structure_of(request: HoldRequest) -> Structure:
    """Check a request and lay its structure out.

    Raises: BadField, naming the node, part, member or brace: unknown, without length, in one line, twice.
    """
    index = {name: i for i, name in enumerate(request.nodes)}
    places = np.array(list(request.nodes.values()), float)
    _known("baseline.parts", request.baseline.parts, request.parts, "part")
    _check_frames(request, index, places)
    _check_sheets(request, index, places)
    check_braces(request.braces, index, places)
    check_braces(request.baseline.braces, index, places, "baseline.braces")
    _check_names(request, index)
    lengths: dict[str, float] = {}
    ends: dict[str, list[str]] = {}
    for frame in request.frames:
        name = frame.member or frame.id
        lengths[name] = lengths.get(name, 0.0) + float(
            np.linalg.norm(places[index[frame.start]] - places[index[frame.end]])
        )
        ends.setdefault(name, []).extend((frame.start, frame.end))
    once = lambda frame, node: ends[frame.member or frame.id].count(node) == 1  # noqa: E731
    soft = [(once(frame, frame.start), once(frame, frame.end)) for frame in request.frames]
    return Structure(request=request, index=index, places=places, lengths=lengths, soft=soft)


def _check_frames(request: HoldRequest, index: Mapping[str, int], places: np.ndarray) -> None:
    """Raises: BadField naming a member that is there twice, has no length, or a strip without width."""
    seen: set[str] = set()
    for i, frame in enumerate(request.frames):
        where = f"frames[{i}]"
        if frame.id in seen:
            raise BadField(
                Said("Two members bear the name {id}.", id=frame.id), f"{where}.id", "Give each its own."
            )
        seen.add(frame.id)
        _known(where, (frame.start, frame.end), index, "node")
        _known(f"{where}.strips", (strip[4] for strip in frame.strips), request.parts, "part")
        _known(f"{where}.needs", frame.needs, request.parts, "part")
        if np.linalg.norm(places[index[frame.start]] - places[index[frame.end]]) < 1:
            raise BadField(
                Said("Member {id} has no length.", id=frame.id), where, "Its two nodes lie on one spot."
            )
        for k, (y1, z1, y2, z2, _) in enumerate(frame.strips):
            if abs(y1 - y2) + abs(z1 - z2) < 1e-6:
                raise BadField(
                    Said("A strip of member {id} has no width.", id=frame.id),
                    f"{where}.strips[{k}]",
                    "Give its two ends.",
                )


def _check_sheets(request: HoldRequest, index: Mapping[str, int], places: np.ndarray) -> None:
    """Raises: BadField naming a sheet without area."""
    for i, each in enumerate(request.sheets):
        where = f"sheets[{i}]"
        _known(where, (each.part, *each.needs), request.parts, "part")
        _known(f"{where}.nodes", each.nodes, index, "node")
        corners = places[[index[name] for name in each.nodes]]
        if (
            len(set(each.nodes)) < len(each.nodes)
            or np.linalg.svd(corners - corners.mean(axis=0), compute_uv=False)[1] < 1
        ):
            raise BadField(
                Said("A sheet of {part} has no area.", part=each.part),
                f"{where}.nodes",
                "Its nodes lie in one line.",
            )


def _check_names(request: HoldRequest, index: Mapping[str, int]) -> None:
    """Raises: BadField for a node or part that is named and is not there."""
    _known("stands", request.stands, index, "node")
    _known("lumps", (lump.node for lump in request.lumps), index, "node")
    _known("home", request.home, index, "node")
    _known("passing", request.passing, index, "node")
    for i, path in enumerate(request.paths):
        _known(f"paths[{i}].nodes", path.nodes, index, "node")
    _known("home", (part for parts in request.home.values() for part in parts), request.parts, "part")
    _known("checks", (name for pair in request.checks for name in pair), index, "node")
    _known("twist", (name for group in request.twist or () for pair in group for name in pair), index, "node")
    _known("bend", request.bend or (), index, "node")


def check_searchable(request: HoldRequest) -> None:
    """Raises: BadField for a structure too large to search."""
    if len(request.nodes) > MOST_SEARCH_NODES:
        raise BadField(
            Said(
                "A search takes at most {most_search_nodes} nodes; {nodes} given.",
                most_search_nodes=MOST_SEARCH_NODES,
                nodes=len(request.nodes),
            ),
            "nodes",
            "Join nodes that move alike.",
        )


def _known(where: str, names: Iterable[str], known: Mapping[str, Any], what: str) -> None:
    for name in names:
        if name not in known:
            raise BadField(Said("There is no {what} {name}.", what=what, name=name), where, "Check the name.")


def check_braces(
    braces: Iterable[Brace], index: Mapping[str, int], places: np.ndarray, where: str = "braces"
) -> None:
    """Refuse braces that cannot be. Raises: BadField: an unknown node, no length, a wall thicker than the tube."""
    for i, each in enumerate(braces):
        _checked_brace(each, f"{where}[{i}]", index, places)


def _checked_brace(each: Brace, where: str, index: Mapping[str, int], places: np.ndarray) -> None:
    _known(where, (each.start, each.end), index, "node")
    if np.linalg.norm(places[index[each.start]] - places[index[each.end]]) < 1:
        raise BadField(
            Said("The brace from {start} to {end} has no length.", start=each.start, end=each.end),
            where,
            "Choose two places apart.",
        )
    if 2 * each.wall_mm >= each.size_mm:
        raise BadField(
            Said(
                "A tube {size_mm:g} wide cannot have walls {wall_mm:g} thick.",
                size_mm=each.size_mm,
                wall_mm=each.wall_mm,
            ),
            f"{where}.wall_mm",
            "Check size and wall.",
        )
