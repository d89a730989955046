"""Cut planning in a real browser: corners undone and redone, set out, a way chosen, nuggets ticked off."""

import re

from playwright.sync_api import expect

from tests.browser.base import BrowserCase
from tests.builders import finding, repair, vehicle
from yellow_sill.web.repairs.models import NuggetTick, PanelChoice


class CutPlanning(BrowserCase):
    def setUp(self):
        super().setUp()
        self.mine = vehicle(self.owner)
        self.repair = repair(self.mine, [finding(self.mine)])
        self.base = f"/v/{self.mine.pk}/repairs/{self.repair.number}"

    def test_a_corner_is_moved_undone_redone_and_set_out(self):
        page = self.page
        self.open(f"{self.base}/cut/")
        page.wait_for_selector("[data-cut-board][data-ready]")
        size, text = page.locator("[data-size]"), page.locator("#corners")
        before, corners = size.inner_text(), text.input_value()
        page.locator('[data-handle="corner-0"]').focus()
        page.keyboard.press("Shift+ArrowLeft")
        expect(size).not_to_have_text(before)
        page.get_by_role("button", name="Undo").click()
        expect(text).to_have_value(corners)
        expect(size).to_have_text(before)
        page.keyboard.press("Control+y")
        expect(text).not_to_have_value(corners)
        page.keyboard.press("Control+z")
        expect(text).to_have_value(corners)
        page.get_by_label("Set out each corner from").select_option(label="rear end, upper edge")
        expect(page.locator("text.ord")).to_have_count(3 * 4)
        expect(page.locator("[data-set-table] thead")).to_contain_text("from rear end")

    def test_a_keep_out_is_tapped_on_the_board_and_the_line_minds_it(self):
        page = self.page
        self.open(f"{self.base}/around/")
        page.get_by_label("What it is").select_option(label="Metal that must stay")
        page.get_by_label("Its name").fill("Jacking point")
        for place in ((800, 250), (860, 250), (860, 290), (800, 290)):
            page.mouse.click(*self.at(*place))
        page.get_by_role("button", name="Keep it").click()
        expect(page.locator(".th-keep")).to_have_count(1)
        page.get_by_role("link", name="Cut", exact=True).click()
        page.wait_for_selector("[data-cut-board][data-ready]")
        page.locator('[data-handle="corner-0"]').focus()
        page.keyboard.press("ArrowLeft")
        expect(page.locator("[data-remarks]")).to_contain_text("takes metal of Jacking point")

    def test_a_way_is_priced_chosen_and_its_spot_welds_ticked_off(self):
        page = self.page
        self.open(f"{self.base}/options/")
        page.get_by_label("Whole panel, price").fill("95")
        page.get_by_role("button", name="Compare again").click()
        expect(page.locator(".way-card.is-off")).to_have_count(0)
        page.get_by_label("Why this way").fill("Rust at both ends")
        page.get_by_role("button", name="Whole panel").click()
        expect(page.locator(".remarks")).to_contain_text("All rust lies inside")
        self.assertEqual(PanelChoice.objects.get().chosen, "whole")
        page.locator(".nugget").first.focus()
        page.keyboard.press("Space")
        expect(page.locator(".nugget").first).to_have_attribute("aria-checked", "true")
        self.assertEqual(NuggetTick.objects.get().number, 1)
        page.get_by_role("link", name="Release").click()
        page.get_by_role("button", name="7", exact=True).click()
        expect(page.get_by_role("button", name="7", exact=True)).to_have_attribute("aria-pressed", "true")
        expect(page.locator("h2")).to_contain_text([re.compile("2 of")])
        self.assertEqual([tick.number for tick in NuggetTick.objects.all()], [1, 7])
