"""Handing over: chosen, made beside the pages, verified, opened under an address that ends, and nothing in it that was left out."""

import io
import shutil
import zipfile
from datetime import timedelta
from decimal import Decimal
from unittest.mock import patch

from django.test import Client, override_settings
from django.urls import reverse
from django.utils import timezone
from pypdf import PdfReader

from tests.builders import DAY, owner, picture
from tests.web.record.test_record import RecordCase
from yellow_sill.core.formats.dossier import verify
from yellow_sill.web.frame import days, jobs
from yellow_sill.web.logbook.services import add_note, add_photo, add_work
from yellow_sill.web.parts.services import add_cost
from yellow_sill.web.record import dossier_sections, dossier_services
from yellow_sill.web.record.dossier_services import file_of, folder
from yellow_sill.web.record.models import Dossier

COST = {
    "bought_on": DAY, "supplier": "Fallow", "item": "Discs", "kind": "tool", "quantity": Decimal(2), "unit_price": Decimal("20.60"), "tax_rate": Decimal(0),
}  # fmt: skip
ALL = {"what": "make", "repairs": ["1"], "money": "in", "names": "in", "photos": "small", "form": "pdf"}


class Handing(RecordCase):
    def setUp(self):
        super().setUp()
        self.there = reverse("record:dossiers", args=[self.vehicle.pk])
        self.addCleanup(shutil.rmtree, folder(), ignore_errors=True)
        add_note(
            self.repair,
            written_on=DAY,
            text="Drilled through by Robin Ashdown, 鑰匙",
            about="mistake",
            by="Robin Ashdown",
        )
        add_work(
            self.vehicle, self.repair, worked_on=DAY, kind="weld", typed="1:30", note="", by="Robin Ashdown"
        )
        add_cost(self.vehicle, self.repair, COST, by="Robin Ashdown")

    def made(self, **other):
        answer = self.client.post(self.there, ALL | other)
        self.assertEqual(answer.status_code, 302, answer.content[-3000:])
        jobs.work_off()
        self.assertContains(self.client.get(answer.url), "The dossier is made.")
        return Dossier.objects.first()

    def text_of(self, dossier):
        return "\n".join(page.extract_text() for page in PdfReader(file_of(dossier)).pages)

    def test_a_dossier_says_what_was_done_and_what_is_not_known(self):
        add_photo(self.repair, picture(), caption="The hole", taken_on=DAY, by="Wren")
        dossier = self.made()
        text = self.text_of(dossier)
        for words in (
            "Mistakes, and how they were put right",
            "鑰匙",
            "What is not known",
            "Robin Ashdown",
            "Not looked at",
            "41.20",
            "The hole",
        ):
            self.assertIn(words, text)
        self.assertEqual(verify(file_of(dossier).read_bytes()).code, dossier.code)
        given = self.client.get(reverse("record:dossier", args=[self.vehicle.pk, dossier.pk]))
        self.assertEqual(b"".join(given.streaming_content), file_of(dossier).read_bytes())
        self.assertContains(self.client.get(self.there), dossier.code)

    def test_what_is_left_out_is_nowhere_in_it(self):
        text = self.text_of(self.made(money="out", names="out", photos="none"))
        for words in ("Robin", "Ashdown", "41.20", "Wren Askew"):
            self.assertNotIn(words, text)
        self.assertIn("Drilled through by –", text)
        folded = zipfile.ZipFile(file_of(self.made(form="folder", names="out")))
        self.assertNotIn("Robin", folded.read("dossier/index.html").decode())
        refused = self.client.post(self.there, ALL | {"names": "out", "bundle": "on"})
        self.assertContains(refused, "holds all money and all names", status_code=422)
        self.assertContains(
            self.client.post(self.there, ALL | {"repairs": []}), "at least one repair", status_code=422
        )
        inside = self.made(form="folder", bundle="on")
        self.assertIn("dossier/bundle.zip", zipfile.ZipFile(file_of(inside)).namelist())

    def test_photos_of_no_repair_are_in_it_where_somebody_says_so_and_told_of_where_not(self):
        with patch.object(dossier_sections, "A_SECTION", 2):
            for n in range(3):
                add_photo(self.vehicle, picture(), caption=f"Delivered {n}", taken_on=DAY, by="Wren")
            self.assertContains(self.client.get(self.there), "Photos of no repair too: 3")
            without, text = self.text_of(self.made()), self.text_of(self.made(others="on"))
        self.assertIn("3 photos of no repair are not in this dossier", without)
        self.assertNotIn("Delivered", without)
        for words in ("Photos of no repair, 1 to 2", "Photos of no repair, 3 to 3", "Delivered 2"):
            self.assertIn(words, text)
        self.assertNotIn("not in this dossier", text)

    def test_what_belongs_to_no_dossier_is_swept_away_after_a_month(self):
        dossier, left = self.made(), dossier_services.folder() / "broken-off"
        left.mkdir()
        self.assertEqual(dossier_services.sweep_dossiers(timezone.now()), 1)
        self.assertFalse(left.exists(), "what work that broke off put aside")
        path = file_of(dossier)
        Dossier.objects.all().delete()
        self.assertEqual(dossier_services.sweep_dossiers(timezone.now()), 0)
        self.assertEqual(dossier_services.sweep_dossiers(timezone.now() + timedelta(days=31)), 1)
        self.assertFalse(path.exists())

    def test_an_address_opens_one_dossier_until_its_day_and_can_be_taken_back(self):
        dossier = self.made()
        until = days.today() + timedelta(days=3)
        self.client.post(self.there, {"what": "open", "dossier": dossier.pk, "until": until.isoformat()})
        dossier.refresh_from_db()
        there, stranger = reverse("record:given", args=[dossier.token]), Client()
        self.assertEqual(stranger.get(there).status_code, 200)
        self.assertContains(self.client.get(self.there), "answers on this machine")
        with override_settings(SHARED="https"):
            self.assertNotContains(self.client.get(self.there), "answers on this machine")
            beside = self.client.get(self.there, headers={"host": "localhost:8000"})
        self.assertContains(beside, "You opened Yellow Sill as localhost:8000")
        self.assertEqual(stranger.get(there)["Cache-Control"], "private, no-store")
        for page in (
            self.there,
            reverse("record:dossier", args=[self.vehicle.pk, dossier.pk]),
            reverse("record:line", args=[self.vehicle.pk]),
        ):
            self.assertEqual(stranger.get(page).status_code, 302, "only to sign in")
        with patch.object(days, "today", lambda: until + timedelta(days=1)):
            self.assertEqual(stranger.get(there).status_code, 404)
        self.client.post(self.there, {"what": "close", "dossier": dossier.pk})
        self.assertEqual(stranger.get(there).status_code, 404)
        for day in ("2020-01-01", "2099-01-01", "soon", ""):
            self.assertEqual(
                self.client.post(
                    self.there, {"what": "open", "dossier": dossier.pk, "until": day}
                ).status_code,
                422,
            )
        self.assertEqual(stranger.get(reverse("record:given", args=["x" * 32])).status_code, 404)
        other = owner("Sorrel")
        self.client.force_login(other)
        self.assertEqual(
            self.client.post(self.there, {"what": "forget", "dossier": dossier.pk}).status_code, 404
        )

    def test_one_that_is_stopped_or_whose_file_is_gone_is_told(self):
        answer = self.client.post(self.there, ALL)
        find = answer.url.partition("find=")[2]
        self.assertContains(self.client.get(answer.url), "is being made")
        self.client.post(answer.url, {"what": "stop"})
        jobs.work_off()
        self.assertContains(self.client.get(answer.url), "Stopped.")
        self.assertEqual(
            self.client.get(reverse("record:dossier_progress", args=[self.vehicle.pk, find])).json()["fault"],
            "Stopped.",
        )
        dossier = self.made()
        file_of(dossier).unlink()
        self.assertContains(self.client.get(self.there), "missing on this machine")
        self.assertEqual(
            self.client.get(reverse("record:dossier", args=[self.vehicle.pk, dossier.pk])).status_code, 404
        )
        self.client.post(self.there, {"what": "forget", "dossier": dossier.pk})
        self.assertFalse(Dossier.objects.exists())
        with patch.object(dossier_services, "MOST_KEPT", 1):
            first, second = self.made(), self.made()
        self.assertEqual((file_of(first).is_file(), file_of(second).is_file()), (False, True))
        self.assertEqual(io.BytesIO(file_of(second).read_bytes()).read(5), b"%PDF-")
