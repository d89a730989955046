"""The vehicle and its shell in a bundle."""

from datetime import date
from typing import Annotated

from pydantic import Field

from ..records import Corners, Record
from ..shell.file import ViewPart as ShellViewPart
from .bundle_base import Name


class LookedPart(Record):
    layer: Annotated[int, Field(ge=1, le=4)]
    outline: Corners
    method: Annotated[str, Field(max_length=10)]
    made_on: date
    made_by: Name


class ViewPart(ShellViewPart):
    """A view with the regions looked at in it."""

    looked: list[LookedPart]


class VehiclePart(Record):
    make: Annotated[str, Field(min_length=1, max_length=60)]
    model: Annotated[str, Field(min_length=1, max_length=60)]
    year: Annotated[int, Field(ge=1880, le=2100)] | None
    body_no: Annotated[str, Field(max_length=40)]
    body_type: Annotated[str, Field(max_length=60)]
    dimensions_mm: dict[str, float]
    dimensions_typed: dict[str, str]
    currency: Annotated[str, Field(min_length=3, max_length=3)]
    views: Annotated[list[ViewPart], Field(min_length=1, max_length=20)]
