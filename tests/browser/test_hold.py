"""The hold stage in a real browser: parts taken out and renewed by a tap, a brace between two dots, the order dragged and searched."""

from django.test import override_settings
from playwright.sync_api import expect

from tests.browser.base import BrowserCase
from tests.builders import DAY, vehicle
from yellow_sill.web.hold.models import HoldSetup, WorkOrder
from yellow_sill.web.survey.coverage_services import mark_looked

SIDE = ("Floor, left", "Inner sill, left", "Outer sill, left", "Sill diaphragm, left")
ORDER = "?" + "&".join(f"job={part}_L" for part in ("floor", "sill_inner", "sill_outer"))


class HoldBoard(BrowserCase):
    def setUp(self):
        super().setUp()
        self.mine = vehicle(self.owner)

    def test_a_side_is_taken_out_braced_and_kept(self):
        page = self.page
        self.open(f"/v/{self.mine.pk}/hold/")
        expect(page.locator(".hold-head")).to_contain_text("HELD")
        page.get_by_text("0 out of 54").click()
        for part in SIDE:
            page.locator("[name=out]").and_(page.get_by_label(part)).check()
        mark_looked(
            self.mine.views.get(name="left"),
            1,
            [(-650, 200), (1250, 900)],
            method="seen",
            made_on=DAY,
            by="Wren",
        )
        page.get_by_role("button", name="Try it").click()
        expect(page.locator(".hold-head")).to_contain_text("LOOSE")
        expect(page.locator(".hm-lab")).to_have_text("left B-post foot")
        expect(page.locator(".hm-gone").nth(2)).to_be_attached()
        expect(page.locator(".hm .hm-core").nth(20)).to_be_attached()
        expect(page.locator(".hm title").filter(has_text="of all metal's work").first).to_have_count(1)
        bars = "[...document.querySelectorAll('.hm-edge')].map((bar) => bar.getAttribute('d')).join()"
        still = page.evaluate(bars)
        page.get_by_role("button", name="Show how it gives").click()
        page.wait_for_function(f"(still) => {bars} !== still", arg=still)  # it swings
        page.wait_for_function(f"(still) => {bars} === still", arg=still)  # and comes to rest as it was
        page.get_by_role("button", name="Where does a brace help most?").click()
        page.locator(".hold-offers").get_by_role("button", name="Try it").first.click()
        expect(page.locator(".hold-head")).to_contain_text("HELD")
        # the board's and the key's
        expect(page.locator("path.hm-brace:not(.is-kept)[d^=M]")).to_have_count(2)
        page.go_back()
        page.go_back()
        expect(page.locator(".hold-head")).to_contain_text("LOOSE")
        page.go_forward()
        page.go_forward()
        page.get_by_role("button", name="Keep this").click()
        expect(page.locator(".ys-hold .on")).to_have_text("HELD")
        self.assertEqual(len(HoldSetup.objects.get(vehicle=self.mine).braces), 1)

    def test_a_tap_on_a_panel_and_two_dots_try_it_at_once(self):
        page = self.page
        self.open(f"/v/{self.mine.pk}/hold/?view=left")
        panel = page.locator("[data-panel=L-QTR]").bounding_box()
        middle = panel["x"] + panel["width"] * 0.7, panel["y"] + panel["height"] * 0.5
        page.mouse.click(*middle)
        expect(page.locator(".hold-pop b")).to_have_text("Rear quarter, left")
        page.locator(".hold-pop").get_by_role("button", name="Cut to here").click()
        expect(page.locator("#try-form [name=cut]")).to_have_count(1)
        page.wait_for_load_state("networkidle")
        page.mouse.click(*middle)
        page.locator(".hold-pop").get_by_role("button", name="Out now").click()
        expect(page.locator("[data-panel=L-QTR].hp-out")).to_be_visible()
        expect(page.locator("#try-form [name=cut]")).to_have_count(0)
        page.locator("[data-node=ATL] .hm-dot-hit").click()
        expect(page.locator(".hold-pop")).to_contain_text("Brace from the left A-post top")
        page.locator("[data-node=BBL] .hm-dot-hit").click()
        expect(page.locator(".turn-key")).to_contain_text("Tried, not kept")
        expect(page.get_by_label("Left A-post top to left B-post foot")).to_be_checked()
        expect(page.locator("[data-panel=L-QTR].hp-out")).to_be_visible()
        wing = page.locator("[data-panel=L-WING]").bounding_box()
        page.mouse.click(wing["x"] + wing["width"] * 0.85, wing["y"] + wing["height"] * 0.55)
        expect(page.locator(".hold-pop")).to_contain_text("counts for nothing")
        page.get_by_role("link", name="Turn").click()
        page.locator(".hm-gone + .hm-hit, .hm .hm-hit").last.dispatch_event("click")
        expect(page.locator(".hold-pop").get_by_role("button", name="New in").first).to_be_visible()
        page.keyboard.press("Escape")
        expect(page.locator(".hold-pop")).to_be_hidden()

    @override_settings(JOBS_BESIDE=True)
    def test_an_order_is_dragged_searched_and_accepted(self):
        page = self.page
        self.open(f"/v/{self.mine.pk}/hold/order/{ORDER}")
        expect(page.locator(".hold-head")).to_contain_text("LOOSE")
        first = page.locator(".order-steps li").first
        page.locator(".order-steps li").nth(1).drag_to(first, target_position={"x": 40, "y": 4})
        expect(page.locator(".order-steps li").first).to_contain_text("Outer sill")
        page.get_by_role("link", name="Take out: Outer sill, left: one step later").click()
        expect(page.locator(".order-steps li").first).to_contain_text("Floor")
        page.get_by_role("button", name="Find a better one").click()
        page.get_by_role("link", name="Take the one found").click(timeout=30000)
        expect(page.locator(".hold-head")).to_contain_text("HELD")
        page.get_by_role("button", name="Accept as the order of work").click()
        page.get_by_role("button", name="Done").click()
        expect(page.locator(".order-done .is-done")).to_have_count(1)
        page.reload()
        self.assertTrue(WorkOrder.objects.get(vehicle=self.mine).steps[0]["done_on"])
