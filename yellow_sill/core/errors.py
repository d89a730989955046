"""The family of errors that the core raises on input it cannot work with."""

from .said import joined


class CoreError(Exception):
    """Input that the core refuses: what is wrong, where, and how to mend it.

    Args:
        what: the fault in the words of the garage, a whole sentence.
        where: the place: a field, a panel, or the path in a JSON input such as ``findings[2].outline``.
        mend: what to do about it, a whole sentence; may be empty where ``what`` already says it.
        at: the point on the drawing where it happens, mm in the view's plane, if there is one.
    """

    code = "BAD-INPUT"

    def __init__(
        self, what: str, where: str = "", mend: str = "", at: tuple[float, float] | None = None
    ) -> None:
        super().__init__(what, where, mend, at)
        self.what, self.where, self.mend, self.at = what, where, mend, at

    @property
    def message(self) -> str:
        return joined((self.what, self.mend))

    def __str__(self) -> str:
        return f"{self.where}: {self.message}" if self.where else self.message


class BadField(CoreError):
    """A value of the wrong kind or outside its range, or a key that nobody knows."""

    code = "BAD-FIELD"


class BadOutline(CoreError):
    """A polygon that cannot be a hole, a cut or a patch."""

    code = "BAD-OUTLINE"
