"""A vehicle made before views were added gets them, and the row of views stays short."""

from django.test import TestCase
from django.urls import reverse

from tests.builders import finding, owner, vehicle
from yellow_sill.web.frame.changes import building
from yellow_sill.web.shells.change_services import take_back
from yellow_sill.web.shells.view_bar import view_bar


class AddedViews(TestCase):
    def setUp(self):
        self.owner = owner()
        self.vehicle = vehicle(self.owner)
        self.client.force_login(self.owner)
        with building():
            self.vehicle.views.filter(name__in=["top", "door-left", "door-right"]).delete()
        self.page = reverse("shells:correct", args=[self.vehicle.pk, "left"])

    def names(self):
        return list(self.vehicle.views.values_list("name", flat=True))

    def test_what_is_not_drawn_yet_is_drawn_when_asked_and_taken_back_again(self):
        there = self.names()
        found = finding(self.vehicle)
        self.assertContains(
            self.client.get(reverse("survey:board", args=[self.vehicle.pk, "left"])),
            "Not drawn yet: From above",
        )
        answer = self.client.post(self.page, {"what": "views"}, follow=True)
        self.assertContains(answer, "Drawn: From above, Door, left, Door, right.")
        self.assertEqual(self.names(), [*there, "top", "door-left", "door-right"])
        self.assertNotContains(self.client.get(self.page), "not drawn yet")
        panels = self.vehicle.views.get(name="top").panels.select_related("cover")
        self.assertTrue(all(panel.cover.looked_mm2 == 0 for panel in panels), "nobody has looked at them")
        self.assertContains(self.client.post(self.page, {"what": "views"}, follow=True), "drawn already")
        self.vehicle.refresh_from_db()
        take_back(self.vehicle, self.vehicle.revision, by="Wren")
        self.assertEqual(self.names(), there)
        self.assertTrue(self.vehicle.findings.filter(pk=found.pk).exists())

    def test_a_body_that_nobody_draws_any_more_is_left_as_it_is(self):
        self.vehicle.body_type = "coracle"
        self.vehicle.save()
        self.assertNotContains(self.client.get(self.page), "not drawn yet")
        self.assertContains(
            self.client.post(self.page, {"what": "views"}), "no such body type", status_code=422
        )

    def test_the_row_shows_the_open_group_and_a_button_for_each_other(self):
        self.client.post(self.page, {"what": "views"})
        views = list(self.vehicle.views.all())
        shown = lambda current: [button.short for button, _, _ in view_bar(views, current)]
        self.assertEqual(
            shown(views[0]), ["Left", "Right", "Front", "Rear", "Above", "Inside", "Rooms", "Doors", "Under"]
        )
        door = self.vehicle.views.get(name="door-left")
        self.assertEqual(shown(door), ["Outside", "Inside", "Rooms", "Lids", "Door L", "Door R", "Under"])
        keys = [key for _, _, keys in view_bar(views, door) for key in keys]
        self.assertEqual(sorted(keys), sorted(view.pk for view in views), "every view once")
