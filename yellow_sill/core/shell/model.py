"""A shell as records: views, the panels in them, and the lines that make the drawing read as a vehicle."""

from dataclasses import dataclass, field

#: The sheets at one spot, outermost in the view first; the place in this tuple plus one is the layer's number.
LAYERS = ("outer", "middle", "inner")


@dataclass(frozen=True, slots=True, kw_only=True)
class Panel:
    """One sheet as one view shows it. The same code in two views is the same sheet seen twice.

    Attributes:
        code: short name such as ``L-SILL``; L and R are the vehicle's own left and right.
        mirror_code: the panel on the other side, or "" for one on the centre line.
        layer: 1 = outermost in this view, counting inwards (LAYERS).
        thickness_mm: nominal sheet thickness.
        tone: 0 to 3, how far back the sheet lies; a drawing hint.
        outline, holes: rings of [u, v] in the view's plane, mm.
    """

    code: str
    name: str
    mirror_code: str
    layer: int
    thickness_mm: float
    tone: int
    outline: list[list[float]]
    holes: list[list[list[float]]] = field(default_factory=list)


@dataclass(frozen=True, slots=True, kw_only=True)
class Feature:
    """A drawn line that is not a panel: crease, edge, hole, rib, hidden, beyond, centre, tyre, gutter, lip, under, weld."""

    kind: str
    points: list[list[float]]
    layer: int = 0
    closed: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class View:
    """A plane drawing of the shell with two axes at true size, u to the right and v up.

    Attributes:
        name, title: ``left`` and ``Left side``.
        u_axis, v_axis: which shell axis runs along u and v, such as ``x``, ``-x``, ``z``.
        bounds: [u0, v0, u1, v1] of all panels, mm.
        silhouette: polygons of rings, the outer ring first.
        layered: true where the layers are shown one at a time, false where all lie visible in one plan.
    """

    name: str
    title: str
    u_axis: str
    v_axis: str
    bounds: list[float]
    silhouette: list[list[list[list[float]]]]
    layered: bool
    panels: list[Panel]
    features: list[Feature]


@dataclass(frozen=True, slots=True, kw_only=True)
class Shell:
    """A whole shell: the body type it came from, its dimensions, its views."""

    body_type: str
    dimensions_mm: dict[str, float]
    views: list[View]


def side_of(code: str) -> str:
    """``left``, ``right`` or ``centre`` from a panel code.

    >>> side_of("L-SILL"), side_of("ROOF")
    ('left', 'centre')
    """
    return {"L-": "left", "R-": "right"}.get(code[:2], "centre")
