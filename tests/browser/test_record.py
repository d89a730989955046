"""A heap of photos sent one by one, begun again, asked about; before and after laid over one another by taps, on a tablet."""

from datetime import timedelta

from playwright.sync_api import expect

from tests.browser.base import BrowserCase
from tests.builders import DAY, finding, repair, vehicle
from tests.web.record.test_photos import evening, shot
from yellow_sill.web.logbook.models import Photo
from yellow_sill.web.logbook.services import add_work
from yellow_sill.web.record.models import PhotoPair


class Photos(BrowserCase):
    viewport = {"width": 820, "height": 1180}
    touch = True

    def files(self, count):
        made = [
            shot(f"{n}.jpg", evening(2, n), size=(400, 300), colour=(40 * n, 90, 90)) for n in range(count)
        ]
        return [{"name": each.name, "mimeType": "image/jpeg", "buffer": each.read()} for each in made]

    def test_a_heap_is_sent_sorted_asked_about_and_two_of_it_are_laid_over_one_another(self):
        mine, page = vehicle(self.owner), self.page
        made = repair(mine, [finding(mine)])
        add_work(mine, made, worked_on=DAY + timedelta(2), kind="cut", typed="90 min", note="", by="Wren")
        self.open(f"/v/{mine.pk}/photos/")
        page.set_input_files(
            "#id_photos",
            [*self.files(2), {"name": "bad.jpg", "mimeType": "image/jpeg", "buffer": b"no photo"}],
        )
        page.get_by_role("button", name="Take them in").click()
        expect(page.locator("[data-said]")).to_contain_text("3 of 3: 2 new, 1 refused")
        expect(page.locator("[data-refused]")).to_contain_text("bad.jpg: This file is not a photo.")
        undated = shot("c.jpg", size=(400, 300), colour="red").read()
        page.set_input_files(
            "#id_photos", [*self.files(3), {"name": "c.jpg", "mimeType": "image/jpeg", "buffer": undated}]
        )
        page.get_by_role("button", name="Take them in").click()
        expect(page.get_by_text("The camera wrote no day into it.")).to_be_visible()
        self.assertEqual(
            (Photo.objects.count(), Photo.objects.filter(sorted_by="day").count()),
            (4, 3),
            "what was here already is not taken twice",
        )
        page.get_by_role("link", name="Another").click()
        page.locator("[data-place-board]").tap()
        expect(page.locator("[data-where]")).to_have_text("Marked on the drawing.")
        page.select_option("#id_repair", "1")
        page.get_by_role("button", name="Keep it so").click()
        page.wait_for_load_state()
        photo = Photo.objects.get(sorted_by="hand")
        self.assertEqual((photo.repair, bool(photo.at), photo.taken_on), (made, True, None))
        self.laid_over(mine, page)

    def laid_over(self, mine, page):
        self.open(f"/v/{mine.pk}/before-and-after/?repair=1")
        for x, y in ((60, 50), (300, 200)):
            for side in ("before", "after"):
                page.locator(f"svg[data-side={side}]").tap(position={"x": x, "y": y})
        expect(page.locator("[data-words]")).to_contain_text("Laid over by 2 points.")
        page.get_by_role("button", name="Lay them over").click()
        expect(page.locator("[data-laid]")).to_be_visible()
        page.get_by_role("button", name="Keep them so").click()
        page.wait_for_load_state()
        expect(page.locator("[data-laid]")).to_be_visible()
        self.assertEqual(len(PhotoPair.objects.get().points), 2)
