"""The reference saloon and estate from above: x aft, y to the right. Roof, scuttle, bonnet, lid, wings' and doors' tops, gutters."""

from shapely import affinity
from shapely.geometry import Polygon, box
from shapely.geometry.base import BaseGeometry
from shapely.ops import unary_union

from ..geometry import largest
from .curves import Xy, ellipse, half_and_mirror, slot, spline, strip
from .pairs import Pair
from .saloon_plan import body_outline
from .saloon_reference import REFERENCE as R
from .sheet import DrawingSheet, joined

H, NOSE, TAIL = R.half_width, R.nose, R.tail
BASE, HEADER, DECK = R.screen_base, R.screen_header, R.deck_front
#: How far from the centre line the side windows' lower edge lies, and the gutter's width.
SILL_OF_WINDOWS, GUTTER = H - 94, 22.0
_FAR = 1000.0

# Half lines, from the centre line outwards (across) or from the front aft (along).
BONNET_FRONT = spline([(NOSE + 26, 0), (NOSE + 32, 250), (NOSE + 62, 440)])
BONNET_REAR = spline([(BASE - 112, 0), (BASE - 102, 300), (BASE - 66, 606)])
BONNET_SIDE = spline(
    [(NOSE + 62, 440), (NOSE + 150, 512), (-240, 556), (60, 576), (340, 592), (BASE - 66, 606)]
)
SCREEN_FOOT = spline([(BASE - 30, 0), (BASE - 16, 300), (BASE + 20, 540), (BASE + 64, 652)])
SCREEN_HEAD = spline([(HEADER - 30, 0), (HEADER - 22, 300), (HEADER + 6, 500)])
PILLAR_OUTSIDE = spline([(BASE + 24, H - 92), (BASE + 210, 640), (HEADER - 60, 572), (HEADER + 6, 552)])


class TopLines:
    """Where the roof ends behind, and what closes the tail."""

    roof_rear = R.roof_rear
    screen_rear = spline([(DECK + 24, 0), (DECK + 16, 300), (DECK - 36, 600)])
    window_rear = R.roof_rear - 130
    side_window = True
    #: Whether the engine breathes through the lid.
    rear_engine = False
    #: Where a second door on each side ends; before the B-post where there is none.
    rear_door_end = 0.0
    estate = False

    @property
    def lid_louvres(self) -> list[list[Xy]]:
        """Slots in the lid that an engine breathes through."""
        if not self.rear_engine:
            return []
        return [
            slot(DECK + x, y - 40, DECK + x, y + 40, 20)
            for x in (190, 270, 350)
            for y in range(-360, 361, 120)
        ]

    @property
    def roof_side(self) -> list[Xy]:
        rear = self.roof_rear
        return spline(
            [
                (HEADER + 6, 552),
                (HEADER + 160, 562),
                (HEADER + 500, 566),
                (rear - 400, 562),
                (rear - 140, 548),
                (rear, 516),
            ]
        )

    @property
    def roof_tail(self) -> list[Xy]:
        rear = self.roof_rear
        return spline([(rear + 12, 0), (rear + 6, 300), (rear, 516)])


class EstateTop(TopLines):
    roof_rear = TAIL - 226
    screen_rear = spline([(TAIL - 16, 0), (TAIL - 20, 300), (TAIL - 40, 600)])
    window_rear = TAIL - 330
    estate = True


class VanTop(EstateTop):
    side_window = False


def draw(lines: TopLines) -> DrawingSheet:
    """The view from above of the reference body."""
    sheet, outline = DrawingSheet(), body_outline()
    pair = Pair(sheet, 1)
    taken = _centre(sheet, lines, outline)
    taken += _sides(pair, lines, outline, unary_union(taken))
    _marks(sheet, pair, lines)
    for louvre in lines.lid_louvres:
        sheet.line("rib", louvre, "outer", True)
    sheet.silhouette = joined(taken)
    return sheet


def whole(front: list[Xy], rear: list[Xy]) -> Polygon:
    """A sheet across the centre line between two half lines, each from the centre outwards."""
    return half_and_mirror([*front, *reversed(rear)])


def before(line: list[Xy]) -> BaseGeometry:
    """Everything before a half line and its mirror image."""
    end = line[-1]
    return Polygon(
        [
            (-3000, -_FAR),
            *[(x, -y) for x, y in reversed([*line, (end[0] + 60, _FAR)])],
            *line,
            (end[0] + 60, _FAR),
            (-3000, _FAR),
        ]
    ).buffer(0)


def _centre(sheet: DrawingSheet, lines: TopLines, outline: BaseGeometry) -> list[BaseGeometry]:
    """What crosses the centre line, from the front panel to the tail."""
    nose = outline.intersection(before(BONNET_FRONT))
    bonnet = whole(BONNET_FRONT, BONNET_REAR).union(half_and_mirror(BONNET_SIDE))
    bonnet = bonnet.difference(before(BONNET_FRONT)).intersection(before(BONNET_REAR))
    scuttle = whole([*BONNET_REAR, (BASE - 24, 640)], SCREEN_FOOT)
    roof = whole([*SCREEN_HEAD, *lines.roof_side], lines.roof_tail)
    found = [nose, bonnet, scuttle, roof]
    sheet.panel("NOSE", "Front panel", "outer", nose, 0.9, 2)
    sheet.panel("BONNET", "Luggage lid" if lines.rear_engine else "Bonnet", "outer", bonnet, 0.9, 1)
    sheet.panel("SCUTTLE", "Scuttle", "outer", scuttle, 0.9, 2)
    sheet.panel("ROOF", "Roof", "outer", roof, 0.8, 0)
    return found + (_estate_tail(sheet, lines) if lines.estate else _saloon_tail(sheet, lines, outline))


def _saloon_tail(sheet: DrawingSheet, lines: TopLines, outline: BaseGeometry) -> list[BaseGeometry]:
    """Deck panel, boot lid, rear panel."""
    lid_front = [(x + 56, y) for x, y in lines.screen_rear]
    lid_rear = spline([(TAIL - 62, 0), (TAIL - 66, 300), (TAIL - 82, 592)])
    deck, lid = whole(lines.screen_rear, lid_front), whole(lid_front, lid_rear)
    tail = outline.difference(before(lid_rear))
    sheet.panel("DECK", "Deck panel", "outer", deck, 0.9, 2)
    sheet.panel("LID", "Engine lid" if lines.rear_engine else "Boot lid", "outer", lid, 0.9, 1)
    sheet.panel("TAIL", "Rear panel", "outer", tail, 0.9, 2)
    return [deck, lid, tail]


def _estate_tail(sheet: DrawingSheet, lines: TopLines) -> list[BaseGeometry]:
    """The tailgate, seen steeply: its glass and its skin below the glass."""
    rear = lines.roof_rear
    gate = whole(lines.roof_tail[:-1] + [(rear, 500)], lines.screen_rear)
    glass = whole(
        spline([(rear + 40, 0), (rear + 34, 300), (rear + 30, 452)]),
        spline([(TAIL - 84, 0), (TAIL - 86, 300), (TAIL - 92, 512)]),
    )
    sheet.panel("LID", "Tailgate", "outer", gate.difference(glass), 0.9, 1)
    sheet.line("lip", glass.buffer(-10).exterior.coords, "outer", True)
    return [gate.difference(glass)]


def _sides(pair: Pair, lines: TopLines, outline: BaseGeometry, centre: BaseGeometry) -> list[BaseGeometry]:
    """Wings, pillars, gutters, doors and quarters of both sides."""
    right = outline.intersection(box(-3000, 0, 5000, _FAR)).difference(centre)
    if lines.estate:
        right = right.difference(whole(lines.roof_tail, lines.screen_rear))
    screen = Polygon([*SCREEN_FOOT, *reversed(SCREEN_HEAD)]).buffer(0)
    behind = (
        Polygon([*lines.roof_tail, *reversed(lines.screen_rear)]).buffer(0) if not lines.estate else Polygon()
    )
    gutter = Polygon([*lines.roof_side, *[(x, y + GUTTER) for x, y in reversed(lines.roof_side)]]).buffer(0)
    windows = _windows(lines)
    rest = right.difference(unary_union([screen, behind, gutter, windows]).buffer(0.05))
    wing = rest.intersection(box(-3000, 0, BASE - 22, _FAR))
    door = rest.intersection(box(R.door_front, SILL_OF_WINDOWS - 2, R.door_rear, _FAR))
    apost = rest.intersection(box(BASE - 22, 0, HEADER + 40, _FAR)).difference(door)
    bpost = rest.intersection(box(R.door_rear, 0, R.post_rear, _FAR))
    quarter = rest.intersection(box(R.post_rear, 0, 5000, _FAR))
    second = rest.intersection(
        box(R.post_rear, SILL_OF_WINDOWS - 2, max(R.post_rear, lines.rear_door_end), _FAR)
    )
    quarter = quarter.difference(second)
    pair.panel("WING", "Front wing", "outer", wing, 0.9)
    pair.panel("APOST", "A-post and screen pillar", "outer", apost, 1.0, 2)
    pair.panel("DOOR", "Door skin", "outer", door, 0.9, 1)
    pair.panel("BPOST", "B-post face", "outer", bpost, 1.0, 2)
    if lines.rear_door_end:
        pair.panel("DOORR", "Rear door skin", "outer", second, 0.9, 1)
    pair.panel("QTR", "Rear quarter panel", "outer", quarter, 0.9)
    pair.panel("CANT", "Cant rail, outer", "outer", gutter, 1.0, 3)
    found = [wing, apost, door, bpost, quarter, gutter, *([second] if lines.rear_door_end else [])]
    parts = [largest(each) for each in found]
    return [*parts, *(affinity.scale(each, 1, -1, origin=(0, 0)) for each in parts)]


def _windows(lines: TopLines) -> BaseGeometry:
    """The side windows, which stand steeply: a narrow strip each, before and behind the B-post."""
    low, top = SILL_OF_WINDOWS, [(x, y + GUTTER) for x, y in lines.roof_side]
    side = Polygon([*PILLAR_OUTSIDE, *top, (lines.window_rear, low), (BASE + 24, low)]).buffer(0)
    door = side.intersection(box(BASE, 0, R.door_rear, _FAR))
    if not lines.side_window:
        return door
    return door.union(side.intersection(box(R.post_rear, 0, lines.window_rear, _FAR)).buffer(-12).buffer(10))


def _marks(sheet: DrawingSheet, pair: Pair, lines: TopLines) -> None:
    """Creases, slots, gutters, spot welds, the centre line."""
    pair.line("crease", [(NOSE + 96, 560), (-240, 640), (200, 668), (BASE - 60, 690)], "outer")
    pair.line("crease2", spline([(NOSE + 70, 96), (-200, 116), (300, 128), (BASE - 130, 130)]), "outer")
    for y in range(60, 480, 60):
        pair.line("rib", slot(BASE - 72, y, BASE - 72, y + 34, 12), "outer", True)
    pair.hole(ellipse(BASE - 48, 330, 12, pieces=16), "outer")
    for front, rear in ((SCREEN_FOOT, SCREEN_HEAD), (lines.roof_tail, lines.screen_rear)):
        sheet.line("lip", whole(front, rear).buffer(-14).exterior.coords, "outer", True)
    pair.weld_row([(x, y + 11) for x, y in lines.roof_side], R.weld_pitch, "outer")
    sheet.weld_row(_across(SCREEN_FOOT, -16), R.weld_pitch * 1.2, "outer")
    sheet.weld_row(_across(lines.roof_tail, -18), R.weld_pitch * 1.2, "outer")
    for x in (HEADER + 330, HEADER + 760):
        sheet.line("hidden", [(x, -500), (x, 500)])
        sheet.line("hidden", [(x + 60, -500), (x + 60, 500)])
    if not lines.estate:
        front = [(x + 48, y * 1.01) for x, y in lines.screen_rear]
        rear = spline([(TAIL - 54, 0), (TAIL - 58, 300), (TAIL - 74, 606)])
        sheet.line("gutter", whole(front, rear).exterior.coords, "outer", True)
    pair.line(
        "edge",
        strip(
            [(R.door_front + 6, SILL_OF_WINDOWS + 10), (R.door_rear - 6, SILL_OF_WINDOWS + 10)], 4
        ).exterior.coords,
        "outer",
        True,
    )
    sheet.line("centre", [(NOSE - 60, 0), (TAIL + 60, 0)])


def _across(line: list[Xy], aft: float) -> list[Xy]:
    """A half line moved aft and carried over to the other side."""
    moved = [(x + aft, y) for x, y in line]
    return [*[(x, -y) for x, y in reversed(moved)], *moved[1:]]
