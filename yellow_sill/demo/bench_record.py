"""What the record is asked in the benches: words among twenty thousand entries."""

import random
from collections.abc import Callable

WORDS = [
    "sill",
    "wheelarch",
    "floor",
    "bonnet",
    "hinge",
    "bracket",
    "clip",
    "drain",
    "primer",
    "wax",
    "seam",
    "weld",
    "tack",
    "panel",
    "edge",
    "corner",
    "lamp",
    "harness",
    "grommet",
    "shim",
    "trim",
    "rubber",
    "bolt",
    "washer",
    "spring",
    "mount",
    "spare",
    "scuttle",
    "gutter",
    "pillar",
    "strut",
    "quarter",
    "valance",
    "apron",
    "latch",
    "handle",
    "cable",
    "hose",
    "pedal",
    "column",
    "rack",
    "damper",
    "bush",
    "bearing",
    "seal",
    "gasket",
]
ENTRIES = 20_000


def record_work() -> list[tuple[str, Callable[[], object], float]]:
    """Name, what is called, limit in ms."""
    from yellow_sill.core.record.finder import Entry, Finder

    rng = random.Random(14)
    finder = Finder()
    finder.put(
        Entry(
            key=f"k{n}", kind=rng.choice(["hours", "notes", "photos", "costs"]), head=f"R-{rng.randint(1, 60):02d} {' '.join(rng.sample(WORDS, 2))}",
            text=f"{' '.join(rng.choices(WORDS, k=14))} w{n}",
        )
        for n in range(ENTRIES)
    )  # fmt: skip
    return [
        (f"find {what} among {ENTRIES:,}", lambda typed=typed: finder.find(typed), 50)
        for what, typed in (("a common word", "sill"), ("two words, American", "rocker drain"), ("a part of a word", "harn"), ("one that is not there", "zzz"))
    ]  # fmt: skip
