"""The hold board in a real browser: parts taken out, a brace tried, kept, shown giving; the order of removal."""

from playwright.sync_api import expect

from tests.browser.base import BrowserCase
from tests.builders import vehicle
from yellow_sill.web.hold.models import HoldSetup


class HoldBoard(BrowserCase):
    def setUp(self):
        super().setUp()
        self.mine = vehicle(self.owner)

    def test_a_side_is_taken_out_braced_and_kept(self):
        page = self.page
        self.open(f"/v/{self.mine.pk}/hold/")
        expect(page.locator(".hold-head")).to_contain_text("HELD")
        page.get_by_text("0 out of 54").click()
        for part in ("Floor, left", "Inner sill, left", "Outer sill, left", "Sill diaphragm, left"):
            page.get_by_label(part).check()
        page.get_by_role("button", name="Try it").click()
        expect(page.locator(".hold-head")).to_contain_text("LOOSE")
        expect(page.locator(".hm-lab")).to_have_text("left B-post foot")
        self.assertGreater(page.locator(".hm-gone").count(), 2)
        bar = page.locator(".hm-edge").first
        page.get_by_role("button", name="Show how it gives").click()
        shown = {bar.get_attribute("d")}
        page.wait_for_timeout(400)
        self.assertNotIn(bar.get_attribute("d"), shown)
        page.get_by_role("button", name="Where does a brace help most?").click()
        page.locator(".hold-offers").get_by_role("button", name="Try it").first.click()
        expect(page.locator(".hold-head")).to_contain_text("HELD")
        self.assertEqual(page.locator("path.hm-brace:not(.is-kept)[d^=M]").count(), 2)  # the board's and the key's
        page.go_back()
        page.go_back()
        expect(page.locator(".hold-head")).to_contain_text("LOOSE")
        page.go_forward()
        page.go_forward()
        page.get_by_role("button", name="Keep this").click()
        expect(page.locator(".ys-hold .on")).to_have_text("HELD")
        self.assertEqual(len(HoldSetup.objects.get(vehicle=self.mine).braces), 1)

    def test_the_order_of_removal_is_found_for_what_is_ticked(self):
        page = self.page
        self.open(f"/v/{self.mine.pk}/hold/order/")
        for part in ("Floor, left", "Inner sill, left", "Outer sill, left"):
            page.get_by_label(part).check()
        page.get_by_role("button", name="Find the order").click()
        expect(page.locator(".order-steps li")).to_have_count(6)
        expect(page.locator(".oc-dot")).to_have_count(7)
