"""Remarks: faults in what was measured or drawn, gathered and shown, never thrown."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True, kw_only=True)
class Remark:
    """One thing the person should know about a result.

    Attributes:
        code: stable name such as ``CUT-01``; never reused for another meaning.
        where: the finding, edge or cut concerned.
        what: the fact, a whole sentence.
        mend: what to do about it, a whole sentence, or empty.
        at: the place on the drawing, mm in the view's plane, or None.
    """

    code: str
    where: str
    what: str
    mend: str = ""
    at: tuple[float, float] | None = None
