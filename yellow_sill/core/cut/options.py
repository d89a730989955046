"""Four ways to renew a panel, and the person's own: small patches, merged ones, a part panel to the best seams, the whole panel; compared."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from shapely import contains_xy, distance, line_interpolate_point, prepare
from shapely.geometry import LineString, MultiLineString, Point, Polygon, box
from shapely.geometry.base import BaseGeometry
from shapely.ops import split, unary_union

from ..errors import BadField
from ..geometry import outline_polygon, polygons_of
from ..records import Corners, Record
from ..records import Point as At
from .joints import RUST_TRAP
from .lines import CORNER_RADIUS_MM, LEAST_GROW_MM, MARGIN_MM, ON_EDGE_MM, WEB_MM, CutFinding, CutPanel, CutRequest, Millimetres, cut_lines
from .spots import MOST_ROWS, REACH_MM, SpotRequest, SpotRow, spot_rows

#: Most of the person's own plans, seams and stiffening lines of one call.
MOST_OWN, MOST_LINES = 8, 200
#: A weld this far from every stiffening line pulls fully, mm; nearer ones in proportion.
PULLS_FROM_MM = 120.0
#: Of the kinds of hours, at least so many logged jobs correct a rate.
LOGGED_ENOUGH = 3
#: Rust within this share of a panel's length from its end takes the end with it.
NEAR_END = 0.25
STEEL_KG_MM3 = 7.85e-6
#: Minutes, as a small workshop takes them; the person owns the table. By metre of line, piece or square decimetre; docs/methods.md section 3.
RATES_MIN = {
    "cut_m": 18.0, "make_piece": 35.0, "make_m": 14.0, "fit_m": 20.0, "weld_m": 30.0, "plug": 1.5, "dress_m": 22.0, "protect_dm2": 0.6, "panel_prepare": 60.0,
}  # fmt: skip
#: What money goes on: steel a kg, consumables a metre of weld and a nugget, an hour of one's own time (0: not counted).
MONEY = {"steel_kg": 4.0, "weld_m": 3.5, "nugget": 0.12, "hour": 0.0}
NAMES = {"patches": "Small patches", "merged": "Merged patches", "part": "Part panel", "whole": "Whole panel"}
CRITERIA = {"money": "money", "hours": "hours", "originality": "original metal", "looks": "looks and distortion"}
#: What a verdict of the hold adds to a plan's score: it can be braced, but that costs.
HOLD_PENALTY = {"HELD": 0.0, "SOFT": 0.05, "LOOSE": 0.2}
#: So far a price or rate is followed to where the ranking turns.
FARTHEST = 40.0
#: Plans whose weighted criteria differ by less than this are the same.
EVEN = 1e-6
#: A part panel larger than this share is the whole one; corners go so far past the panel's edge, mm.
MOST_PART, BEYOND_MM = 0.97, 40.0

Minutes = Annotated[float, Field(ge=0, le=600)]
Money = Annotated[float, Field(ge=0, le=100_000)]


class Bought(Record):
    """A panel that can be bought: price, days until it is there (None: nobody has it)."""

    price: Money
    days: Annotated[int, Field(ge=0, le=2000)] | None


class Own(Record):
    """A plan of the person's own: outlines to cut out."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    outlines: Annotated[list[Corners], Field(min_length=1, max_length=60)]


class Rates(Record):
    """Minutes by kind of work; see RATES_MIN for what each counts."""

    cut_m: Minutes = RATES_MIN["cut_m"]
    make_piece: Minutes = RATES_MIN["make_piece"]
    make_m: Minutes = RATES_MIN["make_m"]
    fit_m: Minutes = RATES_MIN["fit_m"]
    weld_m: Minutes = RATES_MIN["weld_m"]
    plug: Minutes = RATES_MIN["plug"]
    dress_m: Minutes = RATES_MIN["dress_m"]
    protect_dm2: Minutes = RATES_MIN["protect_dm2"]
    panel_prepare: Minutes = RATES_MIN["panel_prepare"]


class Prices(Record):
    steel_kg: Money = MONEY["steel_kg"]
    weld_m: Money = MONEY["weld_m"]
    nugget: Money = MONEY["nugget"]
    hour: Money = MONEY["hour"]


class Weights(Record):
    """What counts how much, 0 to 10."""

    money: Annotated[float, Field(ge=0, le=10)] = 3.0
    hours: Annotated[float, Field(ge=0, le=10)] = 3.0
    originality: Annotated[float, Field(ge=0, le=10)] = 2.0
    looks: Annotated[float, Field(ge=0, le=10)] = 2.0


class Logged(Record):
    """What this shell's own log says of a kind of work: how many jobs, and how much longer they took than was worked out."""

    jobs: Annotated[int, Field(ge=0, le=10_000)]
    factor: Annotated[float, Field(gt=0, le=20)]


class OptionsRequest(Record):
    """A panel with its findings (all layers), what it is joined by, and what things cost.

    ``seams``: lines a part panel may end on; ``stiff``: swages, folds and edges that keep a weld from pulling; ``rows``: its rows of spot welds.
    ``flatness``: 1 for a flat panel, 0 for one that is all curve; ``hold``: the verdict with a plan's pieces out, by the plan's name.
    """

    panel: CutPanel
    findings: Annotated[list[CutFinding], Field(min_length=1, max_length=200)]
    margin_mm: Millimetres = MARGIN_MM
    corner_radius_mm: Millimetres = CORNER_RADIUS_MM
    web_mm: Millimetres = WEB_MM
    style: Literal["rectangle", "hull"] = "rectangle"
    seams: Annotated[list[Annotated[list[At], Field(min_length=2, max_length=500)]], Field(max_length=MOST_LINES)] = []
    stiff: Annotated[list[Annotated[list[At], Field(min_length=2, max_length=2000)]], Field(max_length=MOST_LINES)] = []
    rows: Annotated[list[SpotRow], Field(max_length=MOST_ROWS)] = []
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


@dataclass(frozen=True, slots=True, kw_only=True)
class Option:
    """One plan worked out.

    Attributes:
        outlines: what is cut out, corners: simple shapes that give them once rounded and ended at the panel's edge.
        weld_mm: by joint (butt, plug row); release, plugs: old nuggets to let go, new welds to make.
        minutes: by kind; cost: by what it goes on; kept: share of the panel's original metal; pull, rust: distortion and rust-trap risk, 0 to 1.
        hold: verdict while it is out, empty where nobody said; days: until it can be had, None for never; score: 0 best.
    """

    name: str
    words: str
    outlines: list[list[list[float]]]
    corners: list[list[list[float]]]
    pieces: int
    weld_mm: dict[str, float]
    release: dict[str, int]
    plugs: int
    minutes: dict[str, float]
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


def cut_options(request: OptionsRequest) -> Options:
    """Work out and compare the ways to renew a panel.

    Args: request: see OptionsRequest.
    Returns: the plans ranked by the person's weights, with what tips the scale and what would change it.
    Raises: BadOutline, BadField: an outline that cannot be used, two plans of one name, a row that cannot be.
    Source: docs/methods.md section 3.
    """
    sheet = _Sheet(request)
    plans = [_worked_out(name, NAMES[name], *zip(*made, strict=True), sheet) for name, made in _usual(sheet).items() if made]
    for i, own in enumerate(request.own):
        if own.name in NAMES or any(plan.name == own.name for plan in plans):
            raise BadField(f"Two plans bear the name {own.name}.", f"own[{i}].name", "Give it another.")
        shapes = [outline_polygon(outline, f"own[{i}].outlines[{k}]").intersection(sheet.panel) for k, outline in enumerate(own.outlines)]
        left = sheet.rust.difference(unary_union(shapes).buffer(0.01))
        plans.append(_worked_out(own.name, own.name, shapes, shapes, sheet, "" if left.area < 1 else "Rust is left outside it."))
    ranked = _ranked(plans, request.weights)
    return Options(
        options=ranked, best=ranked[0].name, tips=_tips(ranked, request.weights), turns=_turns(request, plans, ranked), corrected=sheet.corrected,
    )  # fmt: skip


class _Sheet:
    """The panel with what is asked of it for every plan."""

    def __init__(self, request: OptionsRequest) -> None:
        self.request = request
        self.panel = outline_polygon(request.panel.outline, "panel.outline")
        rust = [outline_polygon(finding.outline, f"findings[{i}].outline") for i, finding in enumerate(request.findings)]
        self.rust = unary_union(rust).intersection(self.panel)
        self.grown = self.rust
        if request.margin_mm > LEAST_GROW_MM:
            self.grown = unary_union(rust).buffer(request.margin_mm, join_style="mitre").intersection(self.panel)
        self.spots = spot_rows(SpotRequest(rows=request.rows, processes=request.processes)) if request.rows else None
        self.edge = self.panel.exterior.buffer(ON_EDGE_MM)
        stiff = [LineString(line) for line in request.stiff]
        self.stiff = unary_union([MultiLineString(stiff), self.panel.exterior] if stiff else [self.panel.exterior])
        self.corrected = {kind: logged.factor for kind, logged in request.logged.items() if logged.jobs >= LOGGED_ENOUGH}


def _usual(sheet: _Sheet) -> dict[str, list[tuple[Polygon, Polygon]]]:
    """The outlines of the four usual plans with their corners; none for a part panel where it would be the whole."""
    request = sheet.request
    asked = CutRequest(
        panel=request.panel, findings=[CutFinding(id=f.id, layer=0, outline=f.outline) for f in request.findings], margin_mm=request.margin_mm,
        corner_radius_mm=request.corner_radius_mm, web_mm=0.0, style=request.style,
    )  # fmt: skip
    webs = (asked, asked.model_copy(update={"web_mm": request.web_mm}))
    patches, merged = ([(Polygon(cut.outline), Polygon(cut.corners)) for cut in cut_lines(each).cuts] for each in webs)
    part = part_panel(sheet.panel, sheet.grown, [LineString(seam) for seam in request.seams])
    usual = {"patches": patches, "merged": merged, "part": [(part, _beyond(part, sheet.panel))], "whole": [(sheet.panel, _beyond(sheet.panel, sheet.panel))]}
    return usual if part.area < MOST_PART * sheet.panel.area else usual | {"part": []}


def _beyond(part: Polygon, panel: Polygon) -> Polygon:
    """A part's corners taken past the panel's own edge, so that rounding them leaves no corner of it standing."""
    grown = part.buffer(BEYOND_MM, join_style="mitre").difference(panel.difference(part))
    return max(polygons_of(grown), key=lambda each: each.area)


def part_panel(panel: Polygon, rust: BaseGeometry, seams: Sequence[LineString]) -> Polygon:
    """The smallest part of a panel, between seams and straight across, that holds all rust with its margin.

    Where no seam divides the panel it is cut straight across its longer way, beside the rust.
    """
    pieces = [panel]
    for seam in seams:
        long = _extended(seam, 5.0)
        pieces = [part for piece in pieces for part in (polygons_of(split(piece, long)) or [piece])]
    part = unary_union([piece for piece in pieces if piece.intersection(rust).area > 1e-6])
    u0, v0, u1, v1 = rust.bounds
    x0, y0, x1, y1 = panel.bounds
    if x1 - x0 >= y1 - y0:
        near = (x1 - x0) * NEAR_END
        strip = box(x0 - 1 if u0 - x0 < near else u0, y0 - 1, x1 + 1 if x1 - u1 < near else u1, y1 + 1)
    else:
        near = (y1 - y0) * NEAR_END
        strip = box(x0 - 1, y0 - 1 if v0 - y0 < near else v0, x1 + 1, y1 + 1 if y1 - v1 < near else v1)
    across = polygons_of(strip.intersection(panel))
    straight = max(across, key=lambda each: each.area) if across else panel
    whole = max(polygons_of(part), key=lambda each: each.area)
    return straight if whole.area > MOST_PART * panel.area and straight.covers(rust.buffer(-1e-6)) else whole


def _extended(line: LineString, by_mm: float) -> LineString:
    """A line a little longer at both ends, so that it surely divides what it ends on."""
    points = [(float(x), float(y)) for x, y in line.coords]

    def beyond(a: tuple[float, float], b: tuple[float, float]) -> tuple[float, float]:
        length = Point(a).distance(Point(b)) or 1.0
        return a[0] + (a[0] - b[0]) / length * by_mm, a[1] + (a[1] - b[1]) / length * by_mm

    return LineString([beyond(points[0], points[1]), *points, beyond(points[-1], points[-2])])


def _worked_out(name: str, words: str, shapes: Sequence[Polygon], corners: Sequence[Polygon], sheet: _Sheet, why_not: str = "") -> Option:
    request = sheet.request
    parts = [part for shape in shapes for part in polygons_of(shape)]
    cut = unary_union(parts)
    whole = cut.area > 0.999 * sheet.panel.area
    welded = MultiLineString() if whole else unary_union([part.exterior for part in parts]).difference(sheet.edge)
    butt = float(welded.length)
    release, plugs, flange = _flanges(cut, sheet)
    area_dm2 = cut.area / 1e4
    pieces = len(parts)
    bought = request.whole if name == "whole" else request.part if name == "part" else None
    around = sum(part.exterior.length for part in parts) / 1000
    minutes = {
        "cut": request.rates.cut_m * butt / 1000 + sum(release_min for _, release_min in release.values()),
        "make": request.rates.panel_prepare if bought else request.rates.make_piece * pieces + request.rates.make_m * around,
        "fit": request.rates.fit_m * around,
        "weld": request.rates.weld_m * butt / 1000 + request.rates.plug * plugs,
        "dress": request.rates.dress_m * butt / 1000,
        "protect": request.rates.protect_dm2 * area_dm2,
    }
    minutes = {kind: round(value * sheet.corrected.get(kind, 1.0), 1) for kind, value in minutes.items()}
    hours = sum(minutes.values()) / 60
    kg = cut.area * request.panel.thickness_mm * STEEL_KG_MM3
    cost = {
        "panel": bought.price if bought else 0.0,
        "steel": 0.0 if bought else request.prices.steel_kg * kg,
        "consumables": request.prices.weld_m * butt / 1000 + request.prices.nugget * (plugs + sum(count for count, _ in release.values())),
        "time": request.prices.hour * hours,
    }
    cost = {what: round(value, 2) for what, value in cost.items()}
    never = name == "whole" and (bought is None or bought.days is None)
    if name == "part" and request.part is not None and request.part.days is None:
        never = True
    return Option(
        name=name, words=words, outlines=[_ring(part) for part in parts], corners=[_ring(each) for each in corners], pieces=pieces,
        weld_mm={"butt": round(butt, 1), "plug row": round(flange, 1)}, release={how: count for how, (count, _) in release.items()}, plugs=plugs,
        minutes=minutes, hours=round(hours, 2), cost=cost, money=round(sum(cost.values()), 2), kept=round(1 - cut.area / sheet.panel.area, 4),
        pull=round(_pull(welded, sheet), 3), rust=round(_rust_risk(butt, flange), 3), hold=request.hold.get(name, ""),
        days=(bought.days if bought else 0), possible=not never and not why_not, score=0.0,
        why_not=why_not or ("Nobody sells it." if never else ""),
    )  # fmt: skip


def _ring(polygon: Polygon) -> list[list[float]]:
    return [[round(float(u), 3), round(float(v), 3)] for u, v in polygon.exterior.coords[:-1]]


def _flanges(cut: BaseGeometry, sheet: _Sheet) -> tuple[dict[str, tuple[int, float]], int, float]:
    """Old nuggets within a cut by method (count, minutes), new welds to make there, and the flange's length in it, mm."""
    release: dict[str, tuple[int, float]] = {}
    plugs, length = 0, 0.0
    if sheet.spots is None:
        return release, plugs, length
    reach = cut.buffer(REACH_MM)
    prepare(reach)
    for row, plan in zip(sheet.request.rows, sheet.spots.rows, strict=True):
        inside, here = (int(contains_xy(reach, *zip(*places, strict=True)).sum()) for places in ([nugget.at for nugget in plan.nuggets], plan.new.at))
        if not inside:
            continue
        count, minutes = release.get(plan.release.method, (0, 0.0))
        release[plan.release.method] = (count + inside, minutes + plan.release.minutes / len(plan.nuggets) * inside)
        plugs += max(here, inside)
        length += LineString(row.path).intersection(reach).length
    return release, plugs, length


def _pull(welded: BaseGeometry, sheet: _Sheet) -> float:
    """Distortion risk: weld weighted by its distance from the nearest stiffening line and by flatness, over the panel's own diagonal."""
    total = 0.0
    for line in getattr(welded, "geoms", [welded]):
        if line.is_empty:
            continue
        steps = max(2, int(line.length / 20))
        places = line_interpolate_point(line, (np.arange(steps) + 0.5) / steps, normalized=True)
        total += line.length / steps * float(np.minimum(1.0, distance(sheet.stiff, places) / PULLS_FROM_MM).sum())
    u0, v0, u1, v1 = sheet.panel.bounds
    return min(1.0, sheet.request.flatness * total / max(1.0, ((u1 - u0) ** 2 + (v1 - v0) ** 2) ** 0.5))


def _rust_risk(butt: float, flange: float) -> float:
    """Length-weighted rust-trap risk of the joints."""
    whole = butt + flange
    return (RUST_TRAP["butt"] * butt + RUST_TRAP["plug row"] * flange) / whole if whole else 0.0


def _measures(option: Option) -> dict[str, float]:
    """The four criteria, each the more the worse."""
    return {
        "money": option.money, "hours": option.hours, "originality": 1 - option.kept,
        "looks": option.pull + 0.5 * option.rust,
    }  # fmt: skip


def _ranked(plans: Sequence[Option], weights: Weights) -> list[Option]:
    """Best first; what cannot be had comes last. Each criterion counts by its share of the worst among the plans."""
    worst = {name: max((_measures(plan)[name] for plan in plans), default=0.0) or 1.0 for name in CRITERIA}
    total = sum(getattr(weights, name) for name in CRITERIA) or 1.0
    score = lambda plan: sum(getattr(weights, n) * _measures(plan)[n] / worst[n] for n in CRITERIA) / total + HOLD_PENALTY.get(plan.hold, 0.0)  # noqa: E731
    scored = [replace(plan, score=round(score(plan), 4)) for plan in plans]
    return sorted(scored, key=lambda plan: (not plan.possible, plan.score, plan.name))


def _tips(ranked: Sequence[Option], weights: Weights) -> str:
    """One sentence: what the best is better in than the next, and in what it is worse."""
    able = [plan for plan in ranked if plan.possible]
    if len(able) < 2:
        return f"{able[0].words} is the only one that can be done." if able else "None of these can be done as it stands."
    best, next_ = able[:2]
    worst = {name: max(_measures(plan)[name] for plan in ranked) or 1.0 for name in CRITERIA}
    gain = {name: getattr(weights, name) * (_measures(next_)[name] - _measures(best)[name]) / worst[name] for name in CRITERIA}
    if max(abs(value) for value in gain.values()) < EVEN:
        return f"{best.words} and {next_.words.lower()} come out the same."
    most, least = max(gain, key=lambda n: gain[n]), min(gain, key=lambda n: gain[n])
    told = f"{best.words} before {next_.words.lower()}: it is better in {CRITERIA[most]}"
    return told + (f", though worse in {CRITERIA[least]}." if gain[least] < -1e-9 else ".")


def _turns(request: OptionsRequest, plans: Sequence[Option], ranked: Sequence[Option]) -> list[str]:
    """What would change the ranking: the price of the panel, and of an hour."""
    said = []
    best = ranked[0].name

    def winner(change: Callable[[Option], Option]) -> str:
        return _ranked([change(plan) for plan in plans], request.weights)[0].name

    whole = next((plan for plan in plans if plan.name == "whole" and plan.possible), None)
    if whole is not None:

        def priced(price: float) -> Callable[[Option], Option]:
            return lambda plan: replace(plan, money=plan.money - plan.cost["panel"] + price) if plan.name == "whole" else plan

        price = _turning(lambda p: winner(priced(p)) == "whole", 0.0, max(whole.cost["panel"], 10.0) * FARTHEST)
        if price is not None:
            said.append(f"The whole panel wins below {price:.0f}." if best != "whole" else f"The whole panel wins as long as it costs less than {price:.0f}.")

    def paid(rate: float) -> Callable[[Option], Option]:
        return lambda plan: replace(plan, money=plan.money - plan.cost["time"] + rate * plan.hours)

    for rate in (10.0, 20.0, 30.0, 45.0, 60.0, 90.0):
        if request.prices.hour < rate and (other := winner(paid(rate))) != best:
            words = next(plan.words for plan in plans if plan.name == other).lower()
            said.append(f"With an hour at {rate:.0f}, {'the ' if other in ('whole', 'part') else ''}{words} {'win' if words.endswith('s') else 'wins'}.")
            break
    return said


def _turning(wins: Callable[[float], bool], low: float, high: float) -> float | None:
    """Where something that wins at a low price stops winning; None where it never or always does."""
    if not wins(low) or wins(high):
        return None
    for _ in range(40):
        middle = (low + high) / 2
        low, high = (middle, high) if wins(middle) else (low, middle)
    return low
