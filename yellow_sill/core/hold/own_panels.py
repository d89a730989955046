"""A person's own panels in the structure: tied to two or more nodes, or said not to count."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from ..errors import BadField
from ..said import Said
from .bodies import panels_of

#: A panel between two places works as a strap this wide, mm.
STRAP_MM = 80.0
LEAST_PLACES, MOST_PLACES = 2, 4


@dataclass(frozen=True, slots=True, kw_only=True)
class Tie:
    """A panel of the shell by its code, its thickness, and the nodes it is welded to."""

    panel: str
    thickness_mm: float
    nodes: tuple[str, ...]


def tied(structure: Mapping[str, Any], ties: Sequence[Tie]) -> dict[str, Any]:
    """A structure with a person's own panels in it.

    Args: structure: plain values of a whole HoldRequest; ties: two nodes make a strap, three or four a sheet.
    Raises: BadField: too few or too many places, one twice, one that this shell has not, a panel that counts already.
    """
    values = dict(structure)
    for tie in ties:
        if not LEAST_PLACES <= len(tie.nodes) <= MOST_PLACES or len(set(tie.nodes)) < len(tie.nodes):
            raise BadField(
                Said(
                    "Panel {panel} must be tied to {least_places} to {most_places} different places.",
                    panel=tie.panel,
                    least_places=LEAST_PLACES,
                    most_places=MOST_PLACES,
                ),
                "tie",
                "Choose the places it is welded to.",
            )
        for node in tie.nodes:
            if node not in values["nodes"]:
                raise BadField(
                    Said("This shell has no place {node}.", node=node), "tie", "Choose it from the list."
                )
        if tie.panel in counted(values["parts"]):
            raise BadField(
                Said("Panel {panel} counts already.", panel=tie.panel),
                "tie",
                "It is part of the body as it was made.",
            )
        name = f"panel_{tie.panel}"
        values["parts"] = values["parts"] | {name: {"thickness_mm": tie.thickness_mm}}
        if len(tie.nodes) == LEAST_PLACES:
            start, end = tie.nodes
            strap = {
                "id": name,
                "from": start,
                "to": end,
                "strips": [[-STRAP_MM / 2, 0, STRAP_MM / 2, 0, name]],
                "needs": [],
            }
            values["frames"] = [*values["frames"], strap]
        else:
            values["sheets"] = [*values["sheets"], {"part": name, "nodes": list(tie.nodes), "needs": []}]
    return values


def counted(parts: Iterable[str]) -> set[str]:
    """Codes of the panels that count for the hold."""
    return {code for part in parts for code in panels_of(part)}
