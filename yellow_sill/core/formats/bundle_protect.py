"""Protection in a bundle: products, the garage's warmth, faces with their coats, boxes that close."""

from datetime import date, datetime
from typing import Annotated, Literal

from pydantic import Field

from ..protect.closing import Pocket, Reach
from ..protect.products import Product
from ..records import Record
from .bundle_base import Name, Number


class ProductPart(Product):
    """A product with its number, what is left of it and when it was bought."""

    number: Number
    bought_on: date | None = None
    litres: Annotated[float, Field(ge=0, le=1000)] | None = None


class WarmthPart(Record):
    since: datetime
    at_c: Annotated[float, Field(ge=-40, le=60)]
    by: Name


class CoatPart(Record):
    product: Product
    put_on: datetime
    by: Name
    note: Annotated[str, Field(max_length=300)] = ""


class FacePart(Record):
    key: Annotated[str, Field(min_length=1, max_length=20)]
    surface: Literal["", "mating", "outer", "cavity", "underside", "seam"] = ""
    metal: Literal["", "bright", "tight rust", "thin", "holed"] = ""
    bared_on: date | None = None
    overruled: dict[Annotated[str, Field(max_length=12)], Annotated[str, Field(max_length=300)]] = {}
    coats: Annotated[list[CoatPart], Field(max_length=60)] = []


class BoxPart(Record):
    cavity: Annotated[str, Field(max_length=24)] = ""
    pockets: Annotated[list[Pocket], Field(max_length=200)] = []
    poured: Annotated[list[Annotated[str, Field(max_length=60)]], Field(max_length=50)] = []
    still: Annotated[list[Reach], Field(max_length=100)] = []


class ProtectionPart(Record):
    """The products of a garage, and how warm it was."""

    products: Annotated[list[ProductPart], Field(max_length=400)] = []
    warmth: Annotated[list[WarmthPart], Field(max_length=4000)] = []
