"""Finding again what was written down: an index in memory, by SQLite's own full text search."""

import re
import sqlite3
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from threading import RLock
from typing import Annotated

from pydantic import Field

from ..records import Record
from .words import codes_in, folded, ways

#: How much more a word counts in a heading than in the text below it.
HEAD_WEIGHT = 6.0
#: The shortest part of a word that is found inside another one.
LEAST_PART = 3
#: So many words that hold another one are looked for.
MOST_PARTS = 60
#: Where more than so many answer, their ranks say nothing: headings come first, then the rest, the newest first.
MOST_RANKED = 1000
MOST_HITS = 200
MOST_TEXTS = 50_000


class Entry(Record):
    """Something that was written down.

    Attributes:
        key: what it is known by; kind: what it is (a finding, hours, a box); head, text: its words; day: of what it tells; repair: its repair's number;
        panel: the code of its panel.
    """

    key: Annotated[str, Field(min_length=1, max_length=80)]
    kind: Annotated[str, Field(min_length=1, max_length=60)]
    head: Annotated[str, Field(max_length=400)] = ""
    text: Annotated[str, Field(max_length=20_000)] = ""
    day: date | None = None
    repair: Annotated[int, Field(ge=0)] = 0
    panel: Annotated[str, Field(max_length=20)] = ""


class FindRequest(Record):
    """Texts, and what is looked for in them; ``kinds``: only these, all where none is named."""

    entries: Annotated[list[Entry], Field(max_length=MOST_TEXTS)] = []
    typed: Annotated[str, Field(max_length=2000)]
    kinds: Annotated[list[str], Field(max_length=60)] = []
    most: Annotated[int, Field(ge=1, le=MOST_HITS)] = 40


@dataclass(frozen=True, slots=True, kw_only=True)
class Found:
    """The keys that answer, the best first; how many there are by kind; the words that were looked for in every way they may be written."""

    keys: list[str]
    by_kind: dict[str, int]
    words: list[str]

    @property
    def count(self) -> int:
        return sum(self.by_kind.values())


def find(request: FindRequest) -> Found:
    """Look for words in texts: whole words and their beginnings first, then parts of words.

    Args: request: see FindRequest. Returns: see Found; nothing where nothing was typed.
    Source: FTS5 of SQLite, ranked by BM25 (Robertson and Zaragoza 2009) with headings weighed; docs/methods.md section 14.
    """
    finder = Finder()
    finder.put(request.entries)
    return finder.find(request.typed, request.kinds, request.most)


#: A word as SQLite's own tokenizer takes it.
_TERM = re.compile(r"[^\W_]+")


class Finder:
    """The index of one vehicle. Entries are put in, replaced and taken out by their keys; several threads may ask at once."""

    def __init__(self) -> None:
        self._lock = RLock()
        self._store = sqlite3.connect(":memory:", check_same_thread=False)
        self._store.execute(
            "CREATE VIRTUAL TABLE word USING fts5(head, text, tokenize='unicode61', prefix='1 2')"
        )
        self._last = 0
        self._row: dict[str, int] = {}
        self._key: dict[int, str] = {}
        #: Every word of every text, those too that are gone since: they find nothing and do no harm.
        self._terms: set[str] = set()
        self._blob = ""
        self.entries: dict[str, Entry] = {}

    def put(self, entries: Iterable[Entry]) -> None:
        """Add entries; one whose key is there takes its place."""
        with self._lock:
            last = {entry.key: entry for entry in entries}
            self.drop(last)
            rows = []
            for entry in last.values():
                self._last += 1
                self._row[entry.key], self._key[self._last] = self._last, entry.key
                self.entries[entry.key] = entry
                head, text = folded(entry.head), folded(entry.text)
                codes = " ".join(codes_in(f"{head} {text}"))
                rows.append((self._last, f"{head} {codes}".strip(), text))
                self._blob = ""
                self._terms.update(_TERM.findall(f"{head} {codes} {text}"))
            self._store.executemany("INSERT INTO word (rowid, head, text) VALUES (?, ?, ?)", rows)

    def drop(self, keys: Iterable[str]) -> None:
        """Take entries out; keys that are not there are passed over."""
        with self._lock:
            gone = [(self._row.pop(key),) for key in list(keys) if key in self._row]
            for (row,) in gone:
                del self.entries[self._key.pop(row)]
            self._store.executemany("DELETE FROM word WHERE rowid = ?", gone)

    def find(self, typed: str, kinds: Sequence[str] = (), most: int = 40) -> Found:
        """The entries that have all words that were typed, the best first. Args: kinds: only these; most: so many."""
        with self._lock:
            asked = ways(typed)
            words = list(dict.fromkeys(word for way in asked for word in way))
            if not (question := self._question(asked)):
                return Found(keys=[], by_kind={}, words=words)
            every = self._rows("SELECT rowid FROM word WHERE word MATCH ?", question)
            kind_of = lambda row: self.entries[self._key[row]].kind  # noqa: E731
            counted = Counter(map(kind_of, every))
            by_kind = dict(sorted(counted.items(), key=lambda each: (-each[1], each[0])))
            if len(every) <= MOST_RANKED:
                ranked = self._rows(
                    "SELECT rowid FROM word WHERE word MATCH ? ORDER BY bm25(word, ?, 1.0), rowid DESC",
                    question,
                    HEAD_WEIGHT,
                )
            else:
                heads = self._rows(
                    "SELECT rowid FROM word WHERE word MATCH ? ORDER BY rowid DESC", f"head : ({question})"
                )
                ranked = [*dict.fromkeys([*heads, *reversed(every)])]
            best = [row for row in ranked if not kinds or kind_of(row) in kinds][:most]
            return Found(keys=[self._key[row] for row in best], by_kind=by_kind, words=words)

    def _rows(self, select: str, *values: object) -> list[int]:
        return [row for (row,) in self._store.execute(select, values)]

    def _question(self, asked: Sequence[Sequence[str]]) -> str:
        """The question as SQLite takes it: all words of one way, each as a word, its beginning or a part of one; empty where no text has them."""
        told = []
        for way in asked:
            terms = [self._like(word) for word in way]
            if all(terms):
                told.append(f"({' AND '.join(terms)})")
        return " OR ".join(told)

    def _like(self, word: str) -> str:
        """A word with the words of the texts that hold it; empty where there are none."""
        if not word.isalnum():
            return f'"{word}"*'
        begins = f"\n{word}" in self._lines()
        inside = [] if len(word) < LEAST_PART else self._holding(word)
        like = [f'"{word}"*'] * begins + [f'"{term}"' for term in inside]
        return f"({' OR '.join(like)})" if like else ""

    def _lines(self) -> str:
        """All words, each between two line ends: quicker to look through than one by one."""
        if not self._blob:
            self._blob = "\n".join(["", *self._terms, ""])
        return self._blob

    def _holding(self, word: str) -> list[str]:
        """The words that hold another one inside them, not at their beginning."""
        lines, at = self._lines(), 0
        found: list[str] = []
        while len(found) < MOST_PARTS and (at := lines.find(word, at)) >= 0:
            begin, end = lines.rfind("\n", 0, at) + 1, lines.find("\n", at)
            if begin < at:
                found.append(lines[begin:end])
            at = end
        return found
