"""The plate's temperature at places still to be tacked, kept up while tack after tack is made.

A tack's heat at a place changes fast while it is young and slowly once it is old. Young tacks are summed anew each time; the
sum of the old ones is worked out at four times of a span ahead and interpolated between them (a polynomial through Chebyshev's
places: for ages from A to 1.5 A its error is about a ten-thousandth of the old tacks' share). What is chosen by it is checked by
the formula itself.
"""

import math

import numpy as np

from .heat import Plate

#: Tacks older than this are old, s; a span ahead is half as long.
OLD_S = 200.0
SPAN_S = OLD_S / 2
#: Chebyshev's places of four values in a span, as shares of it, and what turns values there into a cubic's factors.
KNOTS = np.array([0.5 - 0.5 * math.cos(math.pi * (2 * i + 1) / 8) for i in range(4)])
CUBIC = np.linalg.inv(np.vander(KNOTS, increasing=True))
#: So much is worked on together that it stays near the processor, numbers.
BLOCK = 32_768
#: e to this is nothing; numbers smaller still are slow to reckon with.
NOTHING = np.float32(-80.0)
#: Tacks so old that all of them together warm no place by this much are left out, K.
LEAST_K = 1e-3


class HeatField:
    """Tacks made (rows) against places to do (columns). Single precision: plenty to choose by, and twice as quick.

    Args: squared_mm2: (n, n) squared distances between all places, float32; plate.
    """

    def __init__(self, squared_mm2: np.ndarray, plate: Plate) -> None:
        count = len(squared_mm2)
        self.squared, self.plate = squared_mm2, plate
        self.order, self.starts = np.zeros(count, int), np.zeros(count)
        self.made = 0
        self.places = np.zeros(0, int)
        self._apart = np.zeros((count, 0), np.float32)
        self._buffer = np.empty(max(BLOCK, count), np.float32)
        self._old, self._until, self._factors = 0, -math.inf, np.zeros((4, 0))

    def begin(self, places: np.ndarray) -> None:
        """Look at other places from now on: those of the next pass."""
        self.places = places.copy()
        self._apart = np.zeros((len(self.squared), len(places)), np.float32)
        self._apart[: self.made] = self.squared[np.ix_(self.order[: self.made], places)]
        self._old, self._until = 0, -math.inf

    def tack(self, place: int, start_s: float) -> None:
        """A tack is made at a place."""
        self.order[self.made], self.starts[self.made] = place, start_s
        self._apart[self.made, : len(self.places)] = self.squared[place, self.places]
        self.made += 1

    def take(self, at: int) -> int:
        """One of the places, which is done then; the last one moves up to where it was."""
        place, last = int(self.places[at]), len(self.places) - 1
        self.places[at] = self.places[last]
        self._apart[: self.made, at] = self._apart[: self.made, last]
        if self._old:
            self._factors[:, at] = self._factors[:, last]
        self.places = self.places[:last]
        return place

    def since_last(self) -> np.ndarray:
        """Squared distance of each place to the last tack, mm2."""
        return self._apart[self.made - 1, : len(self.places)]

    def rise(self, now_s: float) -> np.ndarray:
        """Temperature rise at each place now, K."""
        if now_s > self._until:
            self._look_ahead(now_s)
        young = self._summed(self._old, self.made, now_s)
        if not self._old:
            return young
        share = 1 - (self._until - now_s) / SPAN_S
        return young + np.array([1.0, share, share**2, share**3]) @ self._factors[:, : len(self.places)]

    def exact(self, at: int, now_s: float) -> float:
        """Temperature rise at one place by the formula itself, K."""
        return float(self.plate.rise(self.apart(at)[None, :], now_s - self.starts[: self.made])[0])

    def apart(self, at: int) -> np.ndarray:
        """Squared distances of one place to all tacks, mm2."""
        return self._apart[: self.made, at].astype(float)

    def _look_ahead(self, now_s: float) -> None:
        """Sum what is old by now at four times of the span ahead."""
        self._old = int(np.searchsorted(self.starts[: self.made], now_s - OLD_S, side="right"))
        self._until = now_s + SPAN_S
        if self._old:
            felt = self._first_felt(now_s)
            times = now_s + SPAN_S * KNOTS
            self._factors = CUBIC @ np.array([self._summed(felt, self._old, time) for time in times])

    def _first_felt(self, now_s: float) -> int:
        """The first tack whose heat, with that of all before it, is worth counting."""
        age = now_s - self.starts[: self.made]
        most = self.plate.strength / age * np.exp(-self.plate.loss_per_s * age)
        return int(np.searchsorted(np.cumsum(most), LEAST_K))

    def _summed(self, first: int, end: int, now_s: float) -> np.ndarray:
        """Temperature rise at each place from some of the tacks, K."""
        left = len(self.places)
        out = np.zeros(left, np.float32)
        if first >= end or not left:
            return out
        spread, height = self.plate.spread_and_height(now_s - self.starts[first:end])
        spread, height = spread.astype(np.float32), height.astype(np.float32)
        step = max(1, BLOCK // left)
        for top in range(first, end, step):
            rows = self._apart[top : min(top + step, end), :left]
            part = self._buffer[: rows.size].reshape(rows.shape)
            own = slice(top - first, top - first + len(rows))
            np.multiply(rows, spread[own, None], out=part)
            np.maximum(part, NOTHING, out=part)
            np.exp(part, out=part)
            out += height[own] @ part
        return out
