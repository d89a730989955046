"""Drawings that are handed in: read in a process of their own, which is ended where it takes too long or too much."""

import json
import os
import subprocess
import sys
from collections.abc import Sequence

from yellow_sill.core.errors import BadField, BadOutline, CoreError
from yellow_sill.core.formats.outlines import MOST_BYTES, UnitUnknown, outline_from_file
from yellow_sill.core.said import together

#: By the clock on the wall, its start with it, s; more only where the machine itself is slow.
MOST_WAIT_S = 12.0


def outline_of_drawing(data: bytes, name: str, at: Sequence[float], unit: str) -> list[list[float]]:
    """The largest closed outline of a drawing.

    Raises: CoreError: see ``outline_from_file``; BadField for one that takes too long or too much memory.
    """
    if len(data) > MOST_BYTES:
        return outline_from_file(data, name, at, unit)  # it says so
    asked = json.dumps({"name": name, "at": [float(value) for value in at], "unit": unit}).encode()
    try:
        done = subprocess.run(
            [sys.executable, "-m", "yellow_sill.core.formats.drawing_worker"],
            input=asked + b"\n" + data,
            capture_output=True,
            timeout=MOST_WAIT_S,
            check=False,
            env=os.environ | {"PYTHONPATH": os.pathsep.join(sys.path), "OPENBLAS_NUM_THREADS": "1"},
        )
        told = json.loads(done.stdout)
    except (subprocess.TimeoutExpired, ValueError):
        raise BadField(
            "This drawing takes more time or memory to read than any outline needs.",
            "drawing",
            "Save only the outline, as one closed polyline or path.",
        ) from None
    if "error" in told:
        raise _error(told["error"])
    return told["corners"]


def _error(told: dict) -> CoreError:
    kind = {each.code: each for each in (BadField, BadOutline, UnitUnknown)}.get(told["code"], CoreError)
    at = told["at"] and (told["at"][0], told["at"][1])
    return kind(together(told["what"]), told["where"], together(told["mend"]), at)
