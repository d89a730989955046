"""Previous repairs: what was put over the rust, whether it may stay."""

from dataclasses import dataclass

from ..errors import BadField
from ..said import Listed, Said

KINDS = {
    "over-plate": "Over-plate",
    "brazed": "Brazed sheet",
    "riveted": "Riveted sheet",
    "screwed": "Screwed sheet",
    "filler": "Filler",
    "tacked": "Panel only tacked on",
}
TESTS = {
    "none": "not tested",
    "passed": "passed: seam sound all round, no rust behind",
    "failed": "failed",
}
VERDICTS = {"undo": "Undo it", "keep": "Keep it"}

#: Kinds that hide rust whatever a test of their seam says.
NEVER_KEPT = ("over-plate", "filler")


@dataclass(frozen=True, slots=True, kw_only=True)
class OldRepair:
    """What is known of a previous repair, and the verdict with its reason."""

    kind: str
    test: str
    verdict: str
    why: str


def old_repair(kind: str, test: str, verdict: str) -> OldRepair:
    """Judge a previous repair; an honest one may stay when a test was passed.

    Args: kind: a key of KINDS; test: of TESTS; verdict: wanted, a key of VERDICTS, or "" for the usual one.
    Raises: BadField: unknown words, or keeping what may not be kept.
    """
    for value, known, where in (
        (kind, KINDS, "old_kind"),
        (test, TESTS, "old_test"),
        (verdict or "undo", VERDICTS, "old_verdict"),
    ):
        if value not in known:
            raise BadField(
                Said("'{value}' is not known here.", value=value),
                where,
                Said("Choose one of: {known}.", known=Listed(tuple(known))),
            )
    if verdict == "keep":
        if kind in NEVER_KEPT:
            raise BadField(
                Said("{kinds} cannot stay: it hides what rots beneath it.", kinds=KINDS[kind]),
                "old_verdict",
                "Choose 'Undo it'.",
            )
        if test != "passed":
            raise BadField(
                "Only a repair that passed a test may stay.",
                "old_verdict",
                "Test it (probe the seam, look behind it), or choose 'Undo it'.",
            )
        return OldRepair(
            kind=kind,
            test=test,
            verdict="keep",
            why=Said("{kinds}, tested and sound: it stays, and its test with it.", kinds=KINDS[kind]),
        )
    why = {
        "over-plate": "An over-plate hides rot beneath it; undoing it costs more time than honest rust.",
        "filler": "Filler is no metal: what is under it is unknown.",
    }.get(kind, "It failed its test." if test == "failed" else "Not tested, so what it hides is unknown.")
    return OldRepair(kind=kind, test=test, verdict="undo", why=why)
