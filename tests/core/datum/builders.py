"""Networks made from known places, so that the answer is known."""

import math
import random

from yellow_sill.core.datum.adjust import adjust
from yellow_sill.core.datum.asked import AdjustRequest

#: A body about as long as a saloon: pairs along both sides, low and high.
BODY = {
    f"{i}{side}": [x, sign * y, z]
    for i, (x, y, z) in enumerate(
        (
            (-470, 356, 402),
            (-210, 376, 342),
            (0, 494, 742),
            (760, 350, 240),
            (1700, 490, 236),
            (1840, 486, 190),
            (2460, 476, 452),
            (3040, 476, 316),
        ),
        1,
    )
    for side, sign in (("L", -1), ("R", 1))
}
TRUSTED = ("5L", "5R", "7L", "8R")


def values(places, kind, points, level=(0.0, 0.0, 0.0)):
    """What a reading would be without error; angles in degrees, level as (height, rise along x, rise along y), mm and mm per m."""
    at = [places[name] for name in points]
    lift = lambda p: p[2] + level[0] + (level[1] * p[0] + level[2] * p[1]) / 1000
    if kind == "distance":
        return math.dist(*at)
    if kind == "plumb":
        return math.dist(at[0][:2], at[1][:2])
    if kind == "height":
        return lift(at[0])
    if kind == "height_difference":
        return lift(at[1]) - lift(at[0])
    if kind == "offset_y":
        return at[0][1]
    a, b = ([p - q for p, q in zip(arm, at[1])] for arm in (at[0], at[2]))
    return math.degrees(math.acos(sum(p * q for p, q in zip(a, b)) / math.hypot(*a) / math.hypot(*b)))


def a_round(places, seed=None, level=(0.0, 0.0, 0.0), tape=1.0, height=0.7, reach=3000):
    """All heights and all pairs within reach, with noise where a seed is given."""
    rng = random.Random(seed)
    wanted = [("height", (name,), height) for name in places]
    names = list(places)
    wanted += [
        ("distance", (a, b), tape)
        for i, a in enumerate(names)
        for b in names[:i]
        if math.dist(places[a], places[b]) < reach
    ]
    noise = lambda sigma: rng.gauss(0, sigma) if seed is not None else 0.0
    return [
        {
            "id": f"{kind} {' '.join(ends)}",
            "kind": kind,
            "points": list(ends),
            "value": values(places, kind, ends, level) + noise(sigma),
            "sigma_mm": sigma,
        }
        for kind, ends, sigma in wanted
    ]


def request(places=None, readings=None, nominal=None, trusted=TRUSTED, trust=0.5, **more):
    nominal = nominal or BODY
    points = [
        {"id": name, "nominal": list(place), "trusted": name in trusted, "trust_sigma_mm": trust}
        for name, place in nominal.items()
    ]
    return AdjustRequest.read(
        {"points": points, "readings": readings if readings is not None else a_round(places or nominal)}
        | more
    )


def adjusted(*args, **more):
    return adjust(request(*args, **more))


def moved(**off):
    """The body with some points moved: ``moved(a1L=(0, -5, -7))``; the letter in front makes it a name in Python."""
    return {
        name: [p + d for p, d in zip(place, off.get(f"a{name}", (0, 0, 0)))] for name, place in BODY.items()
    }
