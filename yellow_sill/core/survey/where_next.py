"""Where to look next: the unknown, ranked by where such shells usually rot and by what the mirror side showed."""

from collections.abc import Iterable
from dataclasses import dataclass

from ..said import Said, first_low
from .grading import Grade

#: How readily a sheet rots, 0 to 1, by the stem of its code (without L- or R-), with the reason. Rule of thumb from the trade:
#: sills and their inner sheets, lower corners, arches, seams, drains and box sections first; docs/methods.md section 2.
USUAL = {
    "SILL": (1.0, "sill ends rot first"),
    "SILLM": (1.0, "the sheet inside a sill is often worse than its skin"),
    "SILLI": (0.95, "inner sills hold the floor's edge"),
    "SFL": (0.7, "two sheets lie on each other here"),
    "APOST": (0.85, "the foot of the post stands in the sill's water"),
    "APOSTM": (0.85, "a closed box"),
    "WING": (0.8, "mud lies in the lower rear corner"),
    "SPLASH": (0.85, "mud is thrown at it"),
    "IWING": (0.6, "its seams and the battery's place"),
    "QTR": (0.8, "the lower corner and the arch lip hold water"),
    "QCLOSE": (0.75, "a pocket that drains badly"),
    "QIN": (0.4, "behind the trim"),
    "ARCHO": (0.9, "two skins meet at the arch"),
    "ARCHI": (0.8, "stones and mud"),
    "FLOOR": (0.85, "wet carpet from above, road from below"),
    "TOE": (0.7, "water runs down the bulkhead"),
    "KICK": (0.7, "the vent drains into it"),
    "LEG": (0.8, "a box section"),
    "RAIL": (0.85, "a box section at the hanger"),
    "TUB": (0.75, "wet luggage, and the road from below"),
    "BULKR": (0.5, "its seams"),
    "BAYS": (0.6, "its seam to the rail"),
    "XMR": (0.7, "it carries the engine, in the wet"),
    "RAILT": (0.7, "dirt lies on it beside the engine"),
    "BONNETF": (0.5, "its lower edge lies in the hem"),
    "BONNETH": (0.3, "dry as a rule"),
    "BONNETK": (0.4, "dirt lies behind it"),
    "LIDF": (0.6, "water stands in its lip"),
    "LIDH": (0.3, "dry as a rule"),
    "LIDK": (0.5, "its lip folds over water"),
    "LEGI": (0.8, "a box section"),
    "LEGB": (0.85, "the bottom of a box, where its water stands"),
    "LEGT": (0.6, "a box section, from above"),
    "RAILI": (0.8, "a box section"),
    "RAILB": (0.9, "the bottom of a box, where its water stands"),
    "CHRAILI": (0.75, "a box section"),
    "CHRAILB": (0.85, "the bottom of a box, where its water stands"),
    "CHRAILT": (0.8, "dirt lies on it under the body"),
    "TOWER": (0.75, "mud lies on it under the wing"),
    "WFL": (0.7, "two sheets lie on each other under the wing"),
    "SLAM": (0.45, "its ends"),
    "BATT": (0.85, "battery acid"),
    "PEDALM": (0.4, "two sheets lie on each other"),
    "SEATB": (0.3, "dry as a rule"),
    "SHELF": (0.35, "under the rear screen's rubber"),
    "BACKM": (0.4, "two sheets lie on each other"),
    "HANGF": (0.85, "carries the spring"),
    "HANGR": (0.85, "carries the spring"),
    "OUTR": (0.85, "a small box that fills with mud"),
    "OUTRR": (0.85, "a small box that fills with mud"),
    "JACK": (0.8, "two sheets, and a jack has bent them"),
    "JACKR": (0.8, "two sheets, and a jack has bent them"),
    "BOOT": (0.6, "the well holds water"),
    "DROP": (0.75, "hangs low behind the wheel"),
    "SEAT": (0.3, "dry as a rule"),
    "KICKUP": (0.4, "over the axle"),
    "BSIDE": (0.4, "behind the trim"),
    "TUN": (0.25, "dry as a rule"),
    "XMF": (0.7, "a box under the radiator"),
    "TAIL": (0.5, "its lower seam"),
    "NOSE": (0.5, "its lower seam"),
    "ROOF": (0.2, "only under a vinyl cover"),
    "CANT": (0.3, "under the gutter"),
    "CANTM": (0.3, "under the gutter"),
    "CANTI": (0.25, "under the gutter"),
    "BPOST": (0.5, "its foot"),
    "BPOSTM": (0.5, "its foot; the belt hangs there"),
    "BPOSTI": (0.5, "its foot; the belt hangs there"),
    "SCRF": (0.4, "its foot in the scuttle"),
    "PILLM": (0.35, "under the screen rubber"),
    "RDFL": (0.45, "under the seal"),
    "CPOSTM": (0.6, "its foot stands on the arch"),
    "CPOSTI": (0.5, "its foot stands on the arch"),
    "DOORR": (0.8, "water stands in its hem where the drains are shut"),
    "DOORRB": (0.8, "water stands on it where the drains are shut"),
    "DOORRI": (0.7, "its lower edge lies in the hem"),
    "DOORRH": (0.4, "dirt lies behind the hinges"),
    "DOORRK": (0.3, "dry as a rule"),
    "DOORRW": (0.35, "under the glass's rubber"),
    "APFL": (0.45, "under the seal"),
    "QWFL": (0.4, "under the rubber"),
    "DECK": (0.35, "under the rear screen's rubber"),
    "VALANCE": (0.75, "stones and mud, and its seam to the floor"),
    "BONNET": (0.3, "its lower edge"),
    "CHX1": (0.6, "its ends at the rails"),
    "CHX2": (0.6, "its ends at the rails"),
    "CHX3": (0.65, "its ends at the rails and spring hangers"),
    "CHX4": (0.6, "its ends at the rails"),
    "CHX5": (0.7, "the last one catches what the wheels throw"),
    "OUTF": (0.85, "a small box that fills with mud"),
    "OUTM": (0.85, "a small box that fills with mud"),
    "CORNERM": (0.9, "a pocket behind the corner"),
    "SCUTM": (0.7, "leaves lie in the scuttle"),
    "SCUTI": (0.7, "leaves lie in the scuttle"),
    "MOUNTF": (0.9, "body and chassis meet wet"),
    "MOUNTM": (0.9, "body and chassis meet wet"),
    "MOUNTR": (0.9, "body and chassis meet wet"),
    "SCUTTLE": (0.8, "leaves lie in it"),
    "CHRAIL": (0.8, "a box section"),
    "CABCORNER": (0.95, "the lower corner holds mud"),
    "BACK": (0.5, "its lower seam"),
    "BULK": (0.5, "its seams"),
    "DOOR": (0.8, "water stands in its hem where the drains are shut"),
    "DOORB": (0.8, "water stands on it where the drains are shut"),
    "DOORI": (0.7, "its lower edge lies in the hem"),
    "DOORH": (0.4, "dirt lies behind the hinges"),
    "DOORK": (0.3, "dry as a rule"),
    "DOORW": (0.35, "under the glass's rubber"),
    "LID": (0.5, "its lip folds over water"),
    "BEDF": (0.85, "wet loads lie on it"),
    "BEDS": (0.6, "its lower edge and the arch lip"),
    "BEDA": (0.8, "stones and mud"),
    "BEDI": (0.6, "its seam to the floor"),
    "BEDH": (0.5, "its foot"),
    "TGATE": (0.6, "its lower hem"),
}
OTHERS = (0.4, "not known for it")

#: What differs on an open body on a chassis.
OPEN_ON_FRAME = {
    "SILL": (0.9, "it carries little here, but it rots"),
    "ROOF": (0.0, ""),
    "BOOT": (0.75, "rain comes in with the hood down"),
    "FLOOR": (0.95, "rain comes in"),
}
#: What differs on another kind of body.
BY_BODY = {
    "tourer-ladder-chassis": OPEN_ON_FRAME,
    "roadster-ladder-chassis": OPEN_ON_FRAME,
    "pickup-ladder-chassis": {"SILL": (0.9, "the cab's step and sill"), "FLOOR": (0.85, "wet mats")},
    "cab-ladder-chassis": {"SILL": (0.9, "the cab's step and sill"), "FLOOR": (0.85, "wet mats")},
    "roadster-2-door-unitary": {
        "SILL": (1.0, "it carries the open body"),
        "SILLM": (1.0, "it carries the open body"),
        "FLOOR": (0.9, "rain comes in"),
        "BOOT": (0.7, "rain comes in with the hood down"),
    },
    "van-2-door-unitary": {
        "BOOT": (0.75, "wet loads, and the well"),
        "QTR": (0.85, "the lower corner and the arch lip hold water"),
        "ROOF": (0.3, "the seam of the long roof"),
    },
    "estate-3-door-unitary": {
        "BOOT": (0.7, "the well and the tailgate's seam"),
        "ROOF": (0.25, "the seam of the long roof"),
    },
}

#: How much a finding on the mirror side adds.
MIRROR = {
    Grade.HOLED: 0.8,
    Grade.THIN: 0.6,
    Grade.FILLED: 0.6,
    Grade.PITTED: 0.35,
    Grade.SURFACE: 0.15,
    Grade.SOUND: -0.1,
}
LEAST_UNKNOWN = 0.1  #: a panel looked at to nine tenths is done


@dataclass(frozen=True, slots=True, kw_only=True)
class Sheet:
    """One panel as the ranking sees it: ``share`` looked at, ``mirror_grades`` of findings on the other side."""

    code: str
    name: str
    share: float
    mirror_grades: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class LookHere:
    code: str
    score: float
    why: str


def look_next(body_type: str, sheets: Iterable[Sheet], most: int = 5) -> list[LookHere]:
    """The places most worth looking at, worst first.

    Score = (rot weight of the kind of sheet + what the worst finding of the mirror side adds) x the share still unknown.
    """
    table = USUAL | BY_BODY.get(body_type, {})
    ranked = []
    for sheet in sheets:
        unknown = 1 - sheet.share
        if unknown < LEAST_UNKNOWN:
            continue
        stem = sheet.code.split("-", 1)[1] if sheet.code[:2] in ("L-", "R-") else sheet.code
        weight, reason = table.get(stem, OTHERS)
        worst = max((MIRROR[Grade(grade)] for grade in sheet.mirror_grades if grade), default=0.0)
        why = Said("{unknown:.0f} % unknown", unknown=100 * unknown)
        if reason:
            why += Said(": {reason}", reason=Said(reason))
        if worst > 0:
            grade = max((Grade(g) for g in sheet.mirror_grades if g), key=lambda g: MIRROR[g])
            why += Said("; the other side is {word}", word=first_low(Said(grade.word)))
        ranked.append(LookHere(code=sheet.code, score=round((weight + worst) * unknown, 4), why=why + "."))
    return sorted(ranked, key=lambda place: (-place.score, place.code))[:most]
