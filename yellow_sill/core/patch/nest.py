"""Nesting: all open patterns on the sheets and offcuts in stock, so that the least steel is begun and the rest stays in one piece."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from shapely import affinity
from shapely.geometry import Polygon, box
from shapely.ops import polylabel

from ..errors import BadField
from ..geometry import Xy, largest, outline_polygon
from ..said import Count, Mm, Said
from .nest_engine import packed
from .nest_fill import Filler, Layout, whole_reach
from .nest_shapes import Region, Turned, angles_of, rests, turned
from .nest_stock import Nest, NestPart, NestRequest, NestSheet, Placed, StockPiece, Unplaced
from .nest_told import least_begun, remarks_of, sheet_mm, suits, why_not, words_of

#: What is bought where no whole sheet of that thickness is known, mm: the usual small sheet.
USUAL_SHEET_MM = (2000.0, 1000.0)
#: For each round: orders of our own that are tried, layouts of the engine that are looked through. Orders tried while pieces are chosen.
ORDERS_A_ROUND, FINDS_A_ROUND, ROUGH_ORDERS = 6, 2, 3


@dataclass
class _Piece:
    """A piece of stock with the region in which patterns may lie."""

    piece: StockPiece
    shape: Polygon
    region: Region | None

    @property
    def whole(self) -> bool:
        return self.piece.outline is None


@dataclass
class _Plan:
    """Layouts by piece, in the order of cutting."""

    layouts: list[tuple[_Piece, Layout]] = field(default_factory=list)

    @property
    def placed(self) -> set[int]:
        return {part for _, layout in self.layouts for part in layout.parts}

    @property
    def area(self) -> float:
        return sum(layout.area for _, layout in self.layouts)

    def worth(self) -> tuple[float, float, float, float]:
        """More placed is better, then less area of whole sheets begun, then less cut from them, then less of offcuts begun."""
        whole = sum(piece.shape.area for piece, layout in self.layouts if piece.whole)
        cut = sum(layout.area for piece, layout in self.layouts if piece.whole)
        offcuts = sum(piece.shape.area for piece, layout in self.layouts if not piece.whole)
        return round(self.area, 0), -whole, -round(cut, 0), -offcuts


def nest(request: NestRequest) -> Nest:
    """Lay patterns on stock of their thickness.

    Offcuts are begun before sheets; a piece that is not needed is not begun; on each piece patterns are placed by no-fit polygons in
    orders that are tried, and the sheet begun last is handed to the packing engine too. The same request gives the same layout, unless
    the clock ended the engine: that is told.

    Args: request: see NestRequest.
    Raises: BadOutline, BadField: a name twice, a piece without a size.
    Source: docs/methods.md section 4 (no-fit polygons; bounds by area).
    """
    parts = [outline_polygon(part.outline, f"parts[{i}].outline") for i, part in enumerate(request.parts)]
    _once([part.name for part in request.parts], "parts")
    _once([piece.name for piece in request.stock], "stock")
    pieces = [_piece(piece, i, request) for i, piece in enumerate(request.stock)]
    sheets: list[NestSheet] = []
    unplaced: list[Unplaced] = []
    buy: list[Said] = []
    most = least = 0.0
    clocked = False
    for kind in _kinds(request.parts):
        mine = [i for i, part in enumerate(request.parts) if _kind(part) == kind]
        fitting = [piece for piece in pieces if suits(request.parts[mine[0]], piece.piece)]
        work = _Work(request, parts, mine)
        plan, by_clock = work.plan(fitting)
        clocked |= by_clock
        sheets += [work.told(piece, layout) for piece, layout in plan.layouts]
        single = [i for i in mine if any(work.filler(piece).fits(i) for piece in fitting if piece.region)]
        room = sum(piece.region.shape.area for piece in fitting if piece.region)
        most += min(sum(parts[i].area for i in single), room)
        least += least_begun(
            [(each.region.shape.area, each.shape.area) for each in fitting if each.region],
            sum(parts[i].buffer(request.kerf_mm / 2).area for i in plan.placed),
        )
        lost = [i for i in mine if i not in plan.placed]
        if lost:
            unplaced += [why_not(request, i, _largest_of(fitting), i in single) for i in lost]
            buy += work.to_buy(lost, pieces)
    placed = sum(sheet.used_mm2 for sheet in sheets)
    begun = sum(Polygon(sheet.outline).area for sheet in sheets)
    most = max(most, placed)
    told = Nest(
        sheets=sheets,
        unplaced=unplaced,
        used_percent=round(100 * placed / begun, 1) if begun else 0.0,
        placed_mm2=round(placed, 0),
        most_mm2=round(most, 0),
        gap_percent=round(100 * (1 - placed / most), 2) if most else 0.0,
        begun_mm2=round(begun, 0),
        least_mm2=round(min(least, begun), 0),
        buy=buy,
        remarks=remarks_of(request, clocked),
        words="",
    )
    return replace(told, words=words_of(told))


class _Work:
    """The patterns of one thickness and coating, and the pieces that suit them."""

    def __init__(self, request: NestRequest, parts: Sequence[Polygon], mine: Sequence[int]) -> None:
        self.request, self.parts, self.mine = request, parts, list(mine)
        self._ways: dict[bool, dict[int, list[Turned]]] = {}
        self._fillers: dict[str, Filler] = {}

    def ways(self, whole: bool) -> dict[int, list[Turned]]:
        if whole not in self._ways:
            turn = 90 if whole else self.request.turn_deg
            asked = self.request.parts
            self._ways[whole] = {
                i: turned(
                    i,
                    self.parts[i],
                    self.request.kerf_mm,
                    angles_of(asked[i].grain, turn),
                    (False, True) if asked[i].both_faces else (False,),
                )
                for i in self.mine
            }
        return self._ways[whole]

    def filler(self, piece: _Piece) -> Filler:
        assert piece.region is not None
        name = piece.piece.name
        if name not in self._fillers:
            self._fillers[name] = Filler(piece.region, self.ways(piece.whole))
        return self._fillers[name]

    def plan(self, pieces: Sequence[_Piece]) -> tuple[_Plan, bool]:
        """The best plan found, and whether the clock ended the engine."""
        usable = [piece for piece in pieces if piece.region]
        keys = (
            lambda each: (each.whole, _price(each) if each.whole else 0.0, each.shape.area),
            lambda each: (each.whole, -each.shape.area),
            lambda each: each.whole,
        )
        orders = [sorted(usable, key=key) for key in keys]
        order, best = orders[0], self._try(orders[0], ROUGH_ORDERS)
        for other in orders[1:]:
            tried = self._try(other, ROUGH_ORDERS)
            if tried.worth() > best.worth():
                order, best = other, tried
        for piece in sorted((piece for piece, _ in best.layouts), key=lambda each: -each.shape.area):
            fewer = [each for each in order if each is not piece]
            tried = self._try(fewer, ROUGH_ORDERS)
            if tried.worth() > best.worth():
                best, order = tried, fewer
        if self.request.rounds == 1:
            return best, False
        tried = self._try(order, self.request.rounds * ORDERS_A_ROUND)
        return self._pressed(max(best, tried, key=lambda plan: (plan.worth(), plan is tried)))

    def _try(self, order: Sequence[_Piece], rounds: int) -> _Plan:
        plan, left = _Plan(), list(self.mine)
        for piece in order:
            filler = self.filler(piece)
            able = [i for i in left if filler.fits(i)]
            if not able:
                continue
            layout = filler.best(able, rounds, self.request.seed)
            if layout.places:
                plan.layouts.append((piece, layout))
                left = [i for i in left if i not in layout.parts]
        return plan

    def _pressed(self, plan: _Plan) -> tuple[_Plan, bool]:
        """The whole sheet that is begun last, handed to the engine: what it leaves is the rest that counts."""
        number = max((i for i, (piece, _) in enumerate(plan.layouts) if piece.whole), default=None)
        if number is None:
            return plan, False
        piece, layout = plan.layouts[number]
        assert piece.region is not None
        if len(layout.places) < 2 or layout.reach < 1.02 * self.least_reach(piece.region, layout):
            return plan, False
        hands = {way.part: way.flipped for way, _ in layout.places}
        ways = [[way for way in self.ways(True)[part] if way.flipped == hand] for part, hand in hands.items()]
        found, clocked = packed(piece.region, ways, self.request.rounds * FINDS_A_ROUND, self.request.seed)
        if found is None or found.reach >= layout.reach:
            return plan, clocked
        layouts = list(plan.layouts)
        layouts[number] = (piece, found)
        return _Plan(layouts), clocked

    def least_reach(self, region: Region, layout: Layout) -> float:
        """How far along these patterns reach at least: by their area, and by the one that is longest however it lies, mm."""
        area = sum(way.shape.buffer(self.request.kerf_mm / 2).area for way, _ in layout.places)
        ways = {each.part: each for each, _ in layout.places}
        along = max(
            min(each.size[0] for each in self.ways(True).get(part, [way]) + [way])
            for part, way in ways.items()
        )
        return max(whole_reach(region, area), region.shape.bounds[0] + along)

    def told(self, piece: _Piece, layout: Layout) -> NestSheet:
        """One piece as it is cut."""
        request = self.request
        shapes = [(way, at, affinity.translate(way.shape, *at)) for way, at in layout.places]
        used = sum(shape.area for _, _, shape in shapes)
        left = rests(piece.shape, [shape for _, _, shape in shapes], request.kerf_mm, request.keep_mm)
        scrap = piece.shape.area - used - sum(each.area for each in left)
        price = piece.piece.price
        cost = None if price is None else price * (used + scrap) / piece.shape.area
        assert piece.region is not None
        u0 = piece.shape.bounds[0]
        least = self.least_reach(piece.region, layout)
        placed = [
            Placed(
                part=request.parts[way.part].name,
                turned_deg=way.turned_deg,
                flipped=way.flipped,
                at=(round(at[0], 2), round(at[1], 2)),
                outline=_ring(shape),
                label_at=(round(label.x, 1), round(label.y, 1)),
                label_mm=round(2 * shape.exterior.distance(label), 1),
                cost=None if cost is None else round(cost * shape.area / used, 2),
            )
            for way, at, shape in sorted(shapes, key=lambda each: each[0].part)
            for label in [polylabel(shape, 2.0)]
        ]
        return NestSheet(
            stock=piece.piece.name,
            outline=_ring(piece.shape),
            placed=placed,
            used_mm2=round(used, 0),
            used_percent=round(100 * used / piece.shape.area, 1),
            length_mm=round(layout.reach - u0, 1),
            least_mm=round(min(least, layout.reach) - u0, 1),
            rests=[_ring(each) for each in left],
            scrap_mm2=round(scrap, 0),
            cost=None if cost is None else round(cost, 2),
        )

    def to_buy(self, lost: Sequence[int], pieces: Sequence[_Piece]) -> list[Said]:
        """How many sheets take what is left, nested on new ones; nothing for what no such sheet takes."""
        wanted = self.request.parts[lost[0]]
        known = [each.piece for each in pieces if each.whole and each.region and suits(wanted, each.piece)]
        length, width = (known[0].length_mm or 0, known[0].width_mm or 0) if known else USUAL_SHEET_MM
        left, count = list(lost), 0
        sheet = StockPiece(name="new", thickness_mm=wanted.thickness_mm, length_mm=length, width_mm=width)
        piece = _piece(sheet, 0, self.request)
        if piece.region is None:  # the margins leave nothing of any sheet
            return []
        filler = self.filler(piece)
        while left:
            able = [i for i in left if filler.fits(i)]
            if not able:
                break
            layout = filler.best(able, ROUGH_ORDERS, self.request.seed)
            left = [i for i in left if i not in layout.parts]
            count += 1
        if not count:
            return []
        return [
            Said(
                "{count} of {length} × {width}, {thickness} thick{coating}.",
                count=Count(count, "sheet", "sheets"),
                length=Mm(length, 0),
                width=Mm(width, 0),
                thickness=sheet_mm(wanted.thickness_mm),
                coating=f", {wanted.coating}" if wanted.coating else "",
            )
        ]


def _piece(piece: StockPiece, number: int, request: NestRequest) -> _Piece:
    """Raises: BadOutline, BadField."""
    if piece.outline is not None:
        shape = outline_polygon(piece.outline, f"stock[{number}].outline")
    elif piece.length_mm and piece.width_mm:
        shape = box(0, 0, piece.length_mm, piece.width_mm)
    else:
        raise BadField(
            Said("{name} has no size.", name=piece.name),
            f"stock[{number}]",
            "Give its length and width, or an outline.",
        )
    inner = shape.buffer(request.kerf_mm / 2 - request.margin_mm, join_style="mitre", mitre_limit=2)
    if inner.is_empty or inner.area < 100:
        return _Piece(piece, shape, None)
    return _Piece(piece, shape, Region(Polygon(largest(inner).exterior)))


def _largest_of(pieces: Sequence[_Piece]) -> str:
    """The name of the largest piece; empty where there is none."""
    found = max(pieces, key=lambda each: each.shape.area, default=None)
    return found.piece.name if found else ""


def _once(names: Sequence[str], where: str) -> None:
    twice = next((name for i, name in enumerate(names) if name in names[:i]), None)
    if twice is not None:
        raise BadField(Said("'{name}' is there twice.", name=twice), where, "Give each its own name.")


def _kind(part: NestPart) -> tuple[float, str]:
    return round(part.thickness_mm, 2), part.coating


def _kinds(parts: Sequence[NestPart]) -> list[tuple[float, str]]:
    return list(dict.fromkeys(_kind(part) for part in parts))


def _price(piece: _Piece) -> float:
    """Price of a square millimetre; a sheet whose price is not known comes after those whose is."""
    return float("inf") if piece.piece.price is None else piece.piece.price / piece.shape.area


def _ring(shape: Polygon) -> list[Xy]:
    return [(round(u, 2), round(v, 2)) for u, v in shape.exterior.coords[:-1]]
