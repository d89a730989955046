"""What an adjustment answers: points, readings, gross errors, the overall test."""

from dataclasses import dataclass

from ..remarks import Remark


@dataclass(frozen=True, slots=True, kw_only=True)
class Ellipsoid:
    """Standard ellipsoid: three half axes (one standard error, mm, longest first) and their directions in the shell's axes."""

    half_axes_mm: list[float]
    directions: list[list[float]]


#: The three axes in the words of the garage: along, across and up.
AXES = ("length", "side", "height")


@dataclass(frozen=True, slots=True, kw_only=True)
class AxisResult:
    """A point along one axis: how far off, how unsure that is at the confidence asked for (plus or minus, mm), and its verdict."""

    axis: str
    off_mm: float
    unsure_mm: float
    verdict: str


@dataclass(frozen=True, slots=True, kw_only=True)
class BodyWord:
    """The body as a whole in one figure: its value and how unsure it is at the confidence asked for (plus or minus), mm."""

    name: str
    value_mm: float
    unsure_mm: float
    real: bool
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class PointResult:
    """One point: ``verdict`` is in, out, 'cannot tell yet' against its tolerance, or held; ``redundancy`` sums its readings' shares.

    ``sigma_mm`` and ``ellipsoid`` are one standard error. ``unsure_mm`` is the longest half axis of the region that holds the place at the
    confidence asked for (95 % unless asked otherwise); ``axes`` say the same along length, side and height.
    """

    id: str
    place: list[float]
    dx_mm: float
    dy_mm: float
    dz_mm: float
    length_mm: float
    sigma_mm: list[float]
    axes: list[AxisResult]
    unsure_mm: float
    ellipsoid: Ellipsoid
    covariance_mm2: list[list[float]]
    redundancy: float
    tolerance_mm: float
    verdict: str
    holds_the_frame: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadingResult:
    """One reading; residual = adjusted minus observed, mm (angles: degrees). ``noticed_from`` is the smallest error that would be noticed.

    ``standardised`` and ``noticed_from`` are None where no other reading checks it. ``status``: kept, set aside, doubtful.
    """

    id: str
    adjusted: float
    residual: float
    standardised: float | None
    redundancy: float
    noticed_from: float | None
    status: str


@dataclass(frozen=True, slots=True, kw_only=True)
class GrossError:
    """A silly reading: ``by`` is how far off, ``should_be`` what the rest says (sigma beside it), ``among`` those it cannot be told from.

    Where ``among`` names others, one of them may be the silly one just as well: this one is left out of the sums, and the uncertainties
    span what follows from each.
    """

    reading: str
    kind: str
    points: list[str]
    value: float
    should_be: float
    should_be_sigma: float
    by: float
    standardised: float
    explanation: str
    meant: float | None
    meant_points: list[str]
    words: str
    set_aside: bool
    among: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class SigmaZero:
    """How well the readings agree: 1 is just as well as their stated errors; the test says whether that may be chance."""

    value: float
    redundancy: int
    lowest: float
    highest: float
    passed: bool
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class LevelPlane:
    """How the level plane lies to the shell: roll > 0 means the right side hangs low, pitch > 0 the tail; mm per m."""

    height_mm: float
    roll_mm_per_m: float
    roll_sigma: float
    pitch_mm_per_m: float
    pitch_sigma: float


@dataclass(frozen=True, slots=True, kw_only=True)
class LeftOut:
    id: str
    why: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Adjusted:
    points: list[PointResult]
    readings: list[ReadingResult]
    gross_errors: list[GrossError]
    sigma_zero: SigmaZero
    frame: str
    frame_words: str
    body: list[BodyWord]
    level: LevelPlane | None
    undetermined: list[LeftOut]
    remarks: list[Remark]
