"""Unitary roadster: the saloon's lower half, open over the seats, with a windscreen frame of its own and cut-down doors."""

from functools import cached_property

from shapely import affinity, line_merge
from shapely.geometry import Polygon, box
from shapely.geometry.base import BaseGeometry

from ..geometry import largest
from .curves import Xy, ellipse, filleted, half_and_mirror, rect, slot, spline, strip
from .pairs import Pair, mirrored
from .saloon_lines import SideLines
from .saloon_plan import body_outline
from .saloon_reference import REFERENCE as R
from .saloon_top import BASE, BONNET_FRONT, BONNET_REAR, BONNET_SIDE, SCREEN_FOOT, TopLines, before, whole
from .sheet import DrawingSheet, joined

H, W, TOP, TAIL, NOSE = R.half_width, R.waist, R.height, R.tail, R.nose
#: Where the cockpit ends behind, and how far from the centre line its rim lies.
COCKPIT_REAR, RIM = R.deck_front - 330, H - 116
_FAR = 1000.0


class RoadsterLines(SideLines):
    """The lines in which the roadster differs from the saloon."""

    roofed = False

    @cached_property
    def upper_edge(self) -> list[Xy]:
        base, deck = R.screen_base, R.deck_front
        edge = [
            (base - 10, W),
            (base + 60, W + 8),
            (R.door_front + 120, W + 2),
            (R.door_rear - 160, W - 26),
            (R.door_rear + 10, W - 10),
        ]
        return [
            *spline([*edge, (R.post_rear + 60, W + 12), (COCKPIT_REAR + 60, W + 22), (deck, W + 20)]),
            *self.lid[1:],
        ]

    @cached_property
    def above_gutter(self) -> BaseGeometry:
        return Polygon()

    @cached_property
    def quarter_window(self) -> BaseGeometry:
        return Polygon()

    @cached_property
    def door(self) -> BaseGeometry:
        """The aperture, open at its top."""
        d0, d1 = R.door_front, R.door_rear
        front = [(d0, R.sill_top, 58), (d0 - 2, 640), (d0 + 6, W + 60)]
        rear = [(d1 + 10, W + 60), (d1 + 6, 660), (d1, 520), (d1 - 14, R.sill_top, 92)]
        return Polygon(filleted([*front, *rear])).buffer(0)

    @cached_property
    def screen_frame(self) -> BaseGeometry:
        base = R.screen_base
        return strip([(base + 8, W + 2), (base + 120, W + 0.5 * (TOP - W)), (base + 224, TOP)], 15)

    def under_roof(self, post: BaseGeometry) -> BaseGeometry:
        return largest(post.intersection(box(-9000, 0, 9000, W - 14)))

    @cached_property
    def seal_flange(self) -> BaseGeometry:
        return largest(
            self.door.difference(self.door.buffer(-15, join_style="round")).intersection(
                self.solid.buffer(-15)
            )
        )

    @cached_property
    def solid(self) -> BaseGeometry:
        """Everything below the upper edge."""
        return Polygon([*self.upper_edge, (TAIL, 0), (NOSE, 0)]).buffer(0)

    def rim(self, aperture: BaseGeometry, inside: float = 0.0) -> list[Xy]:
        line = line_merge(aperture.buffer(-inside, join_style="round").exterior.intersection(self.solid))
        longest = max(getattr(line, "geoms", [line]), key=lambda part: part.length)
        return list(longest.coords)

    @cached_property
    def door_skin(self) -> BaseGeometry:
        """What the door covers: its aperture below the cut-down waist."""
        return largest(self.door.intersection(self.solid))


class RoadsterTop(TopLines):
    """What differs from above is drawn by ``roadster_top``."""

    open = True


def roadster_top() -> DrawingSheet:
    """The view from above of the open body."""
    sheet, outline = DrawingSheet(), body_outline()
    pair = Pair(sheet, 1)
    nose = outline.intersection(before(BONNET_FRONT))
    bonnet = whole(BONNET_FRONT, BONNET_REAR).union(half_and_mirror(BONNET_SIDE))
    bonnet = bonnet.difference(before(BONNET_FRONT)).intersection(before(BONNET_REAR))
    scuttle = whole([*BONNET_REAR, (BASE - 24, 640)], SCREEN_FOOT)
    lid_front = spline([(COCKPIT_REAR + 214, 0), (COCKPIT_REAR + 204, 300), (COCKPIT_REAR + 176, 560)])
    lid_rear = spline([(TAIL - 62, 0), (TAIL - 66, 300), (TAIL - 82, 560)])
    rim = [(COCKPIT_REAR - 4, 0), (COCKPIT_REAR - 12, 300), (COCKPIT_REAR - 90, RIM - 40)]
    cockpit = Polygon(
        filleted(
            [
                *[(x, y) for x, y in SCREEN_FOOT],
                (BASE + 90, RIM, 40),
                (COCKPIT_REAR - 60, RIM, 120),
                (COCKPIT_REAR, 0),
            ]
        )
    )
    cockpit = cockpit.union(affinity.scale(cockpit, 1, -1, origin=(0, 0))).buffer(1).buffer(-1)
    lid = whole(lid_front, lid_rear)
    tail = outline.difference(before(lid_rear))
    deck = whole(spline(rim), lid_front).difference(cockpit)
    centre = [nose, bonnet, scuttle, lid, tail, deck]
    for code, name, shape, tone in (
        ("NOSE", "Front panel", nose, 2), ("BONNET", "Bonnet", bonnet, 1), ("SCUTTLE", "Scuttle", scuttle, 2), ("DECK", "Deck panel", deck, 2),
        ("LID", "Boot lid", lid, 1), ("TAIL", "Rear panel", tail, 2),
    ):  # fmt: skip
        sheet.panel(code, name, "outer", shape, 0.9, tone)
    right = outline.intersection(box(-3000, 0, 5000, _FAR))
    rest = right.difference(joined([*centre, cockpit]).buffer(0.05))
    wing = rest.intersection(box(-3000, 0, BASE - 22, _FAR))
    door = rest.intersection(box(R.door_front, 0, R.door_rear, _FAR))
    apost = rest.intersection(box(BASE - 22, 0, R.door_front, _FAR))
    bpost = rest.intersection(box(R.door_rear, 0, R.post_rear, _FAR))
    quarter = rest.intersection(box(R.post_rear, 0, 5000, _FAR))
    for code, name, shape, thickness, tone in (
        ("WING", "Front wing", wing, 0.9, 1), ("APOST", "A-post and screen pillar", apost, 1.0, 2), ("DOOR", "Door skin", door, 0.9, 1),
        ("BPOST", "B-post face", bpost, 1.0, 2), ("QTR", "Rear quarter panel", quarter, 0.9, 1),
    ):  # fmt: skip
        pair.panel(code, name, "outer", largest(shape), thickness, tone)
    _top_marks(sheet, pair, cockpit)
    sides = [largest(each) for each in (wing, apost, door, bpost, quarter)]
    sheet.silhouette = joined(
        [*centre, *sides, *(affinity.scale(each, 1, -1, origin=(0, 0)) for each in sides)]
    )
    return sheet


def _top_marks(sheet: DrawingSheet, pair: Pair, cockpit: BaseGeometry) -> None:
    """Creases, slots, the screen's foot, the rim of the cockpit, spot welds."""
    pair.line("crease", [(NOSE + 96, 560), (-240, 640), (200, 668), (BASE - 60, 690)], "outer")
    pair.line("crease2", spline([(NOSE + 70, 96), (-200, 116), (300, 128), (BASE - 130, 130)]), "outer")
    for y in range(60, 480, 60):
        pair.line("rib", slot(BASE - 72, y, BASE - 72, y + 34, 12), "outer", True)
    sheet.line("lip", cockpit.buffer(12).exterior.coords, "outer", True)
    foot = [(x + 16, y) for x, y in SCREEN_FOOT]
    sheet.line("edge", [*[(x, -y) for x, y in reversed(foot)], *foot[1:]], "outer")
    pair.line("beyond", rect(R.door_front + 330, 110, R.door_front + 820, RIM - 60, 60), closed=True)
    pair.hole(ellipse(BASE - 48, 330, 12, pieces=16), "outer")
    pair.weld_row([(R.post_rear + 40, RIM + 22), (COCKPIT_REAR - 80, RIM + 14)], R.weld_pitch, "outer")
    sheet.weld_row([(BASE - 46, -560), (BASE - 46, 560)], R.weld_pitch * 1.2, "outer")
    sheet.line("centre", [(NOSE - 60, 0), (TAIL + 60, 0)])


def screen_frame_ahead() -> Polygon:
    """The windscreen's frame as it is seen from the front and from behind."""
    outer = Polygon(filleted(mirrored([(H - 150, W + 6), (H - 214, TOP, 40)])))
    return outer.difference(Polygon(filleted(mirrored([(H - 182, W + 30, 20), (H - 240, TOP - 30, 30)]))))
