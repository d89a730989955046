"""From no slot to a Saturday worked through, on a tablet: slots, a plan, a step dragged elsewhere, started, done, one that takes longer."""

from playwright.sync_api import expect

from tests.browser.base import BrowserCase
from tests.builders import finding, repair, vehicle
from yellow_sill.web.frame import days, jobs
from yellow_sill.web.order.models import TakenPlan


class Order(BrowserCase):
    viewport = {"width": 820, "height": 1180}
    touch = True

    def test_a_saturday(self):
        mine, page = vehicle(self.owner), self.page
        repair(mine, [finding(mine)], opened_on=days.today())
        self.open(f"/v/{mine.pk}/plan/")
        page.fill("details[open] #id_begins", "9:00")
        page.fill("details[open] #id_ends", "14:00")
        page.get_by_role("button", name="Add these slots").click()
        page.get_by_role("button", name="Make a plan").click()
        page.wait_for_url("**find=*")
        jobs.work_off()
        page.reload()
        page.get_by_role("button", name="Take this plan").click()
        expect(page.get_by_text("This is the plan now.")).to_be_visible()
        before = TakenPlan.objects.get().placed[0]["begins"]
        step, slot = page.locator("[data-step]").first, page.locator("[data-slot] .slot").nth(2)
        step.scroll_into_view_if_needed()
        one, other = step.locator(".pc").bounding_box(), slot.bounding_box()
        page.mouse.move(one["x"] + 8, one["y"] + 8)
        page.mouse.down()
        page.mouse.move(other["x"] + 30, other["y"] + 12, steps=6)
        page.mouse.up()
        page.wait_for_url("**into=*")
        self.assertEqual(TakenPlan.objects.get().placed[0]["begins"], before, "told, not stored")
        page.get_by_role("button", name="Put it there").click()
        expect(page.get_by_text("in another slot").first).to_be_visible()
        self.assertGreater(TakenPlan.objects.get().placed[0]["begins"], before)
        self.open(f"/v/{mine.pk}/plan/now/?minutes=60&hands=1&sparks=no&off_the_shell=no")
        page.get_by_role("button", name="Start it").first.click()
        page.get_by_role("button", name="Pause it").first.click()
        expect(page.get_by_text("is in the hours").first).to_be_visible()
        self.assertEqual(mine.work_entries.get().minutes, 1)
