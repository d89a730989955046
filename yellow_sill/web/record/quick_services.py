"""The quick log: a word, minutes, a photo, written down at once where they belong."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from django.core.files.uploadedfile import UploadedFile

from yellow_sill.core.errors import BadField
from yellow_sill.core.order.work import MadeStep
from yellow_sill.core.said import Listed, Said
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.logbook.services import add_note, add_photo, add_work
from yellow_sill.web.order.day_services import quiet_day
from yellow_sill.web.order.time_services import running
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Vehicle

#: The longest words that a photo and hours bear; what is longer is a note besides.
CAPTION, HOURS_NOTE = 200, 300
_ON = re.compile(r"/repairs/(\d{1,6})/")


@dataclass(frozen=True, slots=True, kw_only=True)
class InHand:
    """The repair that is in hand (None: nobody knows), its kind of work, how that is known; the step that is next where no time runs."""

    repair: Repair | None
    kind: str
    why: Said
    next: MadeStep | None = None


def in_hand(vehicle: Vehicle, came_from: str, now: Any) -> InHand:
    """What is in hand: the repair whose page one came from, else the step whose time runs, else the first step of the slot that is on or next."""
    by_number, time = {repair.number: repair for repair in vehicle.repairs.all()}, running(vehicle)
    day = quiet_day(vehicle, now) if time is None else None
    steps = [each.step for each in day.steps] if day else []
    first = steps[0] if steps else None
    if (match := _ON.search(came_from)) and (repair := by_number.get(int(match[1]))):
        mine = next((step for step in steps if step.repair == repair.number), first)
        return InHand(repair=repair, kind="", why=Said("you were on its page"), next=mine)
    if time and (repair := by_number.get(time.repair)):
        return InHand(repair=repair, kind=time.kind, why=Said("its time runs: {name}", name=time.name))
    if first and (repair := by_number.get(first.repair)):
        return InHand(
            repair=repair, kind=first.kind, why=Said("it is next: {name}", name=first.name), next=first
        )
    return InHand(repair=None, kind="", why=Said("nobody knows which is in hand"), next=first)


@dataclass(frozen=True, slots=True, kw_only=True)
class Written:
    """What is to be written down: words and what they are about, minutes as typed with their kind of work, a photo."""

    text: str = ""
    about: str = ""
    minutes: str = ""
    kind: str = ""
    photo: UploadedFile | None = None


@one_change
def write_down(vehicle: Vehicle, repair: Repair | None, what: Written, *, today: date, by: str) -> Said:
    """Store all of it or nothing; what became of it in words.

    Words go with the photo and the hours; they are a note besides where there is neither, where they are a mistake or something learnt, and where they
    are longer than those can bear. Raises: BadField.
    """
    text = what.text.strip()
    if what.photo:
        what.photo.seek(0)  # it may have been read before, where somebody else stored at the same moment
    if not (text or what.minutes.strip() or what.photo):
        raise BadField("Nothing is there to write down.", "text", "Type a word, minutes, or take a photo.")
    done: list[str] = []
    bears = [CAPTION] * bool(what.photo) + [HOURS_NOTE] * bool(what.minutes.strip())
    noted = bool(text) and (not bears or bool(what.about) or len(text) > min(bears))
    if repair is None and noted:
        raise BadField(
            "A note belongs to a repair.",
            "repair",
            "Choose which; hours and a photo may be of the whole vehicle.",
        )
    if what.minutes.strip():
        typed = what.minutes.strip()
        typed = f"{typed} min" if typed.isdigit() else typed
        if not what.kind:
            raise BadField("Say what kind of work the minutes were.", "kind")
        add_work(vehicle, repair, worked_on=today, kind=what.kind, typed=typed, note=text[:HOURS_NOTE], by=by)
        done.append("hours")
    if repair is not None and noted:
        add_note(repair, written_on=today, text=text, about=what.about, by=by)
        done.append({"mistake": "a mistake", "learnt": "something learnt"}.get(what.about, "a note"))
    if what.photo:
        add_photo(repair or vehicle, what.photo, caption=text[:CAPTION], taken_on=today, by=by)
        done.append("a photo")
    return Said(
        "Written down{where}: {what}.",
        where=f" on {repair.code}" if repair else "",
        what=Listed(_words(done)),
    )


def _words(done: Sequence[str]) -> tuple[Said, ...]:
    return tuple(Said(each) for each in done)
