"""Calendars given out and read: there and back, repeats, other zones, bombs."""

from datetime import UTC, date, datetime, timedelta
from unittest import TestCase

from yellow_sill.core.errors import BadField
from yellow_sill.core.formats.ics import Given, plan_ics, slots_from_ics
from yellow_sill.core.order.asked import Slot

FIRST = date(2026, 3, 2)
SATURDAY = datetime(2026, 3, 7, 9)


def calendar(*events):
    return ("BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\n" + "".join(f"BEGIN:VEVENT\r\nUID:{n}\r\n{each}\r\nEND:VEVENT\r\n" for n, each in enumerate(events)) + "END:VCALENDAR\r\n").encode()  # fmt: skip


def read(*events, weeks=8):
    return slots_from_ics(calendar(*events), FIRST, weeks, "Europe/London")


EVENING = "DTSTART:20260304T183000\r\nDTEND:20260304T210000"


class Ics(TestCase):
    def test_what_is_given_out_is_read_back_the_same(self):
        slots = [
            Slot(begins=SATURDAY + timedelta(weeks=n), ends=SATURDAY + timedelta(weeks=n, hours=5))
            for n in range(3)
        ]
        given = plan_ics([Given(key=str(n), slot=slot, steps=["Weld; dress, prime\nnow"]) for n, slot in enumerate(slots)], "Dunlin", datetime(2026, 3, 1, tzinfo=UTC))  # fmt: skip
        found = slots_from_ics(given, FIRST, 8, "Europe/London")
        self.assertEqual((found.slots, found.left_out), (slots, []))

    def test_repeats_zones_and_what_is_no_slot(self):
        found = read(
            f"{EVENING}\r\nRRULE:FREQ=WEEKLY\r\nEXDATE:20260311T183000", "DTSTART:20260404T080000Z\r\nDTEND:20260404T120000Z",
            "DTSTART;VALUE=DATE:20260310\r\nDTEND;VALUE=DATE:20260311", "DTSTART:20260313T220000\r\nDTEND:20260314T010000",
            "DTSTART:20260318T190000\r\nDTEND:20260318T200000",
        )  # fmt: skip
        self.assertEqual(len(found.slots), 8, "seven evenings, and a Saturday by summer time")
        self.assertIn(datetime(2026, 4, 4, 9), [slot.begins for slot in found.slots])
        self.assertEqual(len(found.left_out), 3)

    def test_bombs_and_nonsense_are_refused_in_words(self):
        for data, what in (
            (calendar(f"{EVENING}\r\nRRULE:FREQ=SECONDLY"), "many times a day"),
            (calendar(f"{EVENING}\r\nRRULE:FREQ=DAILY;BYHOUR=1,2,3,4,5;BYMINUTE=1,2,3"), "many times a day"),
            (calendar(*[f"{EVENING}\r\nRRULE:FREQ=DAILY"] * 201), "repeat"), (calendar(EVENING) * 20_001, "MB|more than 20000"),
            (b"BEGIN:VEVENT\r\n" * 20_001, "more than 20000"), (b"\x89PNG", "no calendar"), (calendar("DTSTART:soon"), "cannot be read|no calendar"),
            (calendar("DTSTART:20200304T183000\r\nDTEND:20200304T210000"), "no evening"),
        ):  # fmt: skip
            with self.subTest(what), self.assertRaisesRegex(BadField, what):
                slots_from_ics(data, FIRST, 8, "Europe/London")
