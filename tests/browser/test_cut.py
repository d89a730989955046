"""Cut planning in a real browser: corners undone and redone, set out, a way chosen, nuggets ticked off."""

import re

from playwright.sync_api import expect

from tests.browser.base import BrowserCase
from tests.builders import finding, repair, vehicle
from yellow_sill.web.cut.models import NuggetTick, PanelChoice


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
        expect(page.locator(".remarks")).to_contain_text("7 openings go with the piece")
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


class CutByFinger(BrowserCase):
    viewport = {"width": 820, "height": 1180}
    touch = True

    def setUp(self):
        super().setUp()
        self.mine = vehicle(self.owner)
        self.repair = repair(self.mine, [finding(self.mine)])
        self.base = f"/v/{self.mine.pk}/repairs/{self.repair.number}"

    def slide(self, start, way):
        """One finger put down, moved in steps, lifted."""
        finger = self.context.new_cdp_session(self.page)
        send = lambda kind, *points: finger.send(
            "Input.dispatchTouchEvent", {"type": kind, "touchPoints": [{"x": x, "y": y} for x, y in points]}
        )
        send("touchStart", start)
        for step in range(1, 7):
            send("touchMove", (start[0] + way[0] * step / 6, start[1] + way[1] * step / 6))
            self.page.wait_for_timeout(40)
        send("touchEnd")

    def test_a_corner_is_moved_by_finger_checked_as_it_goes_and_kept(self):
        page = self.page
        self.open(f"{self.base}/cut/")
        page.wait_for_selector("[data-cut-board][data-ready]")
        page.evaluate("document.querySelector('[data-cut-board]').scrollIntoView({block: 'center'})")
        corner, remarks = page.locator('[data-handle="corner-0"]'), page.locator("[data-remarks]")
        expect(remarks).to_contain_text("All rust lies inside")
        box, before = corner.bounding_box(), page.locator("#corners").input_value()
        at = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        middle = page.locator(".board-svg").bounding_box()
        self.slide(
            at,
            (
                (middle["x"] + middle["width"] / 2 - at[0]) * 0.7,
                (middle["y"] + middle["height"] / 2 - at[1]) * 0.7,
            ),
        )
        expect(remarks).to_contain_text("stays outside")
        page.get_by_role("button", name="Undo").tap()
        expect(page.locator("#corners")).to_have_value(before)
        expect(remarks).to_contain_text("All rust lies inside")
        self.slide(at, (-14, 14))
        expect(page.locator("#corners")).not_to_have_value(before)
        page.get_by_role("button", name="Keep this line").tap()
        expect(page.get_by_role("status")).to_contain_text("stored")

    def test_two_devices_choose_a_way_and_the_second_is_told_and_keeps_its_words(self):
        first, second = self.page, self.context.new_page()
        for page in (first, second):
            page.goto(f"{self.live_server_url}{self.base}/options/")
        for page, why in ((first, "Cheapest"), (second, "It is visible")):
            page.get_by_label("Why this way").fill(why)
        first.get_by_role("button", name="Small patches").tap()
        expect(first).to_have_url(f"{self.live_server_url}{self.base}/cut/")
        second.get_by_role("button", name="Merged patches").click()
        expect(second.get_by_role("alert")).to_contain_text("while you had this open")
        expect(second.get_by_label("Why this way")).to_have_value("It is visible")
        self.assertEqual(PanelChoice.objects.get().why, "Cheapest")
        second.get_by_role("button", name="Merged patches").click()
        expect(second).to_have_url(f"{self.live_server_url}{self.base}/cut/")
        self.assertEqual(PanelChoice.objects.get().why, "It is visible")

    def test_a_refused_surrounding_comes_back_as_tapped_and_the_back_button_loses_nothing(self):
        page = self.page
        self.open(f"{self.base}/around/")
        page.get_by_label("What it is").select_option(label="Metal that must stay")
        page.get_by_label("Its name").fill("Captive nut")
        places = page.get_by_label("Places, tapped on the board")
        places.fill("800, 250\n860, 250")
        page.get_by_role("button", name="Keep it").click()
        expect(page.locator(".ys-err, .errorlist, [role=alert]").first).to_be_visible()
        expect(places).to_have_value("800, 250\n860, 250")
        expect(page.get_by_label("Its name")).to_have_value("Captive nut")
        places.fill("800, 250\n860, 250\n860, 290")
        page.get_by_role("button", name="Keep it").click()
        expect(page.locator(".th-keep")).to_have_count(1)
        page.go_back()
        page.reload()
        expect(page.locator(".th-keep")).to_have_count(1)
