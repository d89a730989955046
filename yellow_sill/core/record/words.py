"""Words as they are looked for: without accents and capitals, British and American alike."""

import re
import unicodedata

from ..terms import PAIRS

#: Letters that are one letter to their language and another to who looks for them.
_LIKE = str.maketrans(
    {"ø": "o", "đ": "d", "ł": "l", "ħ": "h", "ı": "i", "æ": "ae", "œ": "oe", "þ": "th", "ð": "d"}
)
#: A code as people write it: R-02, r2, F 14.
_CODE = re.compile(r"\b([a-z])[- ]?0*(\d{1,5})\b")
#: So many characters of what is looked for are read.
LONGEST = 200


def folded(text: str) -> str:
    """A text without capitals and accents, each of its letters in its plain form.

    >>> folded("Türgriff, Çelik, ŁÓDŹ; Straße")
    'turgriff, celik, lodz; strasse'
    """
    plain = unicodedata.normalize("NFKD", text.casefold())
    return "".join(each for each in plain if not unicodedata.combining(each)).translate(_LIKE)


def codes_in(text: str) -> list[str]:
    """The codes of a folded text in one form, so that R-02, R2 and r 2 are the same.

    >>> codes_in("r-02 behind l-sill, r12")
    ['r2', 'r12']
    """
    return [f"{letter}{int(number)}" for letter, number in _CODE.findall(text)]


def ways(typed: str) -> list[list[str]]:
    """What is looked for, as it may have been written: the words as typed, with the American terms, with the British ones.

    Returns: lists of folded words; a text answers where it has all words of one of them.

    >>> ways("Fender, left")
    [['fender', 'left'], ['wing', 'left']]
    """
    said = folded(typed[:LONGEST])
    found = [said]
    for pairs in (_AMERICAN, _BRITISH):
        other = said
        for pattern, word in pairs:
            other = pattern.sub(word, other)
        if other not in found:
            found.append(other)
    return [words for each in found if (words := _words(each))]


def _words(said: str) -> list[str]:
    codes = {code: code for code in codes_in(said)}
    rest = _CODE.sub(" ", said)
    return list(dict.fromkeys([*codes, *re.findall(r"[^\W_]+(?:-[^\W_]+)*", rest)]))


def _swaps(pairs: dict[str, str]) -> list[tuple[re.Pattern[str], str]]:
    longest = sorted(pairs.items(), key=lambda pair: -len(pair[0]))
    return [(re.compile(rf"\b{re.escape(folded(one))}(?=s?\b)"), folded(other)) for one, other in longest]


_AMERICAN = _swaps(PAIRS)
_BRITISH = _swaps({other: one for one, other in PAIRS.items()})


def marked(text: str, words: list[str]) -> list[tuple[str, bool]]:
    """A text in pieces, each with whether it is one of the words that were looked for.

    >>> marked("Inner Sill, left", ["sill"])
    [('Inner ', False), ('Sill', True), (', left', False)]
    """
    if not words:
        return [(text, False)] if text else []
    # Each character folds by itself, so that a place in the folded text is a place in the text.
    places = [at for at, letter in enumerate(text) for _ in folded(letter)]
    plain = "".join(folded(letter) for letter in text)
    hits = [False] * len(text)
    for word in words:
        for match in re.finditer(re.escape(word), plain):
            for at in range(match.start(), match.end()):
                hits[places[at]] = True
    pieces: list[tuple[str, bool]] = []
    for letter, hit in zip(text, hits, strict=True):
        if pieces and pieces[-1][1] == hit:
            pieces[-1] = (pieces[-1][0] + letter, hit)
        else:
            pieces.append((letter, hit))
    return pieces


#: A piece of a text that answers is shown with so many letters round its first word, and is so long at most.
ROUND, SNIPPET = 40, 160


def snippet(text: str, words: list[str]) -> str:
    """The piece of a text in which the first of some words stands; its beginning where none does.

    >>> snippet("a " * 60 + "Sill " + "b " * 90, ["sill"])[:46]
    '… a a a a a a a a a a a a a a a a a a a Sill b'
    """
    plain = "".join(folded(letter)[:1] or " " for letter in text)
    at = min((place for word in words if (place := plain.find(word)) >= 0), default=0)
    begin = max(0, at - ROUND)
    if begin:
        begin = text.find(" ", begin) + 1
    cut = text[begin : begin + SNIPPET]
    return f"{'… ' if begin else ''}{cut.strip()}{' …' if len(text) > begin + SNIPPET else ''}"
