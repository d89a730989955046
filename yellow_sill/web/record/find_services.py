"""Finding again: what answers, each with its page and its place on the shell."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from yellow_sill.core.record.finder import Entry, Found
from yellow_sill.core.record.words import marked, snippet
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.shells.models import Vehicle

from .index import index_of
from .kinds import KINDS

#: So many answers are shown at once.
MOST_SHOWN = 30


@dataclass(frozen=True, slots=True, kw_only=True)
class Place:
    """Where something is: its view by its key, its outline in it, mm."""

    view: int
    outline: list


@dataclass(frozen=True, slots=True, kw_only=True)
class Hit:
    """An answer: its number on the page, its entry, its words in pieces with whether they were looked for, its page, its place."""

    n: int
    entry: Entry
    head: list[tuple[str, bool]]
    text: list[tuple[str, bool]]
    url: str
    place: Place | None


def find_in(vehicle: Vehicle, typed: str, kinds: Sequence[str] = ()) -> tuple[Found, list[Hit]]:
    """What answers, the best first."""
    index = index_of(vehicle)
    found = index.find(typed, kinds, MOST_SHOWN)
    entries = [index.entries[key] for key in found.keys if key in index.entries]
    return found, hits_of(vehicle, entries, found.words)


def hits_of(vehicle: Vehicle, entries: Sequence[Entry], words: Sequence[str] | None = None) -> list[Hit]:
    """Entries with their pages and places; one whose record is gone is left out. Args: words: to be marked; None: the heads alone are told."""
    where = places(vehicle, entries)
    sought = list(words or ())
    return [
        Hit(
            n=n, entry=entry, head=marked(entry.head, sought), text=[] if words is None else marked(snippet(entry.text, sought), sought),
            url=where[entry.key][0], place=where[entry.key][1],
        )
        for n, entry in enumerate((each for each in entries if each.key in where), start=1)
    ]  # fmt: skip


def places(vehicle: Vehicle, entries: Iterable[Entry]) -> dict[str, tuple[str, Place | None]]:
    """Page and place of each entry, by its key; one whose record is gone is left out."""
    by_model: dict[str, list[int]] = {}
    for entry in entries:
        model, _, pk = entry.key.partition(":")
        by_model.setdefault(model, []).append(int(pk))
    found: dict[str, tuple[str, Place | None]] = {}
    repairs: list[tuple[str, int]] = []
    for model, keys in by_model.items():
        kind = KINDS[model]
        for row in kind.of(vehicle.pk).filter(pk__in=keys):
            at, repair = kind.at(row), kind.repair(row)
            key = f"{model}:{row.pk}"
            place = Place(view=at[0], outline=at[1]) if at else None
            found[key] = (str(kind.page(row)), place)
            if place is None and repair is not None:
                repairs.append((key, repair.pk))
    first: dict[int, Cut] = {}
    for cut in (
        Cut.objects.filter(repair__in={pk for _, pk in repairs}).select_related("panel").order_by("-number")
    ):
        first[cut.repair_id] = cut
    for key, mended in repairs:
        if cut := first.get(mended):
            found[key] = (found[key][0], Place(view=cut.panel.view_id, outline=cut.outline))
    return found
