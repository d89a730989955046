"""Hot work: a session with sparks, what is seen to before it, and the fire watch after it."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from yellow_sill.core.errors import BadField
from yellow_sill.core.repairs.gate import NOTHING
from yellow_sill.core.said import Quoted, Said
from yellow_sill.core.weld.cautions import FIRE_WATCH_MIN, HOT_WORK
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.stages import told
from yellow_sill.web.shells.models import Vehicle
from yellow_sill.web.survey.models import FarSide, PanelItem

from .models import HotWork

WATCH = timedelta(minutes=FIRE_WATCH_MIN)
#: A session that nobody ended is told of for so long.
FORGOTTEN = timedelta(hours=12)


@dataclass(frozen=True, slots=True, kw_only=True)
class ToMove:
    """Something near the sparks, as it was written down: a key, the words, where they are from."""

    key: str
    text: str
    where: str


def to_move(vehicle: Vehicle) -> list[ToMove]:
    """What lies behind the panels that open repairs cut: answers of the far side, and notes of what is there."""
    panels = {"panel__cuts__repair__vehicle": vehicle, "panel__cuts__repair__state__in": OPEN}
    items = (
        PanelItem.objects.filter(kind__in=("behind", "salvage"), done=False, **panels)
        .select_related("panel")
        .distinct()
    )
    answers = FarSide.objects.filter(**panels).exclude(answer="").select_related("panel").distinct()
    found = [ToMove(key=f"item-{item.pk}", text=item.text, where=item.panel.code) for item in items]
    found += [
        ToMove(key=f"far-{each.pk}", text=each.answer, where=each.panel.code)
        for each in answers
        if not each.answer.strip().lower().startswith(NOTHING)
    ]
    found += [
        ToMove(key=key, text=text, where=where) for say in told("burns") for key, text, where in say(vehicle)
    ]
    return found


OPEN = ("opened", "cut", "made", "fitted", "welded")


def running(vehicle: Vehicle, now: datetime) -> HotWork | None:
    """The session that is under way or still watched; None where there is none."""
    last = vehicle.hot_works.order_by("-number").first()
    if last is None or last.watch_ended_at is not None:
        return None
    return None if last.last_spark_at is None and now - last.begun_at > FORGOTTEN else last


def watched_until(work: HotWork) -> datetime | None:
    """When the fire watch of a session ends; None while sparks fly."""
    return work.last_spark_at + WATCH if work.last_spark_at else None


@one_change
def begin(vehicle: Vehicle, ticks: Sequence[str], moved: Sequence[str], *, now: datetime, by: str) -> HotWork:
    """Begin a session. Raises: BadField: a caution that is not seen to, something not moved, or one that is under way already."""
    if running(vehicle, now):
        raise BadField("A session is under way already.", "begin", "End its watch first.")
    unseen = [caution.head for caution in HOT_WORK if caution.key not in ticks]
    if unseen:
        raise BadField(
            Said("Not seen to yet: {heads}.", heads=", ".join(unseen)), "ticks", "Tick each once it is so."
        )
    there = to_move(vehicle)
    left = "; ".join([each.text for each in there if each.key not in moved][:3])
    if left:
        what = Said("Not moved, covered or looked at yet: {things}.", things=Quoted(left))
        raise BadField(what, "moved", "Tick each once it is out of reach or covered.")
    return HotWork.objects.create(
        vehicle=vehicle, number=HotWork.next_number(vehicle=vehicle), begun_at=now, begun_by=by, changed_by=by, ticks=[c.key for c in HOT_WORK],
        moved=[f"{each.where}: {each.text}" for each in there],
    )  # fmt: skip


@one_change
def last_spark(work: HotWork, *, now: datetime, by: str) -> None:
    """The last spark was now; said again, the watch begins anew. Raises: BadField once the watch is over."""
    if work.watch_ended_at:
        raise BadField("That session is over.", "spark", "Begin a new one.")
    if work.last_spark_at and now < work.last_spark_at:
        raise BadField(
            "The clock was set back: the last spark was later.", "spark", "Check the clock of this machine."
        )
    work.set_fields(by, last_spark_at=now)


@one_change
def end_watch(work: HotWork, *, watched_by: str, note: str, now: datetime, by: str) -> None:
    """The watch is over. Raises: BadField: no last spark, too early without a word why, or nobody named."""
    until = watched_until(work)
    if until is None:
        raise BadField(
            "The last spark was not said yet.", "spark", "Say it first: the hour counts from there."
        )
    if not watched_by.strip():
        raise BadField("Who watched?", "watched_by", "Write the name.")
    if now < until and not note.strip():
        left = int((until - now).total_seconds() // 60) + 1
        raise BadField(
            Said("{left} minutes of the watch are left.", left=left),
            "note",
            "Stay, or write why it ends now.",
        )
    work.set_fields(by, watch_ended_at=now, watched_by=watched_by.strip(), note=note.strip())
