"""The whole shell in a browser: a section dragged, a panel brought near, a finding that asks which sheet, a photo traced, a glass under the finger."""

from playwright.sync_api import expect

from tests.browser.base import BrowserCase
from tests.builders import picture, vehicle


class Shell(BrowserCase):
    def test_a_section_is_dragged_and_its_sheets_open(self):
        mine, page = vehicle(self.owner), self.page
        self.open(f"/v/{mine.pk}/section/?at=1300")
        page.wait_for_selector("[data-section-board][data-ready]")
        expect(page.locator(".cut-rows").first).to_contain_text("L-SILLM")
        box = page.locator("[data-cut-where]").bounding_box()
        page.mouse.move(box["x"] + box["width"] * 0.5, box["y"] + box["height"] / 2)
        page.mouse.down()
        page.mouse.move(box["x"] + box["width"] * 0.22, box["y"] + box["height"] / 2, steps=4)
        page.mouse.up()
        expect(page.locator(".cut-rows").first).to_contain_text("L-WING")
        expect(page.locator(".ys-sheet h1")).not_to_contain_text("1300")
        self.assertIn("at=", page.url)
        page.locator(".cut-rows a").first.click()
        expect(page.locator(".ys-sheet")).to_contain_text("Its edge, stretch by stretch")
        page.locator("svg a[href='?edge=0']").dispatch_event("click")
        expect(page.get_by_role("button", name="That is how it is")).to_be_visible()

    def test_a_second_tap_brings_a_panel_near_and_a_finding_asks_which_sheet(self):
        mine, page = vehicle(self.owner), self.page
        self.open(f"/v/{mine.pk}/survey/underside/")
        page.wait_for_selector("[data-shell-board][data-ready]")
        whole = page.locator("[data-world]").first.get_attribute("transform")
        self.tap(1300, 250)
        expect(page.locator("[data-tapped-panel]")).to_contain_text("L-FLOOR")
        self.assertEqual(page.locator("[data-world]").first.get_attribute("transform"), whole)
        self.tap(1300, 250)
        expect(page.locator("[data-world]").first).not_to_have_attribute("transform", whole)
        page.get_by_role("link", name="Draw a finding").click()
        page.wait_for_url("**/survey/underside/new/**")
        self.assertIn("panel=L-FLOOR", page.url)
        self.open(f"/v/{mine.pk}/survey/underside/new/")
        page.wait_for_selector("[data-finding-board][data-ready]")
        self.tap(900, 350)
        expect(page.locator("[data-tapped]")).to_contain_text("Several sheets lie there")
        expect(page.locator("[name=panel]")).to_have_value("")
        page.locator("[data-choices] button").first.click()
        expect(page.locator("[name=panel]")).to_have_value("L-LEGB")

    def test_a_photo_is_traced_in_the_browser_alone(self):
        page = self.page
        self.open("/vehicles/from-photo/")
        page.wait_for_selector("[data-photo-trace][data-ready]")
        shot = picture()
        page.locator("[data-photo-file]").set_input_files(
            {"name": "side.jpg", "mimeType": "image/jpeg", "buffer": shot.read()}
        )
        expect(page.locator("[data-photo-trace] image")).to_have_count(1)
        box = page.locator("[data-photo-trace]").bounding_box()
        page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        expect(page.get_by_label("Foremost metal")).not_to_have_value("")
        expect(page.locator(".traced")).to_have_count(1)


class Touch(BrowserCase):
    viewport, touch = {"width": 820, "height": 1180}, True

    def test_a_finding_of_six_corners_takes_at_most_ten_touches(self):
        mine, page = vehicle(self.owner), self.page
        self.open(f"/v/{mine.pk}/survey/left/")
        page.wait_for_selector("[data-shell-board][data-ready]")
        self.tap(900, 270)
        page.get_by_role("link", name="Draw a finding").tap()
        page.wait_for_selector("[data-finding-board][data-ready]")
        corners = [(760, 310), (900, 318), (1040, 310), (1050, 235), (900, 228), (770, 235)]
        for u, v in corners:
            self.tap(u, v)
        expect(page.locator("[name=panel]")).to_have_value("L-SILL")
        page.get_by_text("bulge").first.tap()
        expect(page.locator("[data-grade-word]")).not_to_have_text("Not graded")
        page.get_by_role("button", name="Store the finding").tap()
        page.wait_for_url(f"**/v/{mine.pk}/survey/finding/1/**")
        touches = 2 + len(corners) + 2
        self.assertLessEqual(touches, 10)
        self.assertEqual(len(mine.findings.get().outline), 6)

    def test_a_glass_shows_what_lies_under_the_finger(self):
        mine, page = vehicle(self.owner), self.page
        self.open(f"/v/{mine.pk}/survey/left/new/?panel=L-SILL")
        page.wait_for_selector("[data-finding-board][data-ready]")
        self.tap(900, 300)
        x, y = self.at(900, 300)
        handle = page.locator("[data-handle=corner-0]")
        expect(handle).to_be_visible()
        finger = {"pointerType": "touch", "pointerId": 7, "isPrimary": True, "bubbles": True}
        page.evaluate("() => { SVGElement.prototype.setPointerCapture = () => {}; }")
        handle.dispatch_event("pointerdown", finger | {"clientX": x, "clientY": y})
        board = page.locator("[data-finding-board]")
        board.dispatch_event("pointermove", finger | {"clientX": x + 40, "clientY": y})
        expect(page.locator(".glass")).to_have_count(1)
        board.dispatch_event("pointerup", finger | {"clientX": x + 40, "clientY": y})
        expect(page.locator(".glass")).to_have_count(0)
