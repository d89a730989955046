"""Temperature of a thin plate after tacks: superposed instantaneous line sources with loss from both surfaces.

One tack of energy Q put in at once through the whole thickness t of a large plate raises the temperature at distance r,
a time s later, by

    dT = Q / (4 pi k t s) * exp(-r^2 / (4 a s) - b s),    a = k / (rho c),    b = 2 h / (rho c t)

Source: instantaneous line source in an infinite plate with linear surface loss (Carslaw and Jaeger, Conduction of Heat
in Solids, 2nd ed., sections 10.3 and 4.2); constants in docs/methods.md section 5.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ..steel import HEAT_CAPACITY_J_PER_MM3K

CONDUCTIVITY_W_PER_MMK = 0.050  #: mild steel between 20 and 300 degC, 50 W/(m K)
#: Loss from each surface, W/(mm2 K): still air with radiation 12 W/(m2 K); an air line held over it 90 W/(m2 K).
SURFACE_LOSS = {"still": 12e-6, "blown": 90e-6}
#: The formula has no size of its own at r = 0, s = 0; a tack just made is looked at from this time on, s.
LEAST_AGE_S = 0.05
#: Temper colours of mild steel heated in air for seconds, degC; source: the usual tempering table, docs/methods.md.
TEMPER_C = {"straw": 220.0, "bronze": 250.0, "purple": 280.0, "blue": 310.0}
HAND_WARM_C = 45.0  #: a bare hand can just rest on it


@dataclass(frozen=True, slots=True, kw_only=True)
class Plate:
    """A thin plate being tacked.

    Attributes: thickness_mm; energy_j: heat that goes into the plate per tack, J; cooling: still or blown; ambient_c.
    """

    thickness_mm: float
    energy_j: float
    cooling: str
    ambient_c: float

    @property
    def diffusivity(self) -> float:
        """a, mm2/s."""
        return CONDUCTIVITY_W_PER_MMK / HEAT_CAPACITY_J_PER_MM3K

    @property
    def loss_per_s(self) -> float:
        """b, 1/s."""
        return 2 * SURFACE_LOSS[self.cooling] / (HEAT_CAPACITY_J_PER_MM3K * self.thickness_mm)

    @property
    def strength(self) -> float:
        """Q / (4 pi k t), K s."""
        return self.energy_j / (4 * math.pi * CONDUCTIVITY_W_PER_MMK * self.thickness_mm)

    def rise(self, squared_mm2: np.ndarray, age_s: np.ndarray) -> np.ndarray:
        """Temperature rise from several tacks together, K.

        Args: squared_mm2: (points, tacks) squared distances; age_s: (tacks,), ages below LEAST_AGE_S count as that.
        Returns: (points,).
        """
        spread, height = self.spread_and_height(age_s)
        return np.exp(squared_mm2 * spread.astype(squared_mm2.dtype)) @ height.astype(squared_mm2.dtype)

    def spread_and_height(self, age_s: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Of each tack by its age: -1 / (4 a s), 1/mm2, and the rise at its own place, K. Ages below LEAST_AGE_S count as that."""
        age = np.maximum(age_s, LEAST_AGE_S)
        return -1 / (4 * self.diffusivity * age), self.strength / age * np.exp(-self.loss_per_s * age)

    def rise_at(self, squared_mm2: np.ndarray, ages_s: np.ndarray) -> np.ndarray:
        """Temperature rise at one point at several times, K: squared distances (tacks,), ages (times, tacks); gives (times,).

        A tack of age 0 or less has not been made yet.
        """
        age = np.maximum(ages_s, LEAST_AGE_S)
        single = (
            self.strength / age * np.exp(-squared_mm2 / (4 * self.diffusivity * age) - self.loss_per_s * age)
        )
        return np.where(ages_s > 0, single, 0.0).sum(1)


def plate_c(
    plate: Plate, at_mm: np.ndarray, tacks_mm: np.ndarray, started_s: np.ndarray, now_s: float
) -> np.ndarray:
    """Temperature at points of the plate.

    Args: at_mm: (n, 2); tacks_mm: (m, 2); started_s: (m,), tacks after now_s do not count.
    Returns: (n,) degC.
    """
    past = started_s < now_s
    if not past.any():
        return np.full(len(at_mm), plate.ambient_c)
    offset = at_mm[:, None, :] - tacks_mm[past][None, :, :]
    return plate.ambient_c + plate.rise((offset**2).sum(-1), now_s - started_s[past])


#: What usual things behind a weld stand, °C (rules of thumb; the tin may say more).
STANDS_C = {"paint": 200.0, "sealer": 120.0, "foam, wax, trim": 80.0}


def reached_mm(plate: Plate, stands_c: float, before_c: float) -> float | None:
    """How far from a tack the sheet, and so its back, gets hotter than something stands, mm; None where it already is.

    Args: stands_c: what it stands, degC; before_c: how warm the sheet was before the tack, degC.
    Source: greatest rise of an instantaneous source in a plate, Q / (pi e rho c t r^2).

    >>> plate = Plate(thickness_mm=1.0, energy_j=430, cooling="still", ambient_c=15)
    >>> round(reached_mm(plate, 200, 15), 1), reached_mm(plate, 80, 90)
    (8.4, None)
    """
    left = stands_c - before_c
    if left <= 0:
        return None
    return math.sqrt(
        plate.energy_j / (math.pi * math.e * HEAT_CAPACITY_J_PER_MM3K * plate.thickness_mm * left)
    )


def peak_k(plate: Plate, away_mm: float) -> float:
    """The greatest rise beside a tack, K: Q / (pi e rho c t r^2). Args: away_mm: r, above 0."""
    return plate.energy_j / (math.pi * math.e * HEAT_CAPACITY_J_PER_MM3K * plate.thickness_mm * away_mm**2)


@dataclass(frozen=True, slots=True, kw_only=True)
class Isotherm:
    """The region above a temperature: closed rings of [x, y] in mm (holes are rings too, filled even-odd)."""

    name: str
    temperature_c: float
    rings: list[list[list[float]]]


def isotherms(
    plate: Plate,
    tacks_mm: Sequence[Sequence[float]],
    started_s: Sequence[float],
    now_s: float,
    levels_c: dict[str, float],
    bounds_mm: tuple[float, float, float, float],
    cells: int = 150,
) -> list[Isotherm]:
    """Contours of the plate's temperature, coolest level first.

    Args: levels_c: by name; bounds_mm: x0, y0, x1, y1 of the field drawn; cells: along the longer side.
    Source: the field on a grid, contoured by marching squares (contourpy).
    """
    x0, y0, x1, y1 = bounds_mm
    step = max(x1 - x0, y1 - y0) / cells
    xs, ys = np.arange(x0, x1 + step, step), np.arange(y0, y1 + step, step)
    grid = np.stack(np.meshgrid(xs, ys), axis=-1).reshape(-1, 2)
    field = plate_c(
        plate, grid, np.asarray(tacks_mm, float).reshape(-1, 2), np.asarray(started_s, float), now_s
    )
    return contoured(xs, ys, field.reshape(len(ys), len(xs)), levels_c)


def contoured(
    xs: np.ndarray, ys: np.ndarray, field: np.ndarray, levels_c: Mapping[str, float]
) -> list[Isotherm]:
    """The regions above temperatures, coolest level first. Args: xs, ys: mm; field: (ys, xs), degC."""
    from contourpy import contour_generator

    contours = contour_generator(xs, ys, np.minimum(field, 2000.0), fill_type="OuterOffset")
    regions = []
    for name, level in sorted(levels_c.items(), key=lambda item: item[1]):
        parts, offsets = contours.filled(level, 1e9)[:2]
        both = zip(parts, offsets, strict=True)
        drawn = [(part, cuts) for part, cuts in both if part is not None and cuts is not None]
        rings = [
            np.round(part[a:b], 2).tolist()
            for part, cuts in drawn
            for a, b in zip(cuts[:-1], cuts[1:], strict=True)
        ]
        regions.append(Isotherm(name=name, temperature_c=level, rings=rings))
    return regions
