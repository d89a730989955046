"""How far welding pulls a patch, tack by tack, and whether what is left in it leaves the sheet flat.

The patch is an elastic membrane (plane stress, square elements). Each tack shrinks the seam across it by a stated amount: a stiff spring
to the panel is put in where the patch is then, and pulls it that much towards the panel. Along the seam each tack leaves a tendon force:
what yielded in the heat is too short. Both together give movement and membrane stress; whether it stays flat is told by the buckling
stress of the largest circle free of folds. A planning figure with a factor of doubt, not a promise.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from pydantic import Field
from shapely import contains_xy
from shapely.geometry import Point as Place
from shapely.geometry import Polygon
from shapely.ops import unary_union

from ..cut.asked import Thickness
from ..errors import BadField
from ..geometry import outline_polygon
from ..records import Corners, Point, Record
from ..said import Listed, Mm, Said
from ..steel import HEAT_CAPACITY_J_PER_MM3K
from .membrane import E_MPA, POISSON, YIELD_MPA, Held, Membrane, as_a_whole, free_parts, outward

EXPANDS_PER_K = 12e-6
#: Rise at which held steel yields: twice the yield strain over the expansion, K.
YIELDS_K = 2 * YIELD_MPA / E_MPA / EXPANDS_PER_K
#: Share of the free contraction of the melted line that is found across a butt (0.8 to 1.2; rule of thumb).
ACROSS_SHARE = 0.8
#: Tendon force of a continuous run, N per J/mm of heat (White's rule of thumb).
TENDON_N_MM_PER_J = 200.0
#: A ring's pull is shared by a disc and the endless plate round it, and a hole's edge gives way like a strip of its radius times the second.
PATCH_SHARE, GIVES = (1 + POISSON) / 2, 1 + POISSON
#: So sure is it: half and twice the buckling stress are the bounds of what is told.
DOUBT = 2.0
#: A crowned sheet buckles at this share of the textbook's stress (knock-down).
CROWN_SHARE = 0.2
#: A tendon so wide has shortened its seam by all of its yield strain, mm.
TENDON_WIDE_MM = 60.0
MOST_TACKS, MOST_ORDERS = 400, 8


class Order(Record):
    """An order of the tacks: numbers of the tacks from 1, each once; how warm each place was before its tack, °C above the garage (none: cold)."""

    name: Annotated[str, Field(min_length=1, max_length=40)]
    tacks: Annotated[
        list[Annotated[int, Field(ge=1, le=MOST_TACKS)]], Field(min_length=1, max_length=MOST_TACKS)
    ]
    rise_k: Annotated[list[Annotated[float, Field(ge=0, le=2000)]], Field(max_length=MOST_TACKS)] = []


class DistortionRequest(Record):
    """A patch and its tacks.

    Attributes:
        patch: its outline, mm; tacks: places on its edge, in order along it; folds: lines that stiffen it; crown_mm: radius of its crown, None where flat.
        energy_j, tack_mm: of one tack; gap_mm: between patch and panel; shrink_mm: across the seam by one tack, as it was measured (None: rule of thumb).
        clear_mm: width of flat panel round it up to the next fold or edge (None: not known, as wide as the patch's radius).
        clamps: how many hold it while it is tacked; orders: to be compared.
    """

    patch: Corners
    tacks: Annotated[list[Point], Field(min_length=1, max_length=MOST_TACKS)]
    orders: Annotated[list[Order], Field(min_length=1, max_length=MOST_ORDERS)]
    folds: Annotated[
        list[Annotated[list[Point], Field(min_length=2, max_length=500)]], Field(max_length=60)
    ] = []
    crown_mm: Annotated[float, Field(gt=0, le=100_000)] | None = None
    clear_mm: Annotated[float, Field(gt=0, le=5000)] | None = None
    thickness_mm: Thickness
    energy_j: Annotated[float, Field(gt=0, le=20_000)]
    tack_mm: Annotated[float, Field(ge=2, le=40)] = 7.0
    gap_mm: Annotated[float, Field(ge=0, le=20)] = 0.8
    shrink_mm: Annotated[float, Field(ge=0, le=3)] | None = None
    clamps: Annotated[int, Field(ge=0, le=100)] = 4


@dataclass(frozen=True, slots=True, kw_only=True)
class Pulled:
    """What one order does.

    Attributes:
        moved_mm: of the patch as a whole, right and up; turned_deg; most_mm: farthest that a place of its edge went.
        least_gap_mm: of a place just before its tack, and which; closes: whether the sheets ride over each other there.
        inside, round: the patch's free field, and the panel beside it, which the seam draws in; verdict: the worse of both; hammer: where to stretch the seam.
        edge: how far each tack's place went, mm, right and up.
    """

    name: str
    moved_mm: list[float]
    turned_deg: float
    most_mm: float
    least_gap_mm: float
    least_gap_tack: int
    closes: bool
    inside: "Squeezed"
    round: "Squeezed"
    verdict: str
    hammer: list["Hammer"]
    edge: list[list[float]]
    words: Said


@dataclass(frozen=True, slots=True, kw_only=True)
class Squeezed:
    """A field of sheet: how hard it is pressed together in its plane (below 0: stretched), and at what it buckles, MPa."""

    pressed_mpa: float
    buckles_mpa: float

    @property
    def ratio(self) -> float:
        return self.pressed_mpa / self.buckles_mpa

    @property
    def verdict(self) -> str:
        if self.ratio <= 1 / DOUBT:
            return "flat"
        return "oil-can" if self.ratio >= DOUBT else "doubtful"


@dataclass(frozen=True, slots=True, kw_only=True)
class Hammer:
    """A run of the seam to stretch on the dolly: from tack to tack as numbered along the edge, and by how much."""

    first: int
    last: int
    stretch_mm: float
    words: Said


@dataclass(frozen=True, slots=True, kw_only=True)
class Distortion:
    """The orders, that with the least movement and squeeze first named; ``shrink_mm``: across the seam by one tack; ``limits``: what this is worth."""

    orders: list[Pulled]
    best: str
    shrink_mm: float
    free_mm: float
    words: Said
    limits: Said | str


def distortion(request: DistortionRequest) -> Distortion:
    """How far a patch is pulled by its tacks, order by order.

    Args: request: see DistortionRequest.
    Returns: for each order movement, least gap, stress against buckling, where to hammer.
    Raises: BadOutline; BadField: a tack off the edge, an order that leaves one out or has one twice.
    Source: plane-stress membrane, tendon force, plate buckling (Timoshenko and Gere); docs/methods.md section 5.
    """
    patch = outline_polygon(request.patch, "patch")
    for number, at in enumerate(request.tacks):
        if patch.exterior.distance(Place(at)) > 6:
            raise BadField(
                Said("Tack {n} lies off the patch's edge.", n=number + 1),
                f"tacks[{number}]",
                "Give its place on the edge.",
            )
    for number, order in enumerate(request.orders):
        _require_order(order, number, len(request.tacks))
    membrane = Membrane(patch, request.tacks, request.thickness_mm, request.clamps)
    shrink = across_mm(request) if request.shrink_mm is None else request.shrink_mm
    free, buckles = _field(patch, request)
    told = [_pulled(order, membrane, request, patch, shrink, buckles) for order in request.orders]
    best = min(told, key=lambda each: (_RANK[each.verdict], round(each.most_mm, 2), _worst(each).ratio))
    return Distortion(
        orders=told, best=best.name, shrink_mm=round(shrink, 3), free_mm=round(2 * free, 1), words=_all_words(told, best),
        limits=Said(
            "Plane membrane of even sheet, {shrink} across the seam a tack{measured}; right to a factor of {doubt:g} either way. Try it on scrap.",
            shrink=Mm(shrink, 2), doubt=DOUBT, measured=Said("") if request.shrink_mm is None else Said(" as you measured"),
        ),
    )  # fmt: skip


_RANK = {"flat": 0, "doubtful": 1, "oil-can": 2}


def _worst(pulled: Pulled) -> Squeezed:
    return max(pulled.inside, pulled.round, key=lambda each: each.ratio)


def _require_order(order: Order, number: int, count: int) -> None:
    if sorted(order.tacks) != list(range(1, count + 1)):
        raise BadField(
            Said("An order names each of the {count} tacks once.", count=count),
            f"orders[{number}].tacks",
            "Number them along the edge from 1.",
        )
    if order.rise_k and len(order.rise_k) != count:
        raise BadField(
            Said("{count} tacks have {given} temperatures.", count=count, given=len(order.rise_k)),
            f"orders[{number}].rise_k",
            "Give one for each tack, in the order of the work.",
        )


def across_mm(request: DistortionRequest) -> float:
    """What one tack shrinks the seam across, mm: free contraction of the line that its heat melts.

    Source: ACROSS_SHARE · α Q / (ρ c t), Q in J per mm of seam; docs/methods.md section 5.
    """
    heat = request.energy_j / request.tack_mm
    return ACROSS_SHARE * EXPANDS_PER_K / HEAT_CAPACITY_J_PER_MM3K * heat / request.thickness_mm


def tendon_n(energy_j: float, tack_mm: float, thickness_mm: float, rise_k: float) -> float:
    """How hard the seam pulls along itself at a tack, N: yield on the width that its heat brought to yield, at most that of a continuous run.

    Args: rise_k: how warm the place was before the tack, above the garage.
    Source: peak of an instantaneous source in a plate, Q / (π e ρ c t r²); White's tendon force as the bound.
    """
    left = max(YIELDS_K - rise_k, 1.0)
    radius = math.sqrt(energy_j / (math.pi * math.e * HEAT_CAPACITY_J_PER_MM3K * thickness_mm * left))
    return min(2 * radius * thickness_mm * YIELD_MPA, TENDON_N_MM_PER_J * energy_j / tack_mm)


def _pulled(
    order: Order, membrane: Membrane, request: DistortionRequest, patch: Polygon, shrink: float, buckles: float
) -> Pulled:  # fmt: skip
    count = len(request.tacks)
    out, along = outward(patch, membrane.places)
    radius = math.sqrt(patch.area / math.pi)
    spring = E_MPA * request.thickness_mm * request.tack_mm / (GIVES * radius)
    held = Held(membrane.gives, out, request.gap_mm, spring)
    for number in order.tacks:
        held.tack(number - 1, shrink)
    force, moved = held.force, held.moved
    least, least_at, closed = held.least, held.least_at, held.closed
    rises = order.rise_k or [0.0] * count
    pull = np.zeros(count)
    for number, rise in zip(order.tacks, rises, strict=True):
        pull[number - 1] = tendon_n(request.energy_j, request.tack_mm, request.thickness_mm, rise)
    force = force + _tendons(pull, along, membrane.places, patch)
    drawn_in = float(np.einsum("ij,ij->i", held.force.reshape(-1, 2), out).sum()) / patch.exterior.length
    nodes = membrane.moved(force)
    stress = membrane.stress(nodes)
    inside = Squeezed(
        pressed_mpa=round(-float(stress[_in_field(membrane, patch, request)].mean()), 1),
        buckles_mpa=round(buckles, 1),
    )
    around = Squeezed(
        pressed_mpa=round(
            (drawn_in + (1 - PATCH_SHARE) * float(pull.mean()) / radius) / request.thickness_mm, 1
        ),
        buckles_mpa=round(_beside_mpa(request, radius), 1),
    )
    whole = moved.reshape(-1, 2)
    shift, turned = as_a_whole(membrane.places, whole)
    worst = max(inside, around, key=lambda each: each.ratio)
    most = float(np.hypot(whole[:, 0], whole[:, 1]).max())
    return Pulled(
        name=order.name, moved_mm=[round(float(x), 3) for x in shift], turned_deg=round(turned, 4), most_mm=round(most, 3), least_gap_mm=round(least, 3),
        least_gap_tack=least_at, closes=closed, inside=inside, round=around, verdict=worst.verdict,
        hammer=_hammer(pull, request, membrane.places, worst.verdict), edge=[[round(float(x), 3) for x in row] for row in whole],
        words=_words(order.name, most, least, least_at, worst, "inside" if worst is inside else "round"),
    )  # fmt: skip


def _beside_mpa(request: DistortionRequest, radius: float) -> float:
    """The stress at which the panel beside the seam buckles: a strip held on both sides."""
    wide = min(request.clear_mm or radius, radius)
    t = request.thickness_mm
    return 4 * math.pi**2 * E_MPA / (12 * (1 - POISSON**2)) * (t / wide) ** 2 + _crowned(request)


def _tendons(pull: np.ndarray, along: np.ndarray, places: np.ndarray, patch: Polygon) -> np.ndarray:
    """Forces of a shortened seam on the patch at its tacks: each run between two neighbours pulls both together."""
    force = np.zeros((len(pull), 2))
    if len(pull) < 2:
        return force.ravel()
    ring = patch.exterior
    s = np.array([ring.project(Place(place)) for place in places])
    order = np.argsort(s, kind="stable")
    for here, following in zip(order, np.roll(order, -1), strict=True):
        apart = float(np.hypot(*(places[following] - places[here])))
        way = (s[following] - s[here]) % ring.length
        if apart < 1e-6 or way > 0.5 * ring.length:
            continue
        tight = PATCH_SHARE * (pull[here] + pull[following]) / 2  # the panel on the other side bears the rest
        toward = (places[following] - places[here]) / apart
        force[here] += tight * toward
        force[following] -= tight * toward
    return force.ravel()


def _field(patch: Polygon, request: DistortionRequest) -> tuple[float, float]:
    """Radius of the largest circle free of folds and edges, mm, and the stress at which it buckles, MPa."""
    radius = max(each[1] for each in free_parts(patch, request.folds))
    flat = 4.2 * E_MPA * request.thickness_mm**2 / (12 * (1 - POISSON**2) * radius**2)
    return radius, flat + _crowned(request)


def _crowned(request: DistortionRequest) -> float:
    """What a crown adds to the stress at which a sheet buckles, MPa."""
    if request.crown_mm is None:
        return 0.0
    return CROWN_SHARE * E_MPA * request.thickness_mm / (request.crown_mm * math.sqrt(3 * (1 - POISSON**2)))


def _in_field(membrane: Membrane, patch: Polygon, request: DistortionRequest) -> np.ndarray:
    """Which elements lie deep in the widest parts; the deepest where none does."""
    parts = free_parts(patch, request.folds)
    radius = max(each[1] for each in parts)
    deep = unary_union([part.buffer(-radius / 2) for part, own in parts if own > 0.98 * radius])
    inside = contains_xy(deep, membrane.middles[:, 0], membrane.middles[:, 1])
    if inside.any():
        return inside
    off = np.array([patch.exterior.distance(Place(at)) for at in membrane.middles])
    return off >= off.max() - 1e-9


def _hammer(pull: np.ndarray, request: DistortionRequest, places: np.ndarray, verdict: str) -> list[Hammer]:
    """Where to stretch the seam on the dolly: side by side of the patch, by what its tendon has shortened it."""
    if verdict == "flat" or len(pull) < 2:
        return []
    usual = float(np.median(np.hypot(*np.diff(places, axis=0).T)))
    sides: list[list[int]] = [[0]]
    for k in range(1, len(pull)):
        if math.dist(places[k], places[k - 1]) > 4 * usual:
            sides.append([k])
            continue
        before, here = places[k] - places[k - 1], places[(k + 1) % len(pull)] - places[k]
        turn = math.degrees(
            abs(
                math.atan2(
                    before[0] * here[1] - before[1] * here[0], before[0] * here[0] + before[1] * here[1]
                )
            )
        )
        sides[-1].append(k)
        if turn > 35 or math.dist(places[k], places[(k + 1) % len(pull)]) > 4 * usual:
            sides.append([k])
    told = []
    for side in (each for each in sides if len(each) > 1):
        long = float(sum(np.hypot(*(places[b] - places[a])) for a, b in zip(side, side[1:], strict=False)))
        width = float(np.mean(pull[side])) / (request.thickness_mm * YIELD_MPA)
        stretch = YIELD_MPA / E_MPA * long * PATCH_SHARE * min(1.0, width / TENDON_WIDE_MM)
        told.append((side, stretch))
    told.sort(key=lambda each: -each[1])
    return [
        Hammer(
            first=side[0] + 1, last=side[-1] + 1, stretch_mm=round(stretch, 2),
            words=Said(
                "On the dolly, light blows along the bead until it is {stretch} longer; look after each pass.", stretch=Mm(max(stretch, 0.05), 2),
            ),
        )
        for side, stretch in told[:6]
    ]  # fmt: skip


def _words(name: str, most: float, least: float, least_at: int, worst: Squeezed, where: str) -> Said:
    gap = (
        Said("the gap is closed at tack {n}: the sheets jam or ride over each other", n=least_at)
        if least < 0.01
        else Said("the gap is down to {gap} before tack {n}", gap=Mm(least, 2), n=least_at)
    )
    stands = {
        "flat": "it stays flat",
        "doubtful": "it may oil-can",
        "oil-can": "it oil-cans unless the seam is stretched",
    }[worst.verdict]
    pressed = Said(
        "{field} is {how} by {mpa:.0f} MPa and lets go at {lets:.0f}",
        field=Said("the patch" if where == "inside" else "the panel beside the seam"),
        how=Said("pressed" if worst.pressed_mpa >= 0 else "stretched"),
        mpa=abs(worst.pressed_mpa),
        lets=worst.buckles_mpa,
    )
    return Said(
        "{name}: an edge goes {most}; {gap}; {stands} ({pressed}).",
        name=Said(name.capitalize()), most=Mm(most, 2), gap=gap, stands=Said(stands), pressed=pressed,
    )  # fmt: skip


def _all_words(told: Sequence[Pulled], best: Pulled) -> Said:
    same = [
        each.name
        for each in told
        if each is not best and abs(each.most_mm - best.most_mm) < 0.02 and each.verdict == best.verdict
    ]
    if same:
        return Said(
            "{best} moves it least; {same} no more than that.", best=Said(best.name.capitalize()), same=Listed(tuple(Said(name) for name in same))
        )  # fmt: skip
    return Said("{best} moves it least.", best=Said(best.name.capitalize()))
