"""From evidence to a grade: stronger evidence overrules weaker, later overrules earlier of the same kind."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from typing import Annotated, Literal

from pydantic import Field

from ..errors import BadField
from ..records import Record
from ..said import Listed, Mm, Quoted, Said, first_low, first_up, joined


class Grade(StrEnum):
    """How bad the metal is. Each has a word, a letter and a hatch on the board."""

    SOUND = "O"
    SURFACE = "S"
    PITTED = "P"
    THIN = "T"
    HOLED = "H"
    FILLED = "F"

    @property
    def word(self) -> str:
        return {"O": "Sound", "S": "Surface", "P": "Pitted", "T": "Thin", "H": "Holed", "F": "Filled"}[
            self.value
        ]


#: Evidence from weakest to strongest; source: the order of trust that restorers agree on, docs/methods.md section 2.
METHODS = ("seen", "lamp", "tap", "probe", "scaler", "gauge")

METHOD_WORDS = {
    "seen": "Looked",
    "lamp": "Lamp behind",
    "tap": "Hammer tap",
    "probe": "Probe",
    "scaler": "Needle scaler",
    "gauge": "Thickness gauge",
}

#: What shows by itself, whoever looks and however: several of these may show at one spot.
SIGN = "sign"
#: The words of all evidence, of the ways of looking and of signs.
EVIDENCE_WORDS = METHOD_WORDS | {SIGN: "Sign"}

#: What each method can find, the grade it speaks for, and how the result reads in a sentence.
RESULTS: dict[str, dict[str, tuple[Grade, str]]] = {
    "seen": {
        "sound": (Grade.SOUND, "it looks sound"),
        "bubbling": (Grade.SURFACE, "the paint bubbles"),
        "stain": (Grade.SURFACE, "it is stained"),
        "pitted": (Grade.PITTED, "pits show in the metal"),
        "hole": (Grade.HOLED, "a hole shows"),
        "filler": (Grade.FILLED, "filler or an over-plate shows"),
    },
    "lamp": {"dark": (Grade.SURFACE, "no light shows"), "light": (Grade.HOLED, "light shows")},
    "tap": {"rings": (Grade.SURFACE, "the hammer rings"), "dull": (Grade.THIN, "the hammer sounds dull")},
    "probe": {
        "holds": (Grade.SURFACE, "the probe holds"),
        "dents": (Grade.THIN, "the probe dents it"),
        "through": (Grade.HOLED, "the probe went through"),
    },
    "scaler": {
        "survived": (Grade.PITTED, "it survived the needle scaler"),
        "broke": (Grade.HOLED, "the needle scaler broke through"),
    },
    "gauge": {"reading": (Grade.SURFACE, "")},
    SIGN: {
        "crack": (Grade.HOLED, "it is cracked, and across a crack nothing is carried"),
        "apart": (Grade.THIN, "rust has forced the sheets apart"),
        "welds": (Grade.THIN, "spot welds are broken"),
        "edge": (Grade.THIN, "the edge is paper-thin once it is dressed"),
        "bulge": (Grade.PITTED, "it bulges, and rust works behind a bulge"),
        "bend": (Grade.SURFACE, "it is bent"),
        "lead": (Grade.FILLED, "lead lies on it"),
        "brazed": (Grade.FILLED, "it is brazed"),
        "screwed": (Grade.FILLED, "screws or rivets hold it"),
        "mark": (Grade.SURFACE, "a date or a maker's mark shows"),
    },
}
#: A mark tells how old a part is, nothing of its metal.
SAYS_NOTHING = (SIGN, "mark")

#: Share of the nominal thickness that must be left; below it the metal is thin. Rule of thumb, docs/methods.md.
THIN_BELOW = 0.70
#: Below this share it is pitted. Rule of thumb: new sheet may lawfully be 8 % under its nominal thickness.
PITTED_BELOW = 0.90
#: A reading above so many times the nominal thickness is no single sheet. Rule of thumb.
TOO_THICK = 1.5


class Evidence(Record):
    """One look at a spot.

    ``hits`` of ``tries`` says at how many places the result was found; ``thickness_mm`` is the least gauge reading.
    """

    method: Literal["seen", "lamp", "tap", "probe", "scaler", "gauge", "sign"]
    result: str
    made_on: date
    hits: Annotated[int, Field(ge=1, le=999)] | None = None
    tries: Annotated[int, Field(ge=1, le=999)] | None = None
    thickness_mm: Annotated[float, Field(ge=0, le=20)] | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Grading:
    """A grade with its reason; ``grade`` is None while there is no evidence."""

    grade: Grade | None
    why: str


def fault_in(evidence: Evidence) -> str:
    """What is wrong with one piece of evidence, in the words of the garage; "" when nothing is."""
    if evidence.result not in RESULTS[evidence.method]:
        return Said(
            "{method_words} cannot show '{result}'. Choose one of: {results}.",
            method_words=Said(EVIDENCE_WORDS[evidence.method]),
            result=evidence.result,
            results=Listed(tuple(RESULTS[evidence.method])),
        )
    if evidence.method == "gauge" and evidence.thickness_mm is None:
        return "A gauge needs its reading in millimetres."
    if evidence.hits and evidence.tries and evidence.hits > evidence.tries:
        return Said(
            "{hits} of {tries} places cannot be. Put the number of places tried second.",
            hits=evidence.hits,
            tries=evidence.tries,
        )
    return ""


def grade_of(evidence: Sequence[Evidence], thickness_mm: float) -> Grading:
    """Grade a finding.

    Of each method only the latest look counts (the worst of one day); of the methods the strongest decides. But a hole found once stays a
    hole: metal beside it, by whatever method and whenever, does not close it. A gauge reading thicker than the sheet says nothing of it.
    Old filler or an over-plate is never sound: while it was seen and nothing stronger than a probe spoke, it stays Filled. A sign (a crack,
    sheets forced apart) may worsen the grade that the looks give, never better it; a date or maker's mark says nothing of the metal.

    Args:
        evidence: all looks at the spot, any order.
        thickness_mm: nominal thickness of the panel, above 0.
    Returns: the grade and the reason in one or two sentences.
    """
    signs = [look for look in evidence if look.method == SIGN]
    looks = [look for look in evidence if look.method != SIGN]
    return _with_signs(_by_looks(looks, thickness_mm), signs, bool(looks))


def _with_signs(grading: Grading, signs: Sequence[Evidence], looked: bool) -> Grading:
    """What shows by itself beside what the looks say: each sign may worsen it. Args: looked: whether there are looks at all."""
    speaking = [sign for sign in signs if (sign.method, sign.result) != SAYS_NOTHING]
    if len(speaking) < len(signs):
        mark = Said("A date or a maker's mark shows: it tells how old the part is, not how its metal is.")
        grading = Grading(grade=grading.grade, why=joined((grading.why, mark)))
    if not speaking:
        return grading
    severity = [Grade.SOUND, Grade.SURFACE, Grade.PITTED, Grade.THIN, Grade.FILLED, Grade.HOLED]
    rank = lambda sign: severity.index(RESULTS[SIGN][sign.result][0])  # noqa: E731
    order = list(RESULTS[SIGN])
    worst = max(speaking, key=lambda sign: (rank(sign), -order.index(sign.result)))
    told = Listed(
        tuple(Said(RESULTS[SIGN][name][1]) for name in order if name in {sign.result for sign in speaking}),
        "; ",
    )
    if grading.grade is not None and severity.index(grading.grade) >= rank(worst):
        return Grading(grade=grading.grade, why=Said("{why} Besides: {told}.", why=grading.why, told=told))
    why = Said("{grade}: {told}.", grade=Said(severity[rank(worst)].word), told=told)
    return Grading(grade=severity[rank(worst)], why=joined((why, grading.why)) if looked else why)


def _by_looks(evidence: Sequence[Evidence], thickness_mm: float) -> Grading:
    """The grade by the ways of looking alone."""
    if not evidence:
        return Grading(grade=None, why="No evidence yet. Probe it, tap it or hold a lamp behind it.")
    told = [look for look in evidence if not (look.method == "gauge" and doubt_of(look, thickness_mm))]
    doubts = joined(doubt_of(look, thickness_mm) for look in evidence)
    if not told:
        return Grading(grade=None, why=Said("{doubts} That says nothing of this sheet yet.", doubts=doubts))
    holes = [look for look in told if _grade(look, thickness_mm) is Grade.HOLED]
    strength = sorted(_latest(told, thickness_mm), key=lambda e: METHODS.index(e.method), reverse=True)
    decisive = strength[0]
    if holes:
        decisive = max(holes, key=lambda e: (METHODS.index(e.method), e.made_on))
        strength = [decisive, *(e for e in strength if e != decisive)]
    seen = next((e for e in strength if e.method == "seen" and e.result == "filler"), None)
    if seen and not holes and decisive.method in ("lamp", "tap", "seen", "probe"):
        decisive = seen
    grade = _grade(decisive, thickness_mm)
    agreeing = [e for e in strength if e is not decisive and _grade(e, thickness_mm) is grade]
    against = [e for e in strength if e is not decisive and _grade(e, thickness_mm) is not grade]
    why = Said("{grade}: {look}", grade=Said(grade.word), look=_words(decisive, thickness_mm))
    if agreeing:
        why += Said(" and {look}", look=_words(agreeing[0], thickness_mm))
    why += "."
    after = [
        e
        for e in against
        if holes and (METHODS.index(e.method), e.made_on) > (METHODS.index(decisive.method), decisive.made_on)
    ]
    if after:
        beside = joined((_words(e, thickness_mm) for e in after), "; ")
        why += Said(" {beside}: metal beside a hole does not close it.", beside=first_up(beside))
    elif against and grade is not Grade.FILLED:
        why += Said(
            " That overrules: {against}.",
            against=Listed(tuple(_words(e, thickness_mm) for e in against), "; "),
        )
    elif grade is Grade.FILLED:
        why += " An over-plate hides rot beneath it, so it is never sound until it is off."
    return Grading(grade=grade, why=joined((why, doubts)))


def _latest(evidence: Sequence[Evidence], thickness_mm: float) -> list[Evidence]:
    """Of each method the latest look, the worst of one day."""
    worst_first = list(Grade)[::-1]
    latest: dict[str, Evidence] = {}
    for look in evidence:
        held = latest.get(look.method)
        rank = lambda e: (e.made_on, -worst_first.index(_grade(e, thickness_mm)))  # noqa: E731
        if held is None or rank(look) >= rank(held):
            latest[look.method] = look
    return list(latest.values())


def doubt_of(look: Evidence, thickness_mm: float) -> str:
    """What to ask about a gauge reading that no single sheet gives; "" where nothing is.

    >>> doubt_of(Evidence(method="gauge", result="reading", made_on=date(2026, 2, 14), thickness_mm=12), 1.2)
    'The gauge reads 12 mm on 1.2 mm sheet: was 1.2 mm meant, or are there two sheets or a plate?'
    """
    reading = look.thickness_mm
    if look.method != "gauge" or reading is None or reading <= TOO_THICK * thickness_mm:
        return ""
    tenth = reading / 10
    meant = (
        Said("was {tenth} meant, or are", tenth=Mm(tenth))
        if PITTED_BELOW / 2 * thickness_mm <= tenth <= TOO_THICK * thickness_mm
        else Said("are")
    )
    return Said(
        "The gauge reads {reading} on {thickness_mm} sheet: {meant} there two sheets or a plate?",
        reading=Mm(reading),
        thickness_mm=Mm(thickness_mm),
        meant=meant,
    )


def with_least_reading(grading: Grading, least_mm: float, thickness_mm: float) -> Grading:
    """A grade with the thinnest reading of a grid beside it: it may worsen the grade, but metal beside a hole does not close the hole."""
    reading = Evidence(method="gauge", result="reading", made_on=date.min, thickness_mm=least_mm)
    said, order = _words(reading, thickness_mm), list(Grade)
    found = _grade(reading, thickness_mm)
    if grading.grade is None or order.index(found) > order.index(grading.grade):
        return Grading(
            grade=found,
            why=joined(
                (
                    Said("{word}: at its thinnest {said}.", word=Said(found.word), said=said),
                    grading.why if grading.grade else "",
                )
            ),
        )
    return Grading(grade=grading.grade, why=Said("{why} At its thinnest {said}.", why=grading.why, said=said))


def with_old_repair(grading: Grading, why: str) -> Grading:
    """An old repair that must be undone is Filled, never sound, unless the evidence says Holed."""
    if grading.grade is Grade.HOLED:
        return Grading(grade=grading.grade, why=joined((grading.why, why)))
    return Grading(grade=Grade.FILLED, why=Said("Filled: {why}", why=why))


def overruled(grading: Grading, to: str, reason: str) -> Grading:
    """A person's own grade instead of the core's, with the reason told beside what the evidence says.

    Args: grading: of the core; to: a letter of Grade; reason: why the person knows better.
    Raises: BadField: no such grade, no reason, or the same grade.
    """
    if to not in {grade.value for grade in Grade}:
        raise BadField(
            "There is no such grade.",
            "overruled_to",
            Said("Choose one of: {grade}.", grade=Listed(tuple(grade.word for grade in Grade))),
        )
    if not reason.strip():
        raise BadField(
            "Overruling the evidence needs a reason.",
            "overruled_reason",
            "Write what you saw that no probe shows.",
        )
    if grading.grade is not None and grading.grade.value == to:
        raise BadField(
            Said("The evidence already says {word}.", word=first_low(Said(grading.grade.word))),
            "overruled_to",
            "Choose another grade, or leave it.",
        )
    says = (
        Said("The evidence says {word}.", word=first_low(Said(grading.grade.word)))
        if grading.grade
        else "There is no evidence."
    )
    why = Quoted(reason.strip().rstrip("."))
    return Grading(
        grade=Grade(to),
        why=Said("{word}, overruled: {why}. {says}", word=Said(Grade(to).word), why=why, says=says),
    )


class GradeRequest(Record):
    """Input of ``grade``: the nominal thickness, every look at the spot, and a person's own grade with its reason, if any."""

    thickness_mm: Annotated[float, Field(gt=0, le=20)]
    evidence: Annotated[list[Evidence], Field(max_length=500)]
    overruled_to: Literal["", "O", "S", "P", "T", "H", "F"] = ""
    overruled_reason: Annotated[str, Field(max_length=1000)] = ""


def graded(request: GradeRequest) -> Grading:
    """Grade a finding from its evidence and the person's own word.

    Raises: BadField: evidence that cannot be, or overruling without a reason.
    """
    for i, look in enumerate(request.evidence):
        if fault := fault_in(look):
            raise BadField(fault, f"evidence[{i}]")
    grading = grade_of(request.evidence, request.thickness_mm)
    return (
        overruled(grading, request.overruled_to, request.overruled_reason)
        if request.overruled_to
        else grading
    )


def _grade(look: Evidence, thickness_mm: float) -> Grade:
    if look.method != "gauge":
        return RESULTS[look.method][look.result][0]
    return grade_by_gauge(look.thickness_mm or 0.0, thickness_mm)


def grade_by_gauge(reading_mm: float, nominal_mm: float) -> Grade:
    """What one reading of the thickness gauge says by itself.

    >>> [grade_by_gauge(mm, 1.0).value for mm in (0.0, 0.69, 0.70, 0.90)]
    ['H', 'T', 'P', 'O']
    """
    left = reading_mm / nominal_mm
    if left <= 0:
        return Grade.HOLED
    return Grade.THIN if left < THIN_BELOW else Grade.PITTED if left < PITTED_BELOW else Grade.SOUND


def _words(look: Evidence, thickness_mm: float) -> str:
    if look.method == "gauge":
        reading = look.thickness_mm or 0.0
        return Said(
            "the gauge reads {reading}, {reading2:.0f} % less than {thickness_mm}",
            reading=Mm(reading, 2),
            reading2=100 * (1 - reading / thickness_mm),
            thickness_mm=Mm(thickness_mm),
        )
    words = RESULTS[look.method][look.result][1]
    if look.hits:
        words += (
            Said(" at {hits} of {tries} places", hits=look.hits, tries=look.tries)
            if look.tries
            else Said(" at {hits} place{s}", hits=look.hits, s="s" if look.hits > 1 else "")
        )
    return words
