"""The drawings of a repair as sketches: the cut, the flat pattern, the tack map."""

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from ..geometry import Xy, bounds_of, size_of
from ..patch.judged import FlatHole, hole_shape
from ..patch.part import shown
from ..patch.pattern import FlatPart
from ..patch.rims import Piece
from .sketch import Sketch

BLUE = "#1b4b91"


#: Arms of the cross at a transferred mark, mm.
CROSS_MM = 6.0


def pattern_sketch(
    pattern: FlatPart,
    opening: Sequence[Sequence[float]],
    marks: Iterable[tuple[str, Xy]] = (),
    holes: Iterable[Sequence[Sequence[float]]] = (),
) -> Sketch:
    """The flat pattern at full size with its bend lines and holes, the opening it fills, the marks to transfer (name, place), holes to make again."""
    sketch = Sketch()
    sketch.stroke("opening", opening, closed=True)
    sketch.rim("flat", pattern.outline[-1].to, pattern.outline)
    for cut_out in pattern.cut_outs:
        sketch.stroke("flat", cut_out, closed=True)
    for bend in pattern.bends:
        sketch.rim(
            f"bend {bend.direction}", bend.start, [Piece(bend.end, bend.centre, bend.clockwise)], closed=False
        )
        middle = bend.middle
        words = f"{shown(bend.name)}: {bend.angle_deg:g}° {bend.direction}, R {bend.inside_radius_mm:g}"
        sketch.label(words, middle, 3.0, BLUE)
    for hole in pattern.holes:
        _hole(sketch, hole)
    for outline in holes:
        sketch.stroke("hole", outline, closed=True)
    for name, at in marks:
        _cross(sketch, name, at)
    return sketch


def _hole(sketch: Sketch, hole: FlatHole) -> None:
    """A hole or slot to cut; of a stud or a captive nut its hole with a name."""
    if hole.length_mm and hole.length_mm > hole.diameter_mm:
        sketch.stroke("hole", list(hole_shape(hole).exterior.coords)[:-1], closed=True)
    else:
        sketch.disc("hole", hole.at, hole.diameter_mm / 2)
    if hole.kind != "hole" or hole.name:
        sketch.label(hole.name or hole.kind, (hole.at[0], hole.at[1] + hole.diameter_mm / 2 + 3), 3.0)


def _cross(sketch: Sketch, name: str, at: Xy) -> None:
    x, y = at
    sketch.stroke("mark", [(x - CROSS_MM, y), (x + CROSS_MM, y)])
    sketch.stroke("mark", [(x, y - CROSS_MM), (x, y + CROSS_MM)])
    sketch.label(name, (x, y + CROSS_MM + 3), 3.0)


def cut_sketch(
    panel: Sequence[Sequence[float]],
    rust: Iterable[tuple[str, Sequence[Sequence[float]]]],
    cuts: Iterable[Sequence[Sequence[float]]],
    window: tuple[float, float, float, float],
) -> Sketch:
    """The panel round a cut with the rust in it, clipped to a window (x0, y0, x1, y1 in mm)."""
    from shapely.geometry import Polygon, box

    from ..geometry import polygons_of

    sketch, frame = Sketch(), box(*window)
    for part in polygons_of(Polygon(panel).intersection(frame)):
        sketch.stroke("panel", part.exterior.coords[:-1], closed=True)
    for _, outline in rust:
        sketch.stroke("rust", outline, closed=True)
    for outline in cuts:
        sketch.stroke("cut", outline, closed=True)
    for name, outline in rust:
        centre = Polygon(outline).representative_point()
        sketch.label(name, (centre.x, centre.y), max(4.0, 0.035 * max(size_of(window))), "#14181b")
    return sketch


def view_sketch(
    panels: Iterable[tuple[Sequence, Sequence]], rust: Iterable[tuple[str, Sequence[Sequence[float]]]]
) -> Sketch:
    """A whole view: its panels (outline and holes), the findings in it and their numbers beside them."""
    sketch = Sketch()
    for outline, holes in panels:
        sketch.stroke("panel", outline, closed=True)
        for hole in holes:
            sketch.stroke("new", hole, closed=True)
    wide = size_of(sketch.bounds())[0]
    for name, outline in rust:
        sketch.stroke("rust", outline, closed=True)
        u0, _, u1, v1 = bounds_of(outline)
        sketch.label(name, ((u0 + u1) / 2, v1 + 0.012 * wide), 0.014 * wide)
    return sketch


def tack_sketch(opening: Sequence[Sequence[float]], tacks: Iterable[tuple[int, Xy]]) -> Sketch:
    """The seam with its numbered tacks, drawn large enough to be read when the whole is fitted into a column."""
    sketch = Sketch()
    radius_mm = max(2.6, 0.021 * max(size_of(bounds_of(opening))))
    sketch.stroke("new", opening, closed=True)
    for number, at in tacks:
        sketch.disc("tack", at, radius_mm)
        sketch.label(str(number), at, radius_mm * 1.05)
    return sketch


#: Between the pieces of a cutting plan, mm.
BETWEEN_MM = 120.0


def plan_sketch(sheets: Iterable[Mapping[str, Any]]) -> Sketch:
    """The pieces of a nest above one another at full size: patterns to cut with their names, rests dotted, each piece with its name and size."""
    sketch, floor = Sketch(), 0.0
    for sheet in sheets:
        u0, v0, u1, v1 = bounds_of(sheet["outline"])
        type_mm = max(10.0, 0.018 * (u1 - u0))
        up = lambda points, by=floor - v1: [(u, v + by) for u, v in points]  # noqa: E731
        sketch.stroke("mark", up(sheet["outline"]), closed=True)
        for rest in sheet["rests"]:
            sketch.stroke("opening", up(rest), closed=True)
        for placed in sheet["placed"]:
            sketch.stroke("flat", up(placed["outline"]), closed=True)
            sketch.label(placed["part"], up([placed["label_at"]])[0], type_mm)
        words = f"{sheet['stock']}: {u1 - u0:g} × {v1 - v0:g} mm"
        sketch.label(words, ((u0 + u1) / 2, floor + 0.7 * type_mm), type_mm)
        floor -= v1 - v0 + BETWEEN_MM
    return sketch
