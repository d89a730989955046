"""The drawings of a repair as sketches: the cut, the flat pattern, the tack map."""

from collections.abc import Iterable, Sequence

from ..geometry import Xy, bounds_of, size_of
from ..patch.flat import FlatPattern
from .sketch import Sketch

BLUE = "#1b4b91"


#: Arms of the cross at a transferred mark, mm.
CROSS_MM = 6.0


def pattern_sketch(
    pattern: FlatPattern,
    opening: Sequence[Sequence[float]],
    marks: Iterable[tuple[str, Xy]] = (),
    holes: Iterable[Sequence[Sequence[float]]] = (),
) -> Sketch:
    """The flat pattern at full size with its bend and step lines, the opening it fills, the marks to transfer (name, place), holes to make again."""
    sketch = Sketch()
    sketch.stroke("opening", opening, closed=True)
    sketch.stroke("flat", pattern.flat_outline, closed=True)
    for step in pattern.step_lines:
        sketch.stroke("step", [step.start, step.end])
    for bend in pattern.bend_lines:
        sketch.stroke("bend", [bend.start, bend.end])
        middle = ((bend.start[0] + bend.end[0]) / 2, (bend.start[1] + bend.end[1]) / 2)
        sketch.label(f"{bend.angle_deg:g}° {bend.direction}, R {bend.inside_radius_mm:g}", middle, 3.0, BLUE)
    for hole in holes:
        sketch.stroke("hole", hole, closed=True)
    for name, (x, y) in marks:
        sketch.stroke("mark", [(x - CROSS_MM, y), (x + CROSS_MM, y)])
        sketch.stroke("mark", [(x, y - CROSS_MM), (x, y + CROSS_MM)])
        sketch.label(name, (x, y + CROSS_MM + 3), 3.0)
    return sketch


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
