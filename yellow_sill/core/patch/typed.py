"""What is typed for the bench, line by line, as the requests that work it out: sections, heights, ribs, marks and distances of a jig."""

import re
from collections.abc import Callable, Mapping
from typing import Any

from ..errors import BadField, CoreError
from ..said import Said
from ..units import parse_length

#: Lines that one field takes.
MOST_LINES = 100


def _lines(text: str, where: str) -> list[str]:
    lines = [line.strip() for line in text.splitlines() if line.strip()]
    if len(lines) > MOST_LINES:
        raise BadField(Said("More than {most} lines.", most=MOST_LINES), where, "Leave some out.")
    return lines


def _length(word: str, where: str, line: str, unit: str) -> float:
    """Raises: BadField naming the line."""
    try:
        return parse_length(word, unit)
    except CoreError:
        raise BadField(
            Said("'{word}' in the line '{line}' is no length.", word=word[:20], line=line[:40]),
            where,
            "Type it like 12.5.",
        ) from None


def lengths_typed(text: str, where: str, unit: str = "mm", line: str = "") -> list[float]:
    """Lengths with spaces or semicolons between them, mm. Args: where: the field; unit: of a bare number. Raises: BadField."""
    return [_length(word, where, line or text, unit) for word in re.split(r"[;\s]+", text.strip()) if word]


def heights_typed(text: str, where: str = "heights", unit: str = "mm") -> list[list[float]]:
    """A grid of heights, a row a line, mm. Raises: BadField naming what cannot be read."""
    return [lengths_typed(line, where, unit, line) for line in _lines(text, where)]


def sections_typed(text: str, where: str = "sections", unit: str = "mm") -> list[dict[str, Any]]:
    """Sections of a panel, one a line: ``along at 100: 0/0 150/12 300/0`` (place/height); ``across`` runs the other way.

    Returns: what ShapeRequest takes as sections. Raises: BadField naming the line.
    """
    told = []
    for line in _lines(text, where):
        found = re.fullmatch(r"(along|across)\s+at\s+(\S+?)\s*:\s*(.+)", line, re.IGNORECASE)
        if not found:
            raise BadField(
                Said("The line '{line}' is no section.", line=line[:40]),
                where,
                "Write 'along at 100: 0/0 150/12 300/0'.",
            )
        pairs = []
        for word in re.split(r"[;\s]+", found[3].strip()):
            place, slash, height = word.partition("/")
            if not slash:
                raise BadField(
                    Said(
                        "'{word}' in the line '{line}' is no place with its height.",
                        word=word[:20],
                        line=line[:40],
                    ),
                    where,
                    "Write place/height, such as 150/12.",
                )
            pairs.append((_length(place, where, line, unit), _length(height, where, line, unit)))
        axis = "u" if found[1].lower() == "along" else "v"
        told.append({"axis": axis, "at_mm": _length(found[2], where, line, unit), "points": pairs})
    return told


def ribs_typed(text: str, where: str = "ribs", unit: str = "mm") -> list[dict[str, Any]]:
    """Lines where ribs must meet, one a line: ``sill: old 0 80 160 new 3 82 165``. Raises: BadField naming the line."""
    told = []
    for line in _lines(text, where):
        found = re.fullmatch(r"(.{1,40}?)\s*:\s*old\s+(.+?)\s+new\s+(.+)", line, re.IGNORECASE)
        if not found:
            raise BadField(
                Said("The line '{line}' tells no ribs.", line=line[:40]),
                where,
                "Write 'sill: old 0 80 160 new 3 82 165'.",
            )
        told.append(
            {
                "name": found[1],
                "old_mm": lengths_typed(found[2], where, unit, line),
                "new_mm": lengths_typed(found[3], where, unit, line),
            }
        )
    return told


def marks_typed(text: str, where: str = "marks", unit: str = "mm") -> list[dict[str, Any]]:
    """Marks of a jig, one a line: ``hanger left: 2890, -505, 290`` with ``bolt 10`` behind it where that is known. Raises: BadField naming the line."""
    told = []
    for line in _lines(text, where):
        name, colon, rest = line.rpartition(":")
        found = re.fullmatch(r"(.+?)(?:\s+bolt\s+(\S+))?", rest.strip(), re.IGNORECASE)
        places = [word for word in re.split(r"[;\s]+|,\s+", found[1].strip()) if word] if found else []
        if not colon or not name.strip() or len(places) != 3:
            raise BadField(
                Said("The line '{line}' is no mark.", line=line[:40]),
                where,
                "Write 'hanger left: 2890, -505, 290'.",
            )
        at = [_length(word.rstrip(","), where, line, unit) for word in places]
        bolt = {"bolt_mm": _length(found[2], where, line, unit)} if found and found[2] else {}
        told.append({"name": name.strip()[:30], "at": at, **bolt})
    return told


#: What a line of holes may call them, and the kind each is.
HOLE_KINDS = {
    "hole": "hole",
    "slot": "slot",
    "stud": "stud",
    "captive nut": "captive nut",
    "nut": "captive nut",
    "drain": "drain",
}


def holes_typed(text: str, where: str = "holes", unit: str = "mm") -> list[tuple[str, dict[str, Any]]]:
    """Holes on the finished part, one a line: ``A: drain 8 at 130, 12``, ``base: slot 8 x 30 at 2500, 320``.

    Returns: the edge (empty for the base) and what ``Hole`` takes. Raises: BadField naming the line.
    """
    told = []
    kinds = "|".join(sorted(HOLE_KINDS, key=len, reverse=True))
    form = re.compile(
        rf"(\w+)\s*:\s*({kinds})\s+(\S+?)(?:\s*x\s*(\S+))?(?:\s+turned\s+(\S+?)°?)?\s+at\s+(\S+?),?\s+(\S+)(?:\s+\"([^\"]*)\")?",
        re.IGNORECASE,
    )
    for line in _lines(text, where):
        found = form.fullmatch(line)
        if not found:
            raise BadField(
                Said("The line '{line}' is no hole.", line=line[:40]), where, "Write 'A: drain 8 at 130, 12' or 'base: slot 8 x 30 at 2500, 320'."
            )  # fmt: skip
        face, kind, across, long, turned, u, v, name = found.groups()
        at = [_length(u.rstrip(","), where, line, unit), _length(v, where, line, unit)]
        hole: dict[str, Any] = {
            "kind": HOLE_KINDS[kind.lower()],
            "at": at,
            "diameter_mm": _length(across, where, line, unit),
        }
        if name:
            hole["name"] = name
        if long:
            hole["length_mm"] = _length(long, where, line, unit)
        if turned:
            hole["angle_deg"] = _length(turned, where, line, "mm")
        told.append(("" if face.lower() == "base" else face.upper(), hole))
    return told


def hole_line(face: str, hole: Mapping[str, Any], write: Callable[[float], str]) -> str:
    """A hole as it is typed. Args: face: an edge, empty for the base; write: a length in the person's unit."""
    size = write(hole["diameter_mm"]) + (f" x {write(hole['length_mm'])}" if hole.get("length_mm") else "")
    turned = f" turned {hole['angle_deg']:g}" if hole.get("angle_deg") else ""
    name = f' "{hole["name"]}"' if hole.get("name") else ""
    at = ", ".join(write(value) for value in hole["at"])
    return f"{face or 'base'}: {hole['kind']} {size}{turned} at {at}{name}"


def distances_typed(text: str, where: str = "measured", unit: str = "mm") -> list[dict[str, Any]]:
    """Distances measured again, one a line: ``hanger left - hanger right: 1010.5``. Raises: BadField naming the line."""
    told = []
    for line in _lines(text, where):
        names, colon, length = line.rpartition(":")
        first, dash, second = names.partition(" - ")
        if not colon or not dash:
            raise BadField(
                Said("The line '{line}' is no distance.", line=line[:40]),
                where,
                "Write 'first - second: 1010.5'.",
            )
        told.append(
            {
                "first": first.strip(),
                "second": second.strip(),
                "mm": _length(length.strip(), where, line, unit),
            }
        )
    return told
