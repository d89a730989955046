"""'Where is the bracket of the left jacking point': parts found by words, however they were typed."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field
from rapidfuzz import fuzz, utils

from ..records import Record

#: A part is told where it is so much like what was asked, 0 to 100; so many of them at most.
LIKE, MOST_FOUND = 72.0, 8
#: Words that ask and say nothing of the part.
ASKING = frozenset(
    "where is are the a an of what in which box shelf my did i put find show for to and on".split()  # noqa: SIM905 - read as a sentence
)
#: British and American words for one thing.
SAME = {
    "hood": "bonnet", "trunk": "boot", "fender": "wing", "windshield": "windscreen", "rocker": "sill", "wrench": "spanner", "muffler": "silencer",
    "headliner": "headlining", "turn": "indicator",
}  # fmt: skip


class FindRequest(Record):
    """What is asked, and the texts of the parts by number."""

    asked: Annotated[str, Field(max_length=200)]
    texts: dict[int, Annotated[str, Field(max_length=2000)]]


@dataclass(frozen=True, slots=True, kw_only=True)
class Found:
    """A part by its number, and how like what was asked it is, 0 to 100."""

    number: int
    like: float


def find(request: FindRequest) -> list[Found]:
    """The parts that fit what was asked, the best first; every word counts, part words and slips too.

    Args: request: see FindRequest.
    """
    words = [word for word in _words(request.asked) if word not in ASKING]
    if not words:
        return []
    told = []
    for number, text in request.texts.items():
        own = _words(text)
        if not own:
            continue
        like = sum(max(_like(word, each) for each in own) for word in words) / len(words)
        if like >= LIKE:
            told.append(Found(number=number, like=round(like, 1)))
    return sorted(told, key=lambda each: (-each.like, each.number))[:MOST_FOUND]


def _words(text: str) -> Sequence[str]:
    """The words of a text, in British terms."""
    return [SAME.get(word, word) for word in utils.default_process(text).split()]


def _like(word: str, other: str) -> float:
    """How like two words are, 0 to 100: the beginning of a longer word counts as that word."""
    if len(word) >= 3 and other.startswith(word):
        return 100.0
    return float(fuzz.ratio(word, other))
