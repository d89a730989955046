"""In, out, or cannot tell yet."""


def verdict(off_mm: float, tolerance_mm: float, unsure_mm: float) -> str:
    """in, out, or 'cannot tell yet' where the uncertainty is wider than the tolerance; far enough out is out all the same."""
    if unsure_mm <= tolerance_mm:
        return "in" if off_mm <= tolerance_mm else "out"
    return "out" if off_mm - unsure_mm > tolerance_mm else "cannot tell yet"


def point_verdict(axes: list[str], length_mm: float, tolerance_mm: float, unsure_mm: float) -> str:
    """The verdict on a point: out along one axis, or in all, is out; in only where every axis can be told and is in.

    Args: axes: the verdicts along x, y and z; length_mm: how far off in all; unsure_mm: of that length, along the deviation itself.
    """
    if "out" in axes or verdict(length_mm, tolerance_mm, unsure_mm) == "out":
        return "out"
    return "cannot tell yet" if "cannot tell yet" in axes else "in"
