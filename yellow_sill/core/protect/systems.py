"""Which coats a surface gets, which of them a face has, what may come next and when, and how much of each is still needed."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field

from ..days import require_one_zone
from ..errors import BadField
from ..records import Record
from ..said import Count, Listed, Quoted, Said
from .clocks import Clock, ClockRequest, Warmth, clock
from .products import WAXES, Kind, Product, by_kind, require_product

Surface = Literal["mating", "outer", "cavity", "underside", "seam"]
SURFACE_WORDS = {
    "mating": "Mating flange",
    "outer": "Outer skin",
    "cavity": "Inside a box",
    "underside": "Underside",
    "seam": "Seam",
}
#: The coats of each surface, from the metal outwards (usual practice; the tin has the last word).
SYSTEMS: dict[str, tuple[str, ...]] = {
    "mating": ("weld-through primer",),
    "outer": ("epoxy primer", "colour"),
    "cavity": ("epoxy primer", "cavity wax"),
    "underside": ("epoxy primer", "stone guard", "underbody wax"),
    "seam": ("epoxy primer", "seam sealer", "colour"),
}
#: Bare steel rusts: told from so many days on.
BARE_DAYS = 1


class PutOn(Record):
    """A coat as it was put on: the product as its tin said then, and when."""

    product: Product
    at: datetime


class FaceRequest(Record):
    """A face, its coats from the metal outwards, how warm it has been, what time it is, and the products owned.

    ``bared_on``: when it was bared, None where nobody has said; ``weld_to_come``: within reach of it.
    """

    surface: Surface
    bared_on: datetime | None = None
    coats: Annotated[list[PutOn], Field(max_length=12)] = []
    warmth: Annotated[list[Warmth], Field(max_length=400)] = []
    now: datetime
    products: Annotated[list[Product], Field(max_length=60)] = []
    weld_to_come: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class NextCoat:
    """A product that may come next: from when (None: now), until when (None: it never closes), or why not."""

    name: str
    kind: str
    from_at: datetime | None
    until: datetime | None
    why_not: Said | str
    in_system: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class FaceTold:
    """How a face stands.

    Attributes:
        state: unknown, bare, primed, sealed, coated or waxed; words; clock: of its last coat, None without one or where no temperature is known.
        left: kinds of its system that it does not have; finished: whether all but the wax is on and cured (None: not known).
        next: products by whether and when they may come; bare_days: since it was bared, None where it is not bare or nobody has said.
    """

    state: str
    words: Said | str
    clock: Clock | None
    left: list[str]
    finished: bool | None
    next: list[NextCoat]
    bare_days: int | None


_STATE = {
    "weld-through primer": "primed", "epoxy primer": "primed", "etch primer": "primed", "converter": "primed", "old primer": "primed",
    "seam sealer": "sealed", "colour": "coated", "stone guard": "coated", "cavity wax": "waxed", "underbody wax": "waxed",
}  # fmt: skip


def face_told(request: FaceRequest) -> FaceTold:
    """How a face stands, and what may come on it.

    Args: request: see FaceRequest.
    Raises: BadField: coats out of order, a clock set back, a product whose window ends before it opens.
    Source: docs/methods.md section 10.
    """
    require_one_zone(_times(request), request.now)
    for number, (one, following) in enumerate(zip(request.coats, request.coats[1:], strict=False)):
        if following.at < one.at:
            raise BadField(
                "A coat lies under one that is older.",
                f"coats[{number + 1}].at",
                "Give them from the metal outwards.",
            )
    if request.bared_on and request.bared_on > request.now:
        raise BadField(
            "It was bared after now: a clock was set back, or the day is mistyped.",
            "bared_on",
            "Check the day and the clock.",
        )
    kinds = [coat.product.kind for coat in request.coats]
    last = _clock(request)
    left = [kind for kind in SYSTEMS[request.surface] if kind not in kinds]
    state = _STATE[kinds[-1]] if kinds else "bare" if request.bared_on else "unknown"
    days = (request.now - request.bared_on).days if request.bared_on and not kinds else None
    return FaceTold(
        state=state, words=_words(request, state, last, days), clock=last, left=left, finished=_finished(request, left, last),
        next=_next(request, kinds, last), bare_days=days,
    )  # fmt: skip


def _times(request: FaceRequest) -> list[tuple[str, datetime]]:
    """Every time of a request with where it stands."""
    times = [("bared_on", request.bared_on)] if request.bared_on else []
    times += [(f"coats[{n}].at", coat.at) for n, coat in enumerate(request.coats)]
    return times + [(f"warmth[{n}].since", each.since) for n, each in enumerate(request.warmth)]


def _clock(request: FaceRequest) -> Clock | None:
    """The clock of the last coat; None without one, or where nobody knows how warm it was."""
    if not request.coats:
        return None
    coat = request.coats[-1]
    if not request.warmth or min(each.since for each in request.warmth) > coat.at:
        if coat.at > request.now:
            raise BadField(
                "It was put on after now: a clock was set back, or the day is mistyped.",
                "coats",
                "Check the day and the clock.",
            )
        return None
    return clock(ClockRequest(product=coat.product, put_on=coat.at, warmth=request.warmth, now=request.now))


def _finished(request: FaceRequest, left: Sequence[str], last: Clock | None) -> bool | None:
    """Whether all of a face's system but the wax is on and through; None where nobody has said, or no temperature is known."""
    if any(kind not in WAXES for kind in left):
        return False if request.coats or request.bared_on else None
    if request.coats[-1].product.kind in WAXES:
        return True
    return None if last is None else last.state in ("cured", "open", "closed")


def _next(request: FaceRequest, kinds: Sequence[str], last: Clock | None) -> list[NextCoat]:
    """Every kind that is owned or usual, those of the system first."""
    owned = by_kind(request.products)
    wanted = next((kind for kind in SYSTEMS[request.surface] if kind not in kinds), None)
    told = [_may(request, owned[kind], kinds, last, kind == wanted) for kind in owned]
    return sorted(told, key=lambda each: (not each.in_system, bool(each.why_not), each.name))


def _may(
    request: FaceRequest, product: Product, kinds: Sequence[str], last: Clock | None, wanted: bool
) -> NextCoat:
    require_product(product)
    under = kinds[-1] if kinds else "bare"
    why: Said | str = ""
    from_at = until = None
    if under not in product.over:
        why = Said("Not over {under}.", under=Said(under if kinds else "bare metal"))
    elif product.kind in WAXES and request.weld_to_come:
        why = "Not before the last weld within reach."
    elif kinds and last is None:
        why = "How warm it has been is not known."
    elif last is not None:
        must_cure = under == "converter" or product.kind == "seam sealer"
        from_at = last.cured_at if must_cure else last.opens_at
        until = None if must_cure else last.closes_at
        if from_at is None:
            why = "Too cold: it does not cure now."
        elif until is not None and until <= request.now:
            why = "The window has ended: key it with fine paper first."
        elif from_at <= request.now:
            from_at = None
    return NextCoat(
        name=product.name, kind=product.kind, from_at=from_at, until=until, why_not=why, in_system=wanted
    )


def _words(request: FaceRequest, state: str, last: Clock | None, days: int | None) -> Said | str:
    if state == "unknown":
        return "Nobody has said what is on it."
    if days is not None:
        return (
            Said("Bare for {days}.", days=Count(days, "day", "days"))
            if days >= BARE_DAYS
            else Said("Bare since today.")
        )
    coats = Listed(tuple(Quoted(coat.product.name) for coat in request.coats), " + ")
    if last is None:
        return Said("{coats}; how warm it has been is not known.", coats=coats)
    return Said("{coats}. {clock}", coats=coats, clock=last.words) if len(request.coats) > 1 else last.words


class CansRequest(Record):
    """Faces with what they still need, and the products owned."""

    faces: Annotated[list["FaceArea"], Field(max_length=4000)] = []
    products: Annotated[list[Product], Field(max_length=60)] = []
    stock: dict[Kind, Annotated[float, Field(ge=0, le=1000)]] = {}


class FaceArea(Record):
    """The area of a face, m², and the kinds that it still needs."""

    area_m2: Annotated[float, Field(ge=0, le=100)]
    left: Annotated[list[Kind], Field(max_length=12)] = []


@dataclass(frozen=True, slots=True, kw_only=True)
class Can:
    """A product that is still needed: litres for all faces with a fifth more, what there is (None: nobody has said), what is lacking."""

    kind: str
    name: str
    litres: float
    area_m2: float
    in_stock: float | None
    lacking: float | None
    isocyanate: bool


#: What stays in the pot and the brush, as a share.
LOST = 1.2


def cans_needed(request: CansRequest) -> list[Can]:
    """How much of each product the faces still need.

    Args: request: see CansRequest.
    Raises: BadField, as ``require_product``.
    Source: area over coverage, a fifth more; docs/methods.md section 10.
    """
    owned = by_kind(request.products)
    areas: dict[Kind, float] = {}
    for face in request.faces:
        for kind in face.left:
            areas[kind] = areas.get(kind, 0.0) + face.area_m2
    told = []
    for kind, area in areas.items():
        product = owned.get(kind)
        if product is None:
            continue
        require_product(product)
        litres = LOST * area / product.litre_m2
        there = request.stock.get(kind)
        lacking = None if there is None else round(max(0.0, litres - there), 2)
        told.append(
            Can(
                kind=kind,
                name=product.name,
                litres=round(litres, 2),
                area_m2=round(area, 3),
                in_stock=there,
                lacking=lacking,
                isocyanate=product.isocyanate,
            )
        )
    return sorted(told, key=lambda can: (-(can.lacking or 0.0), can.kind))


CansRequest.model_rebuild()
