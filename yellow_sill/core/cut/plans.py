"""Plans to renew a panel: what is asked about one, and what each comes to."""

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from ..records import Corners, Record
from ..records import Point as At
from .around import STEP_MM, Around, NamedPath
from .asked import CORNER_RADIUS_MM, MARGIN_MM, WEB_MM, CutFinding, CutPanel, Millimetres
from .rates import Logged, Money, Prices, Rates, Weights
from .rows import MOST_ROWS, SpotRow
from .through import MOST_SHEETS

#: Most of the person's own plans, seams and stiffening lines of one call.
MOST_OWN, MOST_LINES = 20, 200


class Bought(Record):
    """A panel that can be bought: price, days until it is there (None: nobody has it)."""

    price: Money
    days: Annotated[int, Field(ge=0, le=2000)] | None


class Own(Record):
    """A plan of the person's own: outlines to cut out."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    outlines: Annotated[list[Corners], Field(min_length=1, max_length=60)]


class BehindSheet(Record):
    """A sheet behind the panel: what is known of it, as of the panel itself."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    panel: CutPanel
    findings: Annotated[list[CutFinding], Field(max_length=200)] = []
    stiff: Annotated[
        list[Annotated[list[At], Field(min_length=2, max_length=2000)]], Field(max_length=MOST_LINES)
    ] = []
    rows: Annotated[list[SpotRow], Field(max_length=MOST_ROWS)] = []
    meets: Annotated[list[NamedPath], Field(max_length=MOST_LINES)] = []
    around: Around = Around()


class OptionsRequest(Record):
    """A panel with its findings, the sheets behind it (outermost first), what it is joined by, and what things cost.

    ``seams``: lines a part panel may end on; ``stiff``: swages, folds and edges that keep a weld from pulling; ``rows``: its rows of spot welds;
    ``meets``: edges of neighbours that it meets by a flange;
    ``around``: what its cuts meet. ``flatness``: 1 for a flat panel, 0 for one that is all curve; ``hold``: the verdict with a plan's pieces out,
    by the plan's name. Patches and merged patches are made in every sheet; with a part panel, a whole one or a person's own plan the sheets behind
    get merged patches. Every plan opens the panel ``step_mm`` wider than the cuts behind it.
    """

    panel: CutPanel
    findings: Annotated[list[CutFinding], Field(max_length=200)]
    behind: Annotated[list[BehindSheet], Field(max_length=MOST_SHEETS - 1)] = []
    around: Around = Around()
    margin_mm: Millimetres = MARGIN_MM
    corner_radius_mm: Millimetres = CORNER_RADIUS_MM
    web_mm: Millimetres = WEB_MM
    step_mm: Millimetres = STEP_MM
    worth_turning_pct: Annotated[float, Field(ge=0, le=50)] = 0.0
    style: Literal["rectangle", "hull"] = "rectangle"
    seams: Annotated[
        list[Annotated[list[At], Field(min_length=2, max_length=500)]], Field(max_length=MOST_LINES)
    ] = []
    stiff: Annotated[
        list[Annotated[list[At], Field(min_length=2, max_length=2000)]], Field(max_length=MOST_LINES)
    ] = []
    rows: Annotated[list[SpotRow], Field(max_length=MOST_ROWS)] = []
    meets: Annotated[list[NamedPath], Field(max_length=MOST_LINES)] = []
    flatness: Annotated[float, Field(ge=0, le=1)] = 0.6
    whole: Bought | None = None
    part: Bought | None = None
    own: Annotated[list[Own], Field(max_length=MOST_OWN)] = []
    hold: dict[str, Literal["HELD", "SOFT", "LOOSE"]] = {}
    rates: Rates = Rates()
    prices: Prices = Prices()
    weights: Weights = Weights()
    logged: dict[Literal["cut", "make", "fit", "weld", "dress", "protect"], Logged] = {}
    processes: Annotated[list[str], Field(max_length=6)] = ["mig"]
    currency: Annotated[str, Field(max_length=3)] = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class InnerCuts:
    """What a plan cuts out of one sheet behind the panel."""

    name: str
    outlines: list[list[list[float]]]
    corners: list[list[list[float]]]


@dataclass(frozen=True, slots=True, kw_only=True)
class Option:
    """One plan worked out.

    Attributes:
        outlines: what is cut out, corners: simple shapes that give them once rounded and ended at the panel's edge; inner: the same for each sheet behind.
        weld_mm: by joint (butt, plug row); release, plugs: old nuggets to let go by method, new welds to make;
        unseen: old ones that a flange must have but nobody drew.
        minutes: by kind, as this person takes them; thumb: by the rates alone;
        cost: by what it goes on; kept: share of the panel's original metal; pull, rust: distortion and rust-trap risk, 0 to 1.
        hold: verdict while it is out, empty where nobody said; days: until it can be had, None for never; score: 0 best.
    """

    name: str
    words: str
    outlines: list[list[list[float]]]
    corners: list[list[list[float]]]
    inner: list[InnerCuts]
    pieces: int
    weld_mm: dict[str, float]
    release: dict[str, int]
    unseen: int
    plugs: int
    minutes: dict[str, float]
    thumb: dict[str, float]
    hours: float
    cost: dict[str, float]
    money: float
    kept: float
    pull: float
    rust: float
    hold: str
    days: int | None
    possible: bool
    score: float
    why_not: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Options:
    """The plans, best first, and what tips it."""

    options: list[Option]
    best: str
    tips: str
    turns: list[str]
    corrected: dict[str, float]
