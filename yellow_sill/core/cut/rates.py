"""What work and things cost: minutes by kind of work, prices, what counts how much, and what this shell's own log says of the minutes."""

from collections.abc import Iterable
from typing import Annotated

from pydantic import Field

from ..records import Record

#: The rule of thumb counts as much as so many logged jobs of a kind; docs/methods.md section 3.
THUMB_JOBS = 1.0
#: Minutes, as a small workshop takes them; the person owns the table. By metre of line, piece or square decimetre; docs/methods.md section 3.
RATES_MIN = {
    "cut_m": 18.0, "make_piece": 35.0, "make_m": 14.0, "fit_m": 20.0, "weld_m": 30.0, "plug": 1.5, "dress_m": 22.0, "protect_dm2": 0.6, "panel_prepare": 60.0,
}  # fmt: skip
#: What money goes on: steel a kg, consumables a metre of weld and a nugget, an hour of one's own time (0: not counted).
MONEY = {"steel_kg": 4.0, "weld_m": 3.5, "nugget": 0.12, "hour": 0.0}

Minutes = Annotated[float, Field(ge=0, le=600)]
Money = Annotated[float, Field(ge=0, le=100_000)]


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

    @property
    def shrunk(self) -> float:
        """What the rates are multiplied by: the log's factor drawn towards 1, little by one job, hardly by many.

        On the log scale jobs / (jobs + ``THUMB_JOBS``) of the way, the mean of a normal prior at the rule of thumb; docs/methods.md section 3.

        >>> Logged(jobs=1, factor=4.0).shrunk, Logged(jobs=9, factor=1.5).shrunk
        (2.0, 1.44)
        """
        return round(self.factor ** (self.jobs / (self.jobs + THUMB_JOBS)), 3)


def cut_minutes(rates: Rates, *, weld_mm: float, around_mm: float, area_mm2: float) -> dict[str, float]:
    """Minutes by kind of work for one made piece as it is cut, by the rates alone; old and new spot welds are not counted.

    Args: weld_mm: butt seam; around_mm, area_mm2: the piece's outline and area.

    >>> cut_minutes(Rates(), weld_mm=500, around_mm=700, area_mm2=20_000)["weld"]
    15.0
    """
    butt, around = weld_mm / 1000, around_mm / 1000
    return {
        "cut": rates.cut_m * butt, "make": rates.make_piece + rates.make_m * around, "fit": rates.fit_m * around, "weld": rates.weld_m * butt,
        "dress": rates.dress_m * butt, "protect": rates.protect_dm2 * area_mm2 / 1e4,
    }  # fmt: skip


def logged_factor(jobs: Iterable[tuple[float, float]]) -> Logged | None:
    """What the log says of one kind of work.

    Args: jobs: for each finished job the minutes worked out and the minutes logged; those of a job with either at 0 say nothing.
    Returns: how many jobs tell, and all logged minutes over all worked out; None where none tells.

    >>> logged_factor([(100, 150), (50, 60), (0, 30)])
    Logged(jobs=2, factor=1.4)
    """
    told = [(planned, spent) for planned, spent in jobs if planned > 0 and spent > 0]
    if not told:
        return None
    factor = sum(spent for _, spent in told) / sum(planned for planned, _ in told)
    return Logged(jobs=len(told), factor=min(20.0, round(factor, 3)))
