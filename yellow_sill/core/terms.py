"""British and American words of the trade. Everything is written in British; American is a way of showing it."""

import re

#: British to American, longest first where one holds another.
PAIRS = {
    "hood down": "top down", "chassis rail": "frame rail", "chassis leg": "frame leg", "windscreen": "windshield",
    "screen pillar": "windshield pillar",
    "screen frame": "windshield frame", "bulkhead": "firewall", "scuttle": "cowl", "gutter": "drip rail", "bonnet": "hood", "wing": "fender",
    "sill": "rocker", "boot": "trunk", "A-post": "A-pillar", "B-post": "B-pillar", "packer": "shim", "tail lamp": "tail light",
    "colour": "color", "tyre": "tire",
}  # fmt: skip
_PLURAL = r"(s?)"
_WORDS = "|".join(re.escape(word) for word in sorted(PAIRS, key=len, reverse=True))
_PATTERN = re.compile(rf"(?<!Yellow )\b({_WORDS}){_PLURAL}\b", re.IGNORECASE)
_LOWER = {word.lower(): other for word, other in PAIRS.items()}


def american(text: str) -> str:
    """The text with American terms; capitals and plurals are kept, and so are codes such as L-SILL and the product's name.

    >>> american("Outer sill, left: the wings and the A-post. Yellow Sill"), american("L-SILL, BOOT"), american("growing")
    ('Outer rocker, left: the fenders and the A-pillar. Yellow Sill', 'L-SILL, BOOT', 'growing')
    """
    return _PATTERN.sub(_swap, text)


def terms_in(text: str) -> list[str]:
    """The British terms in a text that would be said otherwise in American.

    >>> terms_in("Outer sill, left: L-SILL of Yellow Sill")
    ['sill']
    """
    return [match[0] for match in _PATTERN.finditer(text) if not match[1].isupper()]


def _swap(match: re.Match) -> str:
    word, plural = match[1], match[2]
    other = _LOWER[word.lower()]
    if word.isupper():
        return match[0]
    if word[0].isupper():
        other = other[0].upper() + other[1:]
    return other + plural
