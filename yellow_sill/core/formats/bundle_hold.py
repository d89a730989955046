"""How a shell stands, as parts of the bundle: the setup, what it was before, dials read, the order of work."""

from datetime import date
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from ..hold.asked import HARDEST, SOFTEST
from ..records import Coordinate, Record

Node = Annotated[str, Field(max_length=8)]
HoldPartName = Annotated[str, Field(max_length=40)]
Person = Annotated[str, Field(max_length=150)]


class BracePart(Record):
    start: Node
    end: Node
    tube: Annotated[str, Field(max_length=8)]
    ends: Literal["welded", "bolted"]
    fitted_on: Annotated[str, Field(max_length=10)] = ""


class TiePart(Record):
    """A person's own panel and the nodes it is welded to."""

    panel: Annotated[str, Field(max_length=20)]
    nodes: Annotated[list[Node], Field(min_length=2, max_length=4)]


class HoldSetupPart(Record):
    """How the shell stands: places of stands and braces by name, parts out whole or new, panels cut to a place (view, panel, u, v)."""

    stands: Annotated[list[Node], Field(max_length=40)] | None
    braces: Annotated[list[BracePart], Field(max_length=60)]
    tube: Annotated[str, Field(max_length=8)]
    ends: Literal["welded", "bolted"]
    out: Annotated[list[HoldPartName], Field(max_length=400)]
    new: Annotated[list[HoldPartName], Field(max_length=400)] = []
    cuts: Annotated[
        list[
            tuple[
                Annotated[str, Field(max_length=30)],
                Annotated[str, Field(max_length=20)],
                Coordinate,
                Coordinate,
            ]
        ],
        Field(max_length=40),
    ] = []
    engine_in: bool
    doors_on: bool
    on_chassis: bool = True
    ties: Annotated[list[TiePart], Field(max_length=40)] = []
    softness: Annotated[float, Field(ge=HARDEST, le=SOFTEST)] = 1.0

    @model_validator(mode="before")
    @classmethod
    def _older_braces(cls, values: Any) -> Any:
        """Older bundles have braces as [from, to], all with the same tube."""
        if isinstance(values, dict) and isinstance(values.get("braces"), list):
            told = {"tube": values.get("tube"), "ends": values.get("ends")}
            pairs = [
                {"start": b[0], "end": b[1], **told} if isinstance(b, (list, tuple)) and len(b) == 2 else b
                for b in values["braces"]
            ]
            return values | {"braces": pairs}
        return values


class HoldStatePart(Record):
    made_on: date
    by: Person
    setup: HoldSetupPart


class DialPart(Record):
    node: Node
    kg: Annotated[float, Field(gt=0, le=200)]
    read_mm: Annotated[float, Field(gt=0, le=100)]
    predicted_mm: float
    softness: Annotated[float, Field(ge=HARDEST, le=SOFTEST)]
    made_on: date
    by: Person


class OrderStepPart(Record):
    action: Annotated[str, Field(pattern=r"^[-+].{1,40}$")]
    done_on: date | None
    despite: Annotated[str, Field(max_length=300)] = ""


class WorkOrderPart(Record):
    """The accepted order of removal: - takes a part out, + puts it in new."""

    steps: Annotated[list[OrderStepPart], Field(max_length=60)]
    accepted_on: date
    despite: Annotated[str, Field(max_length=300)] = ""


class HoldPart(Record):
    """What the hold stage keeps beside the setup."""

    states: list[HoldStatePart] = []
    dials: list[DialPart] = []
    order: WorkOrderPart | None = None
