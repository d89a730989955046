"""The cut list of braces: how long each tube is and at which angle its ends are mitred, between the faces it is welded or bolted to."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..errors import BadField
from ..records import as_key
from ..said import Mm, Said
from .asked import Brace, HoldRequest
from .checked import check_braces, structure_of
from .elements import axes_of, brace_weight_kg

#: A tube steeper on its face than this is not mitred but stands on a foot plate, degrees from square.
FOOT_PLATE_DEG = 60.0
#: Less than this is square.
SQUARE_DEG = 0.5
#: A tube that is shorter between the faces is no use, mm; a saw takes so much of the bar for each piece.
SHORTEST_MM, KERF_MM = 100.0, 3.0
#: A tube that runs so nearly along a member lands on its end, not on a face.
_ALONG = 0.2


class TubesRequest(HoldRequest):
    """A structure with its braces; see HoldRequest."""


@dataclass(frozen=True, slots=True, kw_only=True)
class TubeCut:
    """One tube: between the nodes, to the points of its mitres (long and short side), mitres in degrees from square, and in words."""

    start: str = as_key("from")
    end: str = as_key("to")
    size_mm: float
    wall_mm: float
    ends: str
    between_mm: float
    long_mm: float
    short_mm: float
    mitre_start_deg: float
    mitre_end_deg: float
    kg: float
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class CutList:
    """Every tube, and how much bar of each size they take, mm, with what the saw takes."""

    tubes: list[TubeCut]
    bar_mm: dict[str, float]


def tubes(request: TubesRequest) -> CutList:
    """The cut list of a structure's braces.

    Args: request: see TubesRequest.
    Returns: a tube for each brace, in their order.
    Raises: BadField: a brace whose faces leave no room for a tube, and as ``hold`` does.
    Source: a plane cuts a square tube at angle m from square over size x tan m; docs/methods.md section 9.
    """
    structure_of(request)  # names every member, part and node that is unknown
    return cut_list(request, request.braces)


def cut_list(request: HoldRequest, braces: Sequence[Brace]) -> CutList:
    """The same for braces that are not in the request."""
    index = {name: i for i, name in enumerate(request.nodes)}
    check_braces(braces, index, np.array(list(request.nodes.values()), float))
    cuts = [_cut(request, brace, i) for i, brace in enumerate(braces)]
    bar: dict[str, float] = {}
    for cut in cuts:
        size = f"{cut.size_mm:g}x{cut.wall_mm:g}"
        bar[size] = round(bar.get(size, 0.0) + cut.long_mm + KERF_MM, 1)
    return CutList(tubes=cuts, bar_mm=bar)


def _cut(request: HoldRequest, brace: Brace, number: int) -> TubeCut:
    a, b = (np.array(request.nodes[name], float) for name in (brace.start, brace.end))
    between = float(np.linalg.norm(b - a))
    way = (b - a) / between
    (back_a, mitre_a), (back_b, mitre_b) = _face(request, brace.start, way), _face(request, brace.end, -way)
    clear = between - back_a - back_b
    if clear < SHORTEST_MM:
        raise BadField(
            Said(
                "Between the faces at {start} and {end} only {clear} are left for a tube.",
                start=brace.start,
                end=brace.end,
                clear=Mm(max(clear, 0), 0),
            ),
            f"braces[{number}]",
            "Choose places farther apart.",
        )
    more = (
        0.0
        if brace.ends == "bolted"
        else brace.size_mm / 2 * sum(np.tan(np.radians(m)) for m in (mitre_a, mitre_b) if m <= FOOT_PLATE_DEG)
    )
    return TubeCut(
        start=brace.start, end=brace.end, size_mm=brace.size_mm, wall_mm=brace.wall_mm, ends=brace.ends, between_mm=round(between, 1),
        long_mm=round(clear + more, 1), short_mm=round(clear - more, 1), mitre_start_deg=round(mitre_a, 1), mitre_end_deg=round(mitre_b, 1),
        kg=round(brace_weight_kg(clear, brace.size_mm, brace.wall_mm), 2), words=_words(brace, mitre_a, mitre_b),
    )  # fmt: skip


def _words(brace: Brace, *mitres: float) -> str:
    if brace.ends == "bolted":
        return "Cut square, a bolted tab at each end."
    if max(mitres) < SQUARE_DEG:
        return "Cut square at both ends."
    told = [
        Said("mitre {m:.0f}° from square", m=m) if m <= FOOT_PLATE_DEG else "square, on a foot plate"
        for m in mitres
    ]
    return Said(
        "At {start} {told}, at {end} {told2}. Cut to the long points, offer up, trim.",
        start=brace.start,
        told=told[0],
        end=brace.end,
        told2=told[1],
    )


def _face(request: HoldRequest, node: str, way: np.ndarray) -> tuple[float, float]:
    """How far from the node the tube meets the heaviest member's face, mm, and its angle from square there, degrees."""
    best: tuple[float, float, float] | None = None
    for frame in request.frames:
        if node not in (frame.start, frame.end):
            continue
        axes, _ = axes_of(*(np.array(request.nodes[name], float) for name in (frame.start, frame.end)))
        aside = way - (way @ axes[0]) * axes[0]
        if np.linalg.norm(aside) < _ALONG:
            continue
        metal = [strip for strip in frame.strips if request.parts[strip[4]].present]
        area = sum(
            float(np.hypot(s[2] - s[0], s[3] - s[1])) * request.parts[s[4]].thickness_mm for s in metal
        )
        if not metal or (best is not None and area <= best[0]):
            continue
        axis = int(abs(way @ axes[1]) < abs(way @ axes[2]))  # the face that looks the tube's way
        cos = float(abs(way @ axes[1 + axis]))
        reach = [
            end for strip in metal for end in ((strip[0], strip[2]) if axis == 0 else (strip[1], strip[3]))
        ]
        best = (area, (max(reach) - min(reach)) / 2 / cos, float(np.degrees(np.arccos(min(1.0, cos)))))
    return (best[1], best[2]) if best else (0.0, 0.0)
