"""What people have already: tables of hours and costs, and another person's bundle as a donor; nothing twice, nothing unseen, all of it taken back."""

import io
import random
from decimal import Decimal
from unittest import TestCase

from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from openpyxl import Workbook

from tests.builders import DAY, finding, vehicle
from tests.web.record.test_record import RecordCase
from yellow_sill.core.errors import BadField
from yellow_sill.core.formats.sheets_in import xlsx_rows
from yellow_sill.core.record.tables import TableRequest, read_table
from yellow_sill.web.logbook.bundle import export_vehicle, import_vehicle
from yellow_sill.web.logbook.models import WorkEntry
from yellow_sill.web.parts.models import CostLine, Need
from yellow_sill.web.record.models import BroughtTable, Donor
from yellow_sill.web.shells.change_services import changes, take_back

HOURS = "Date;Hours;What;Job;Kind\n{0};1:30;Trim off;;Strip and clean\n{0};2,5;Sill out;R-01;Cut out\n{0};soon;x;R-01;Weld\n{0};1;y;R-9;Weld\n{0};1;z;;wood\n31/31/2025;1;d;;Weld\n"


class Rows(TestCase):
    def test_whatever_is_written_in_however_many_rows_none_is_lost_and_none_is_taken_twice(self):
        """300 random tables beside counting by hand."""
        for seed in range(300):
            rng = random.Random(seed)
            rows = [[rng.choice(["2025-05-01", "1 May 2025", "never"]), rng.choice(["1", "90 min", "x"]), rng.choice(["weld", "Weld", "?"]), rng.choice(["a", "A"])] for _ in range(rng.randint(1, 12))]  # fmt: skip
            asked = {
                "what": "hours",
                "rows": rows,
                "columns": {"day": 0, "time": 1, "kind": 2, "note": 3},
                "heading": False,
                "today": DAY,
            }
            told = read_table(TableRequest.read(asked))
            self.assertEqual(len(told.rows) + len(told.unread), len(rows))
            self.assertEqual(
                len(told.unread), sum("never" in row or row[1] == "x" or row[2] == "?" for row in rows)
            )
            whole = read_table(TableRequest.read(asked | {"in_minutes": True}))
            self.assertLessEqual({each.minutes for each in whole.rows}, {1, 90}, "1 is a minute then")
            some = told.rows[: rng.randint(0, len(told.rows))]
            again = read_table(TableRequest.read(asked | {"here": [each.key for each in some]}))
            self.assertEqual(
                sum(each.known for each in again.rows), len(some), "as often as it is here, and no more"
            )

    def test_what_cannot_be_read_is_refused_with_its_reason(self):
        asked = {
            "what": "costs",
            "rows": [],
            "columns": {"day": 0, "item": 1, "amount": 2},
            "heading": False,
            "kind": "part",
            "today": DAY,
        }
        for row, words in (
            (["2025-05-01", "Disc", "1,234"], "could be two amounts"), (["2025-05-01", "", "12"], "what was bought"), (["2125-05-01", "Disc", "12"], "still to come"),
            (["2025-05-01", "x" * 130, "12"], "has 130 characters"), (["2025-05-01", "Disc", "9" * 12], "no amount"), (["2025-05-01", "Disc", "-3.50"], ""),
        ):  # fmt: skip
            told = read_table(TableRequest.read(asked | {"rows": [row]}))
            if words:
                self.assertIn(words, told.unread[0].why)
            else:
                self.assertEqual((told.rows[0].price, told.rows[0].back), (Decimal("3.50"), True))
        for change, words in (({"columns": {"day": 0}}, "which column"), ({"kind": "wood"}, "no kind")):
            with self.assertRaisesRegex(BadField, words):
                read_table(TableRequest.read(asked | change))
        with self.assertRaisesRegex(BadField, "no spreadsheet"):
            xlsx_rows(b"PK\x03\x04 nonsense")


class Tables(RecordCase):
    def bring(self, text, what="hours", name="t.csv"):
        data = text if isinstance(text, bytes) else text.encode()
        return self.client.post(
            reverse("record:bring_in", args=[self.vehicle.pk]),
            {"what": what, "table": SimpleUploadedFile(name, data)},
        )

    def take(self, table, **columns):
        page = reverse("record:table_in", args=[self.vehicle.pk, table.pk])
        return self.client.post(page, {"what": "take", "heading": "yes"} | columns, follow=True)

    def test_hours_are_looked_at_taken_once_and_taken_back_at_once(self):
        self.bring(HOURS.format(f"{DAY:%d/%m/%Y}"))
        table = BroughtTable.objects.get()
        self.assertEqual(
            table.columns, {"day": 0, "time": 1, "note": 2, "repair": 3, "kind": 4}, "by its heading"
        )
        page = self.client.get(reverse("record:table_in", args=[self.vehicle.pk, table.pk]))
        for words in (
            "4 cannot be read",
            "Row 4: &#x27;soon&#x27;",
            "There is no repair &#x27;R-9&#x27;",
            "&#x27;wood&#x27; is no kind",
            "2 rows new",
        ):
            self.assertContains(page, words)
        self.assertFalse(WorkEntry.objects.exists(), "nothing before it is said")
        columns = {"day": "0", "time": "1", "note": "2", "repair": "3", "kind": "4"}
        self.assertContains(self.take(table, **columns), "2 rows written down")
        self.assertEqual(
            list(WorkEntry.objects.order_by("pk").values_list("minutes", "repair__number")),
            [(90, None), (150, 1)],
        )
        self.assertContains(self.take(table, **columns), "taken in already", status_code=422)
        self.bring(HOURS.format(f"{DAY:%d/%m/%Y}"))
        again = BroughtTable.objects.first()
        self.assertEqual(again.columns["kind"], 4, "chosen once")
        self.assertContains(self.take(again, **columns), "No row of it is new", status_code=422)
        take_back(self.vehicle, changes(self.vehicle)[0].revision, by="Wren")
        self.assertFalse(WorkEntry.objects.exists())

    def test_costs_come_from_a_spreadsheet(self):
        book, stream = Workbook(), io.BytesIO()
        for row in (
            ["Date", "Shop", "Item", "Qty", "Price"],
            [DAY, "Lantern Panels", "Disc", 3, 4.5],
            [DAY, "Lantern Panels", "Wire", 1, 30],
        ):
            book.active.append(row)
        book.save(stream)
        self.bring(stream.getvalue(), "costs", "costs.xlsx")
        table = BroughtTable.objects.get()
        self.assertEqual(sorted(table.columns), ["amount", "day", "item", "quantity", "supplier"])
        told = self.take(
            table,
            day="0",
            supplier="1",
            item="2",
            quantity="3",
            amount="4",
            kind_else="consumable",
            tax_rate="20",
            tax_included="yes",
        )
        self.assertContains(told, "2 rows written down")
        line = CostLine.objects.get(item="Disc")
        self.assertEqual(
            (line.quantity, line.unit_price, line.gross_minor, line.kind),
            (3, Decimal("4.5"), 1350, "consumable"),
        )

    def test_what_is_no_table_or_says_too_little_is_refused_beside_it(self):
        self.assertContains(self.bring(" "), "nothing in it", status_code=422)
        self.assertContains(self.bring(b"\x00\x01", name="t.xlsx"), "no spreadsheet", status_code=422)
        self.bring("a;b\n1;2\n")
        self.assertContains(
            self.take(BroughtTable.objects.get(), day="0"), "This field is required", status_code=422
        )


class Donors(RecordCase):
    def setUp(self):
        super().setUp()
        self.there = reverse("record:donors", args=[self.vehicle.pk])

    def bring(self, data):
        return self.client.post(
            self.there, {"what": "bring", "bundle": SimpleUploadedFile("b.zip", data)}, follow=True
        )

    def test_a_bundle_becomes_a_donor_and_a_sound_panel_is_wanted_from_it(self):
        other = vehicle(self.owner, model="Heron")
        finding(other, title="Holed there")
        data = export_vehicle(other)
        self.assertContains(self.bring(data), "is kept as a donor")
        donor = Donor.objects.get()
        told = {panel["code"]: panel for panel in donor.panels}
        self.assertEqual(
            {panel["verdict"] for panel in donor.panels if not panel["grade"]},
            {"not known"},
            "what nobody looked at is not sound",
        )
        self.assertEqual(
            (told["L-SILL"]["verdict"], told["L-SILL"]["found"] > 0),
            ("bad" if told["L-SILL"]["grade"] in "THF" else "worn", True),
        )
        self.assertContains(self.bring(data), "here already", status_code=422)
        self.assertContains(self.bring(b"no zip"), "bundle", status_code=422)
        self.client.post(self.there, {"what": "want", "donor": donor.pk, "code": "R-SILL"})
        self.assertIn("From the donor", Need.objects.get().note)
        want = self.client.post(self.there, {"what": "want", "donor": donor.pk, "code": "R-SILL"})
        self.assertContains(want, "wanted from it already", status_code=422)
        self.assertContains(
            self.client.post(self.there, {"what": "want", "donor": donor.pk, "code": "X"}),
            "has no panel",
            status_code=422,
        )
        self.assertEqual(
            import_vehicle(export_vehicle(self.vehicle), self.owner).donors.get().panels, donor.panels
        )
        self.client.post(self.there, {"what": "drop", "donor": donor.pk})
        self.assertEqual(
            (
                Donor.objects.filter(vehicle=self.vehicle).count(),
                Need.objects.filter(vehicle=self.vehicle).count(),
            ),
            (0, 1),
        )
