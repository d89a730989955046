"""One reading on one real shell: 20 kg hung on a place, a dial read, and the whole shell rescaled by it."""

from dataclasses import dataclass
from typing import Annotated

import numpy as np
from pydantic import Field
from scipy.optimize import brentq

from ..errors import BadField
from ..said import Mm, Said
from .asked import HARDEST, SOFTEST, HoldRequest, Name
from .checked import structure_of
from .ground import ground_of
from .state import brace_elements, whole_stiffness
from .structure import GRAVITY

#: A shell within this factor of the plan is as planned: millimetres are not better known.
AS_PLANNED = 1.5


class CalibrateRequest(HoldRequest):
    """The structure in the state it hangs in, the node the weight hangs on, and what the dial under it went down, mm."""

    node: Name
    kg: Annotated[float, Field(gt=0, le=200)] = 20.0
    read_mm: Annotated[float, Field(le=100)]


@dataclass(frozen=True, slots=True, kw_only=True)
class Calibration:
    """``predicted_mm`` before, and the shell's ``softness`` that explains the dial; ``factor`` is measured over predicted."""

    predicted_mm: float
    read_mm: float
    factor: float
    softness: float
    sentences: list[str]


def calibrate(request: CalibrateRequest) -> Calibration:
    """Find how soft this shell is from one weight and one dial.

    Args: request: see CalibrateRequest.
    Returns: the softness that makes the model read what the dial read.
    Raises: BadField: an unknown node or one that is out; a reading that no shell between the limits gives; and as ``hold`` does.
    Source: the movement under the load solved for the softness by Brent's method; stands and braces keep theirs; docs/methods.md section 9.
    """
    structure = structure_of(request)
    if request.node not in structure.index:
        raise BadField(
            Said("There is no node {node}.", node=request.node), "node", "Choose a place of this shell."
        )
    if request.read_mm <= 0:
        raise BadField(
            "The dial must go down by more than nothing.",
            "read_mm",
            "Set it to zero, hang the weight, read it again.",
        )
    at = structure.index[request.node]
    bare = structure.assemble(request.parts, ())
    if not bare.alive[at]:
        raise BadField(
            Said("The metal at {node} is out.", node=request.node),
            "node",
            "Hang the weight on metal that is in.",
        )
    ground = ground_of(structure, bare)
    stiffness = bare.stiffness.copy()
    load = np.zeros(len(stiffness))
    load[6 * at + 2] = request.kg * GRAVITY
    tubes = np.zeros_like(stiffness)
    for rows, k in brace_elements(structure, request.braces):
        tubes[np.ix_(rows, rows)] += k

    def down(softness: float) -> float:
        bare.stiffness[:] = stiffness * (request.softness / softness) + tubes
        return float(np.linalg.solve(whole_stiffness(structure, bare, ground), load)[6 * at + 2])

    predicted = down(request.softness)
    least, most = down(HARDEST), down(SOFTEST)
    _require_between(request.read_mm, least, most)
    softness = (
        float(brentq(lambda s: down(s) - request.read_mm, HARDEST, SOFTEST, xtol=1e-6))
        if least < most
        else request.softness
    )
    factor = request.read_mm / predicted
    return Calibration(
        predicted_mm=round(predicted, 3), read_mm=request.read_mm, factor=round(factor, 3), softness=round(softness, 3), sentences=_sentences(factor, softness),
    )  # fmt: skip


def _require_between(read_mm: float, least: float, most: float) -> None:
    """Raises: BadField for a reading that no shell between the limits gives."""
    if read_mm < least:
        what = Said(
            "{read_mm} is less than the stands and the hardest shell give ({least}).",
            read_mm=Mm(read_mm),
            least=Mm(least, 2),
        )
        raise BadField(what, "read_mm", "Is the dial's foot on the floor, and not on the shell or a stand?")
    if read_mm > most:
        what = Said(
            "{read_mm} is more than the softest shell gives ({most}).",
            read_mm=Mm(read_mm),
            most=Mm(most, 1),
        )
        raise BadField(
            what, "read_mm", "Does the shell stand on all its stands, and is what is out ticked as out?"
        )


def _sentences(factor: float, softness: float) -> list[str]:
    if 1 / AS_PLANNED <= factor <= AS_PLANNED:
        said = [
            Said(
                "The shell gives {factor:.2f} times what was worked out: as planned, within what can be known.",
                factor=factor,
            )
        ]
    else:
        said = [
            Said(
                "The shell gives {factor:.1f} times what was worked out: {softer} than planned.",
                factor=factor,
                softer="softer" if factor > 1 else "stiffer",
            )
        ]
    return [
        *said,
        Said(
            "Every movement of this shell is now taken {softness:.2f} times; twist and bend against the whole shell stay as they are.",
            softness=softness,
        ),
    ]
