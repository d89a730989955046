"""Money over the wire: receipts in any currency, lines out and in, the bank, budget, customer's sheets, what is sold on; refused, taken back, in the bundle."""

import io
from datetime import timedelta
from decimal import Decimal

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase
from django.urls import reverse
from openpyxl import load_workbook
from reportlab.pdfgen.canvas import Canvas

from tests.builders import finding, owner, picture, repair, vehicle
from yellow_sill.web.frame import days
from yellow_sill.web.logbook.bundle import export_vehicle, import_vehicle
from yellow_sill.web.parts.bank_services import keep_statement, take_lines
from yellow_sill.web.parts.models import BankLine, CostLine, CustomerPaper, Receipt
from yellow_sill.web.shells.change_services import changes, take_back

RECEIPT = {
    "what": "keep", "supplier": "North Gate Parts", "currency": "EUR", "rate": "0,86", "tax_in": "yes", "rounds": "line", "discount": "0",
    "carriage": "35", "printed": "266.00", "count": "3", "line0-item": "Front wing", "line0-quantity": "1", "line0-unit_price": "231", "line0-tax_rate": "19",
    "line0-kind": "part", "line1-item": "", "line2-item": "",
}  # fmt: skip


def pdf() -> bytes:
    stream = io.BytesIO()
    page = Canvas(stream)
    page.drawString(50, 700, "to pay 266.00")
    page.save()
    return stream.getvalue()


class Money(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = owner()
        cls.vehicle = vehicle(cls.owner)
        cls.repair = repair(cls.vehicle, [finding(cls.vehicle)])

    def setUp(self):
        self.client.force_login(self.owner)
        self.today = days.today()

    def url(self, name, *more):
        return reverse(f"parts:{name}", args=[self.vehicle.pk, *more])

    def send(self, page, *more, **sent):
        return self.client.post(self.url(page, *more), sent)

    def receipt(self, **more):
        return self.send("new_receipt", day=self.today.isoformat(), **(RECEIPT | {key.replace("__", "-"): value for key, value in more.items()}))  # fmt: skip

    def line(self, item="Discs", price="10", **more):
        usual = {
            "vehicle": self.vehicle,
            "bought_on": self.today,
            "supplier": "Fallow & Pike",
            "item": item,
            "unit_price": Decimal(price),
            "by": "W",
        }
        return CostLine.objects.create(**(usual | more))

    def test_a_receipt_in_another_currency_and_its_credit_note(self):
        self.assertRedirects(self.receipt(file=SimpleUploadedFile("r.pdf", pdf())), self.url("receipt", 1))
        stored = Receipt.objects.get()
        self.assertEqual(stored.lines.get().gross_minor, 22876)  # 266.00 at 0.86
        shown = self.client.get(self.url("receipt", 1))
        self.assertContains(shown, "as printed")
        self.assertEqual(self.client.get(self.url("receipt_page", 1, 1))["Content-Type"], "image/jpeg")
        self.assertIn("attachment", self.client.get(self.url("receipt_pdf", 1))["Content-Disposition"])
        self.send("receipt", 1, what="mirror")
        credit = Receipt.objects.get(number=2)
        self.assertEqual((credit.mirrors, credit.lines.get().gross_minor), (stored, -22876))
        self.assertContains(self.client.get(self.url("money")), "£\u00a00.00")
        take_back(self.vehicle, changes(self.vehicle)[0].revision, by="Wren Askew")
        self.assertEqual(Receipt.objects.count(), 1)

    def test_one_that_does_not_add_up_is_asked_and_nothing_typed_is_lost(self):
        answer = self.receipt(printed="260")
        self.assertContains(answer, "look for a line, a rate or a discount", status_code=422)
        self.assertContains(answer, 'value="Front wing"', status_code=422)
        self.assertFalse(Receipt.objects.exists())
        self.receipt(printed="260", despite="they rounded it off")
        self.assertEqual(Receipt.objects.get().despite, "they rounded it off")

    def test_bad_receipts_are_told_where_they_are_wrong(self):
        for more, words in (
            ({"rate": "0"}, "A rate of 0"), ({"line0__tax_rate": "120"}, "100"), ({"line0__unit_price": "1,234"}, "could be two amounts"),
            ({"currency": "XXX"}, "valid choice"), ({"line0__item": "", "line0__unit_price": ""}, "no line on it"),
            ({"line0__kind": ""}, "Choose one."), ({"file": SimpleUploadedFile("x.pdf", b"%PDF-1.4 nonsense")}, "damaged or locked"),
            ({"file": SimpleUploadedFile("x.pdf", b"%PDF-" + b"0" * (50 * 1024 * 1024))}, "50 MB; a receipt may have 20 MB"),
            ({"file": SimpleUploadedFile("x.txt", b"hello")}, "not a photo"),
        ):  # fmt: skip
            with self.subTest(words):
                self.assertContains(self.receipt(**more), words, status_code=422)
        self.assertFalse(Receipt.objects.exists())
        self.assertFalse(CostLine.objects.exists())

    def test_a_currency_without_decimals(self):
        self.vehicle.currency = "JPY"
        self.vehicle.save()
        self.receipt(
            currency="JPY", rate="1", printed="", carriage="0", line0__unit_price="1001", line0__tax_rate="10"
        )
        line = CostLine.objects.get()
        self.assertEqual((line.net_minor, line.gross_minor), (910, 1001))

    def test_a_line_for_the_vehicle_is_changed_and_deleted_with_history(self):
        values = {
            "bought_on": self.today.isoformat(), "supplier": "Corner Tools", "item": "Hoist", "kind": "tool", "quantity": "1", "unit_price": "48,00",
            "tax_rate": "20", "tax_included": "yes", "currency": "GBP", "rate": "1", "discount": "10",
        }  # fmt: skip
        self.assertRedirects(self.send("new_line", **values), self.url("money"))
        line = CostLine.objects.get()
        self.assertEqual((line.repair, line.gross_minor), (None, 4320))
        self.assertContains(self.send("line", line.pk, **(values | {"item": "Crane", "version": "0"})), "saved this while", status_code=409)  # fmt: skip
        self.send("line", line.pk, **(values | {"back": "yes", "version": str(line.version)}))
        self.assertEqual(CostLine.objects.get().gross_minor, -4320)
        self.send("line", line.pk, delete="yes", version=str(CostLine.objects.get().version))
        self.assertFalse(CostLine.objects.exists())
        take_back(self.vehicle, changes(self.vehicle)[0].revision, by="Wren Askew")
        self.assertEqual(CostLine.objects.get().item, "Hoist")

    def test_tables_out_hold_no_formula_and_come_in_once(self):
        self.line(item="=HYPERLINK(1)", tax_rate=Decimal(20))
        self.line(item="Wire", repair=self.repair, price="12.5", tax_rate=Decimal(20))
        out = self.client.get(self.url("table", "csv")).content.decode("utf-8-sig")
        self.assertIn("'=HYPERLINK(1)", out)
        book = load_workbook(io.BytesIO(self.client.get(self.url("table", "xlsx")).content))
        self.assertEqual(book.sheetnames, ["Lines", "Kind", "Supplier", "Repair", "Month"])
        cell = next(row[3] for row in book["Lines"].iter_rows(min_row=2) if "HYPER" in str(row[3].value))
        self.assertEqual((cell.data_type, cell.value[0]), ("s", "'"))
        self.assertContains(self.send("brought_in", text=out), "0 to store, 2 not")
        CostLine.objects.all().delete()
        self.assertContains(self.send("brought_in", text=out), "2 to store, 0 not")
        self.assertFalse(CostLine.objects.exists())
        self.send("brought_in", text=out, take="yes")
        self.assertEqual({line.item for line in CostLine.objects.all()}, {"=HYPERLINK(1)", "Wire"})
        self.send("brought_in", text=out, take="yes")
        self.assertEqual(CostLine.objects.count(), 2)

    def test_a_table_is_refused_row_by_row(self):
        head = "day;item;kind;unit_price;tax_rate;repair"
        rows = ("2026-01-05;Discs;consumable;1.234,50;20;", "5 Jan;Discs;consumable;3;20;", "2026-01-05;Discs;bread;3;20;", "2026-01-05;Discs;tool;3;120;",
                "2026-01-05;Discs;tool;3;20;R-99", "2026-01-05;;tool;3;20;")  # fmt: skip
        answer = self.send("brought_in", text="\n".join((head, *rows)))
        for words in ("1 to store, 5 not", "is no day", "no kind", "row 5", "no repair R-99", "row 7"):
            self.assertContains(answer, words)
        self.assertContains(self.send("brought_in", text="a;b\n1;2"), "It lacks", status_code=422)

    def test_a_statement_is_read_once_and_booked_by_a_yes(self):
        self.receipt()
        paid = (self.today - timedelta(1)).strftime("%d.%m.%Y")
        text = f"Tag;Wer;Betrag\n{paid};NORTH GATE PARTS;-228,76\n{paid};Bäcker;-4,20\nnever;x;y\n"
        upload = lambda: SimpleUploadedFile("bank.csv", text.encode("cp1252"))
        self.assertRedirects(self.send("bank", what="statement", table=upload()), self.url("statement", 1))
        columns = {"day": "0", "text": "1", "amount": "2", "heading": "yes"}
        looked = self.send("statement", 1, what="look", **columns)
        self.assertContains(looked, "2 payments")
        self.assertContains(looked, "1 rows cannot be read")
        self.assertFalse(BankLine.objects.exists())
        self.send("statement", 1, what="take", version="1", **columns)
        self.assertEqual({line.state for line in BankLine.objects.all()}, {"open"})
        shown = self.client.get(self.url("bank"))
        self.assertContains(shown, "amount, day and name agree")
        line = BankLine.objects.get(text__startswith="NORTH")
        key = f"r{Receipt.objects.get().pk}"
        self.send("bank", what="yes", line=line.pk, key=key)
        self.assertEqual(BankLine.objects.get(pk=line.pk).receipt.number, 1)
        self.assertContains(
            self.send("bank", what="yes", line=line.pk, key=key), "booked already", status_code=422
        )
        self.send("bank", what="statement", table=upload())
        again = self.client.get(self.url("statement", 2))
        self.assertContains(again, "Take these payments")  # its columns are remembered
        self.send("statement", 2, what="take", version="1", **columns)
        self.assertEqual(BankLine.objects.count(), 2)
        baker = BankLine.objects.get(text="Bäcker")
        self.send(
            "bank",
            what="cost",
            line=baker.pk,
            supplier="Baker",
            item="Rolls",
            kind="consumable",
            tax_rate="0",
        )
        self.assertEqual(CostLine.objects.get(item="Rolls").gross_minor, 420)
        self.send("bank", what="open", line=baker.pk)
        self.send("bank", what="left", line=baker.pk)
        self.assertEqual(BankLine.objects.get(pk=baker.pk).state, "left")
        self.assertContains(
            self.send("statement", 1, what="drop", version="2"), "are booked", status_code=422
        )

    def test_a_budget_and_terms(self):
        self.line(repair=self.repair, price="100", tax_rate=Decimal(0))
        sent = {"what": "budget", "name": "Sill", "amount": "80", "repairs": [str(self.repair.number)]}
        self.send("money", **sent)
        self.assertContains(self.client.get(self.url("money")), "above what was set aside")
        self.assertContains(self.send("money", **sent), "budget of that name", status_code=422)
        self.assertContains(
            self.send("money", what="budget", name="None", amount="5"), "covers nothing", status_code=422
        )
        self.send("money", what="terms", hour="20", charge="48", mark_up="10", tax_rate="20")
        self.vehicle.work_entries.create(worked_on=self.today, kind="weld", minutes=120, typed="2", by="W")
        shown = self.client.get(self.url("money"))
        self.assertContains(shown, "£\u00a0140.00")  # with two hours of one's own
        self.assertContains(shown, "£\u00a050.00")  # what an hour in the garage cost
        self.assertContains(self.client.get(self.url("money"), {"kind": "tool"}), "No line is like that")

    def test_a_bill_waits_until_what_is_above_the_estimate_is_agreed(self):
        self.assertContains(
            self.send("papers", paper="estimate", codes=["R-77"]), "valid choice", status_code=422
        )
        self.line(repair=self.repair, price="100", tax_rate=Decimal(0))
        code = self.repair.code
        self.assertContains(
            self.send("papers", paper="estimate", codes=[code]), "hour costs is not said", status_code=422
        )
        self.send("money", what="terms", hour="0", charge="48", mark_up="10", tax_rate="20")
        self.assertRedirects(self.send("papers", paper="estimate", codes=[code]), self.url("paper", 1))
        self.assertContains(self.send("paper", 1, what="agree", agreed_by=" ", agreed_on=self.today.isoformat(), version="1"), "required", status_code=422)  # fmt: skip
        self.send(
            "paper", 1, what="agree", agreed_by="Ida Marlow", agreed_on=self.today.isoformat(), version="1"
        )
        self.assertContains(
            self.send("paper", 1, what="drop", version="2"), "It was agreed to", status_code=422
        )
        self.vehicle.work_entries.create(
            repair=self.repair, worked_on=self.today, kind="weld", minutes=6000, typed="100", by="W"
        )
        self.send("papers", paper="bill", codes=[code])
        self.assertContains(self.client.get(self.url("paper", 2)), "may not be asked for")
        self.assertEqual(self.client.get(self.url("paper_pdf", 2)).status_code, 404)
        self.send("papers", paper="variation", codes=[code], note="The inner sill too")
        self.send(
            "paper", 3, what="agree", agreed_by="Ida Marlow", agreed_on=self.today.isoformat(), version="1"
        )
        self.send("papers", paper="bill", codes=[code])
        self.assertContains(self.client.get(self.url("paper", 4)), "Within what was agreed")
        self.assertTrue(self.client.get(self.url("paper_pdf", 4)).content.startswith(b"%PDF"))
        self.assertContains(self.client.get(self.url("paper", 4)), "not a tax document")

    def test_what_is_sold_enters_the_ledger(self):
        self.send("surplus", what="keep", name="Donor door", asking="85", photo=picture())
        self.assertEqual(self.client.get(self.url("surplus_photo", 1))["Content-Type"], "image/jpeg")
        page = f"{self.url('surplus')}?thing=1"
        self.client.post(
            page, {"what": "sell", "price": "70", "to": "a club member", "sold_on": self.today.isoformat()}
        )
        self.assertEqual((CostLine.objects.get().kind, CostLine.objects.get().gross_minor), ("sold", -7000))
        self.assertContains(
            self.client.post(page, {"what": "drop", "version": "2"}), "It is sold", status_code=422
        )
        self.client.post(page, {"what": "unsell"})
        self.assertFalse(CostLine.objects.exists())

    def test_all_of_it_is_in_the_bundle(self):
        self.receipt(file=SimpleUploadedFile("r.pdf", pdf()))
        self.send("receipt", 1, what="mirror")
        self.line(item="Gas", repair=self.repair)
        self.send("surplus", what="keep", name="Donor door", asking="85", photo=picture())
        self.client.post(
            f"{self.url('surplus')}?thing=1",
            {"what": "sell", "price": "70", "to": "a club", "sold_on": self.today.isoformat()},
        )
        self.send("money", what="budget", name="Parts", amount="80", kinds=["part"])
        self.send("money", what="terms", hour="20", charge="48", mark_up="10", tax_rate="20")
        self.send("papers", paper="estimate", codes=[self.repair.code])
        stored = keep_statement(
            self.vehicle,
            "bank.csv",
            [[self.today.isoformat(), "GAS", "-10"], [self.today.isoformat(), "BREAD", "-3"]],
            by="W",
        )
        take_lines(stored, {"day": 0, "text": 1, "amount": 2}, False, version=None, by="W")
        self.send(
            "bank",
            what="yes",
            line=BankLine.objects.get(text="GAS").pk,
            key=f"c{CostLine.objects.get(item='Gas').pk}",
        )
        again = import_vehicle(export_vehicle(self.vehicle), owner("Somebody else"))
        told = lambda each: sorted(
            each.cost_lines.values_list("item", "gross_minor", "kind", "repair__number"), key=str
        )
        self.assertEqual(told(again), told(self.vehicle))
        self.assertEqual(again.receipts.get(number=2).mirrors.number, 1)
        self.assertTrue(again.receipts.get(number=1).is_pdf)
        self.assertEqual(
            (again.statements.get().rows, again.bank_lines.get().line.item), ([], "Gas")
        )  # the bread stays private
        self.assertEqual(again.surplus.get().line.kind, "sold")
        self.assertEqual(
            (
                again.budgets.get().name,
                again.terms.charge,
                CustomerPaper.objects.filter(vehicle=again).count(),
            ),
            ("Parts", 48, 1),
        )
