import io
import re
import tempfile
from datetime import date
from decimal import ROUND_HALF_UP, Decimal

from django.apps import apps
from django.db import connection
from django.test import TestCase, override_settings
from django.test.utils import CaptureQueriesContext
from django.urls import reverse
from PIL import Image

from yellow_sill.core.repairs.ribbon import STATES
from yellow_sill.demo.build import build
from yellow_sill.demo.made_up import FINDINGS
from yellow_sill.demo.pictures import drawn_picture
from yellow_sill.demo.shots import VIEWS
from yellow_sill.web.cut.gate_services import repair_work
from yellow_sill.web.cut.hours import planned_hours
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.datums.board_services import body_lines
from yellow_sill.web.datums.round_services import _fit_of
from yellow_sill.web.hold.services import _spots
from yellow_sill.web.logbook.bundle import export_vehicle, import_vehicle
from yellow_sill.web.order.plan_services import finish_of
from yellow_sill.web.order.step_services import steps_of
from yellow_sill.web.patch.services import _as_stored
from yellow_sill.web.survey.coverage_services import cover_of

TODAY = date(2026, 11, 24)


class Demo(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.photos = tempfile.TemporaryDirectory()
        cls.addClassCleanup(cls.photos.cleanup)
        with override_settings(MEDIA_ROOT=cls.photos.name):
            cls.vehicle = build(TODAY)

    def setUp(self):
        self.client.force_login(self.vehicle.owner)

    def test_what_is_remembered_by_rooms_reads_no_other_room(self):
        app_of = {
            model._meta.db_table: model._meta.app_label
            for model in apps.get_models(include_auto_created=True)
        }
        one_round = self.vehicle.rounds.first()
        for read, more in (
            (_spots, ()),
            (repair_work, (TODAY,)),
            (body_lines, ()),
            (_fit_of, (one_round.pk,)),
            (steps_of, (TODAY,)),
            (finish_of, (TODAY,)),
            (cover_of, ()),
            (planned_hours, ()),
            (_as_stored, (Cut.objects.get(repair__number=2, number=1).pk,)),
        ):
            with self.subTest(read.__name__), CaptureQueriesContext(connection) as asked:
                read.__wrapped__(self.vehicle, *more)
            tables = {name for query in asked for name in re.findall(r'(?:FROM|JOIN) "(\w+)"', query["sql"])}
            self.assertTrue(tables)
            self.assertLessEqual(
                {app_of[name] for name in tables} - {"frame"}, set(read.rooms)
            )  # frame: what is remembered inside

    def test_it_is_the_made_up_saloon_with_work_at_every_stage(self):
        self.assertEqual((str(self.vehicle), self.vehicle.body_no), ("Marrick Dunlin", "D2-04417"))
        self.assertEqual(self.vehicle.findings.count(), len(FINDINGS))
        self.assertEqual(
            {finding.grade for finding in self.vehicle.findings.all()}, {"", "S", "P", "T", "H", "F"}
        )
        self.assertEqual(
            [repair.state for repair in self.vehicle.repairs.all()],
            ["signed off", "cut", "opened", "opened", "opened"],
        )
        self.assertEqual([step.state for step in self.vehicle.repairs.first().steps.all()], list(STATES))
        days = [step.made_on for step in self.vehicle.repairs.first().steps.all()]
        self.assertEqual(days, sorted(days))

    def test_no_cut_leaves_rust_and_every_seam_keeps_to_its_limit(self):
        for cut in Cut.objects.all():
            with self.subTest(str(cut)):
                self.assertNotIn("CUT-10", [remark["code"] for remark in cut.remarks])
                for plan in cut.weld.tack_plans if hasattr(cut, "weld") else ():
                    self.assertLessEqual(plan["hottest_before_tack_C"], cut.weld.limit_c)
                    self.assertGreater(plan["straight_run"]["hottest_before_tack_C"], cut.weld.limit_c)

    def test_the_whole_demo_goes_out_and_into_an_empty_installation_unchanged(self):
        with override_settings(MEDIA_ROOT=self.photos.name):
            data = export_vehicle(self.vehicle)
        self.vehicle.repairs.all().delete()
        self.vehicle.findings.all().delete()
        self.vehicle.delete()
        with tempfile.TemporaryDirectory() as fresh, override_settings(MEDIA_ROOT=fresh):
            again = import_vehicle(data, self.vehicle.owner)
            self.assertEqual(export_vehicle(again), data)
            self.assertGreater(again.findings.get(number=4).readings.count(), 10)
            self.assertTrue(again.survey_photos.get().trace)

    def test_every_pictured_page_opens(self):
        with override_settings(MEDIA_ROOT=self.photos.name):
            for name, path, *_ in VIEWS:
                with self.subTest(name):
                    self.assertEqual(
                        self.client.get(path.replace("/v/1/", f"/v/{self.vehicle.pk}/")).status_code, 200
                    )

    def test_money_is_the_sum_of_its_lines(self):
        """140 lines, added up here once more as one does on paper: a line at a time, each receipt in pounds at its rate."""
        penny, total = Decimal("0.01"), Decimal(0)
        to_penny = lambda amount: amount.quantize(penny, ROUND_HALF_UP)

        def worth(line, tax_in, off):
            share = Decimal(1) if tax_in else 1 + line.tax_rate / 100
            return line.quantity * line.unit_price * (1 - line.discount / 100) * (1 - off / 100), share

        for line in self.vehicle.cost_lines.filter(receipt=None):
            net, share = worth(line, line.tax_included, Decimal(0))
            total += to_penny(net * share) * (-1 if line.back else 1)
        for receipt in self.vehicle.receipts.all():
            lines = [worth(line, receipt.tax_in, receipt.discount) for line in receipt.lines.all()]
            carried = receipt.carriage * (
                lines[0][1] if lines else 1
            )  # in the demo one rate stands on a receipt with carriage
            whole = sum(to_penny(net * share) for net, share in lines) + carried
            total += to_penny(whole * receipt.rate) * (-1 if receipt.credit else 1)
        self.assertEqual(self.vehicle.cost_lines.count(), 140)
        stored = sum(self.vehicle.cost_lines.values_list("gross_minor", flat=True))
        self.assertLess(
            abs(total - Decimal(stored) / 100), Decimal("0.05")
        )  # carriage shared before tax is rounded
        page = self.client.get(reverse("logbook:logbook", args=[self.vehicle.pk]))
        self.assertContains(page, f"£\u00a0{stored / 100:,.2f}".replace(",", "\u202f"))

    def test_pictures_are_drawn_and_the_same_each_time(self):
        self.assertEqual(drawn_picture(3), drawn_picture(3))
        self.assertEqual(Image.open(io.BytesIO(drawn_picture(3))).size, (900, 640))
