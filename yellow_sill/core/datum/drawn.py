"""What a board draws of an adjusted round: points in a view's plane, deviations, ellipses, height strips, diagonals; and its sentences."""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import chdtri

from ..said import Listed, MmPerM, Said, joined
from ..shell.planes import Plane
from .compare import way_words, ways_said
from .results import Adjusted, PointResult
from .shape import Shape
from .sight import LOW_SHARE
from .slips import mirror_of

#: A point in by less than half its tolerance is worth watching above this share.
WATCH_SHARE = 0.5
#: The share of the book's own length that an end view shows.
END_SHARE = 0.37
#: Views that show the front end of the book, and those that show its rear end.
FRONT_VIEWS, REAR_VIEWS = ("front", "bulkhead", "engine-bay"), ("rear", "boot")
#: Body words that go into a round's headline; roll and pitch over all points mostly follow from them.
OF_THE_BODY = ("Sag", "Sway", "Lozenge")
#: Which way a point must go to where it belongs, for a deviation below and above zero of x, y, z.
CURES = (("aft", "forward"), ("right", "left"), ("up", "down"))


def ellipse_in_view(
    covariance: Sequence[Sequence[float]], plane: Plane, confidence: float = 0.95
) -> list[float]:
    """Where a point lies in a view's plane, this sure: long and short half axis (mm), turn of the long one (degrees, u towards v).

    Source: the standard ellipse times the root of chi-squared with 2 degrees of freedom.
    """
    flat = plane.covariance(covariance)
    sizes, ways = np.linalg.eigh((flat + flat.T) / 2)
    half = np.sqrt(np.maximum(sizes[::-1], 0) * chdtri(2, 1 - confidence))
    return [
        round(float(half[0]), 3),
        round(float(half[1]), 3),
        round(float(np.degrees(np.arctan2(ways[1, 1], ways[0, 1]))), 1),
    ]


def seen_in(view: str, nominal: np.ndarray | Sequence[Sequence[float]]) -> np.ndarray:
    """Which points a view shows: its own side, the low ones from below, the high ones from above, the ends from the ends.

    A door on its own shows none: points are taken on the body.

    Args: view: name of the view; nominal: n x 3, mm. Returns: n booleans.
    """
    places = np.asarray(nominal, float).reshape(-1, 3)
    if not len(places):
        return np.zeros(0, bool)
    x, y, z = places.T
    side = view.removeprefix("inside-")
    if side in ("left", "right"):
        return y <= 0 if side == "left" else y >= 0
    if view in (*FRONT_VIEWS, *REAR_VIEWS):
        share = (x - x.min()) / max(float(np.ptp(x)), 1.0)
        return share <= END_SHARE if view in FRONT_VIEWS else share >= 1 - END_SHARE
    if "door" in view or view == "lids":
        return np.zeros(len(places), bool)
    if view == "top":
        return z >= z.max() - LOW_SHARE * np.ptp(z)
    return z <= z.min() + LOW_SHARE * np.ptp(z)


def flag_of(verdict: str, length_mm: float, tolerance_mm: float) -> str:
    """ok, watch, out or unsure: how a point is marked on the board; one that holds the frame is plain."""
    if verdict == "held":
        return "ok"
    if verdict == "cannot tell yet":
        return "unsure"
    return "out" if verdict == "out" else "watch" if length_mm > WATCH_SHARE * tolerance_mm else "ok"


def flat_off(point: PointResult) -> float:
    """Deviation in plan, mm."""
    return float(np.hypot(point.dx_mm, point.dy_mm))


def cure_words(off: Sequence[float]) -> Said:
    """Which way, and how far, a point must go.

    >>> cure_words([0.2, -5.4, -6.8])
    '5.4 right, 6.8 up'
    """
    return ways_said(off, CURES)


@dataclass(frozen=True, slots=True, kw_only=True)
class Diagonals:
    """The two long diagonals of the adjusted shell: their ends, lengths and difference, mm."""

    first: tuple[str, str]
    second: tuple[str, str]
    lengths_mm: tuple[float, float]
    differ_mm: float


def diagonals(points: Sequence[PointResult], nominal: Mapping[str, Sequence[float]]) -> Diagonals | None:
    """The diagonals between the foremost and the rearmost low pair; None where there are no two pairs."""
    known = [point for point in points if point.id in nominal]
    if len(known) < 4:
        return None
    at = np.array([nominal[point.id] for point in known])
    low = seen_in("underside", at)
    pairs = sorted(
        (at[i, 0], i, k) for i, k in enumerate(mirror_of(at)) if i != k and at[i, 1] < 0 and low[i]
    )
    if len(pairs) < 2:
        return None
    (_, fl, fr), (_, rl, rr) = pairs[0], pairs[-1]
    length = lambda a, b: float(np.linalg.norm(np.array(known[a].place) - known[b].place))  # noqa: E731
    first, second = length(fl, rr), length(fr, rl)
    return Diagonals(
        first=(known[fl].id, known[rr].id),
        second=(known[fr].id, known[rl].id),
        lengths_mm=(round(first, 1), round(second, 1)),
        differ_mm=round(abs(first - second), 1),
    )


def worst_first(result: Adjusted) -> list[PointResult]:
    """Points by how far they are off against their tolerance, those out first."""
    rank = {"out": 0, "cannot tell yet": 1, "in": 2, "held": 3}
    return sorted(
        result.points, key=lambda point: (rank[point.verdict], -point.length_mm / point.tolerance_mm)
    )


def verdict_words(result: Adjusted, told: Shape | None) -> tuple[str, str]:
    """The headline of a round and what it says of the body.

    Returns: one sentence on the points; the body's real words, at most three.
    """
    count = Counter(point.verdict for point in result.points)
    out = [point for point in worst_first(result) if point.verdict == "out"]
    parts = []
    if out:
        off = way_words(np.array([out[0].dx_mm, out[0].dy_mm, out[0].dz_mm]))
        parts.append(
            Said(
                "{out} of {points} points {are} out; the worst, {id}, lies {off}.",
                out=len(out),
                points=len(result.points),
                are="are" if len(out) > 1 else "is",
                id=out[0].id,
                off=off,
            )
        )
    if count["in"]:
        parts.append(Said("{count} {are} in.", count=count["in"], are="is" if count["in"] == 1 else "are"))
    if unsure := count["cannot tell yet"]:
        parts.append(Said("Of {unsure} nobody can tell yet.", unsure=unsure))
    if count["held"]:
        parts.append(
            Said(
                "{count} hold{s} the frame and {is_} not judged.",
                count=count["held"],
                s="s" * (count["held"] == 1),
                is_="is" if count["held"] == 1 else "are",
            )
        )
    if not out and not unsure and count["in"]:
        parts[0] = Said("All {count} points that are judged are in.", count=count["in"])
    said = [word.words for word in result.body if word.real]
    said += (
        [measure.words for measure in told.measures if measure.real and measure.name in OF_THE_BODY]
        if told
        else []
    )
    return joined(parts), joined(said[:3])


def level_words(result: Adjusted) -> str:
    """How the shell stands to level, in one sentence; empty where no heights were read."""
    if result.level is None:
        return ""
    plane, parts = result.level, []
    for value, sigma, low, high in (
        (plane.roll_mm_per_m, plane.roll_sigma, "left", "right"),
        (plane.pitch_mm_per_m, plane.pitch_sigma, "nose", "tail"),
    ):
        if abs(value) > 2 * sigma and abs(value) >= 0.3:
            parts.append(
                Said(
                    "{slope} low at the {end}",
                    slope=MmPerM(abs(value)),
                    end=high if value > 0 else low,
                )
            )
    return (
        Said("To the level it stands {parts}.", parts=Listed(tuple(parts), " and "))
        if parts
        else "On its stands it is level, within what can be measured."
    )
