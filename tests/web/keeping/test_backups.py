"""The page of the backups: for whoever made the house, and nobody else."""

import shutil
import tempfile
from pathlib import Path
from unittest import mock

from django.test import TestCase, override_settings
from django.urls import reverse

from tests.builders import owner, vehicle
from tests.home.builders import database, picture
from yellow_sill.home import keeper
from yellow_sill.home.places import Home
from yellow_sill.web.keeping.services import known


class Backups(TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.home = Home.at(self.folder / "house")
        self.enterContext(override_settings(HOME=self.home))
        self.owner = owner()
        self.client.force_login(self.owner)
        self.url = reverse("keeping:backups")

    def post(self, **values):
        return self.client.post(self.url, values, follow=True)

    def test_made_rehearsed_and_copied_from_the_page(self):
        self.assertContains(self.post(what="make"), "nothing to back up yet", status_code=422)
        self.assertContains(self.post(what="check"), "no whole backup yet", status_code=422)
        database(self.home.database, migrations=known())
        self.home.photos.mkdir()
        (self.home.photos / "a.jpg").write_bytes(picture())
        self.assertContains(self.post(what="make"), "Backed up: yellow-sill-")
        self.assertContains(self.post(what="check"), "is whole: 1 vehicle, 1 photo")
        refused = self.post(what="copies", folder="stick")
        self.assertContains(refused, "no whole path", status_code=422)
        self.assertContains(refused, 'value="stick"', status_code=422)
        stick = self.folder / "stick"
        stick.mkdir()
        self.assertContains(self.post(what="copies", folder=str(stick)), "The last copy arrived on")
        self.assertEqual(len(list(stick.glob("*.zip"))), 1)
        self.assertContains(self.post(what="copies"), "No copies are made any more")
        self.assertEqual(self.post(what="burn").status_code, 422)

    def test_what_went_wrong_by_itself_is_told_today(self):
        mine = vehicle(self.owner)
        today = reverse("today:today", args=[mine.pk])
        self.assertNotContains(self.client.get(today), "Backups.")
        stick = self.folder / "stick"
        stick.mkdir()
        database(self.home.database, migrations=known(), photos=())
        self.post(what="copies", folder=str(stick))
        shutil.rmtree(stick)
        self.post(what="make")
        self.assertContains(self.client.get(self.url), "cannot be reached since")
        self.assertContains(self.client.get(today), "No copy of your backups has reached")
        with mock.patch.object(keeper, "at_work", mock.Mock(fault="The disk is gone.")):
            self.assertContains(self.client.get(today), "The disk is gone.")
            self.assertContains(self.client.get(self.url), "The disk is gone.")

    def test_another_account_sees_nothing_and_the_demo_keeps_none(self):
        with override_settings(HOME=None):
            self.assertContains(self.client.get(self.url), "The demo keeps none")
            self.assertContains(self.post(what="make"), "The demo keeps none")
        self.client.force_login(owner("Other"))
        self.assertEqual(self.client.get(self.url).status_code, 404)
        self.assertEqual(self.post(what="make").status_code, 404)
