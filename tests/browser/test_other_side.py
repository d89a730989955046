"""The other side surveyed from nothing: by touch on a tablet, and by keys alone."""

from playwright.sync_api import expect

from tests.browser.base import BrowserCase
from tests.builders import panel, vehicle
from yellow_sill.web.survey.models import FarSide, Finding, LookedRegion, PanelItem


class ByTouch(BrowserCase):
    viewport = {"width": 820, "height": 1180}
    touch = True

    def drag(self, start, end):
        """One finger across the board."""
        cdp = self.context.new_cdp_session(self.page)
        (x0, y0), (x1, y1) = self.at(*start), self.at(*end)
        cdp.send("Input.dispatchTouchEvent", {"type": "touchStart", "touchPoints": [{"x": x0, "y": y0}]})
        for i in range(1, 6):
            cdp.send(
                "Input.dispatchTouchEvent",
                {
                    "type": "touchMove",
                    "touchPoints": [{"x": x0 + (x1 - x0) * i / 5, "y": y0 + (y1 - y0) * i / 5}],
                },
            )
        self.page.wait_for_timeout(200)  # a finger comes to rest before it is lifted
        cdp.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})

    def test_look_mark_draw_and_look_again(self):
        mine, page = vehicle(self.owner), self.page
        self.open(f"/v/{mine.pk}/survey/right/")
        page.wait_for_selector("[data-shell-board][data-ready]")
        page.get_by_role("button", name="Mark what I looked at").tap()
        page.wait_for_timeout(300)
        self.drag((-2380, 200), (-600, 900))
        expect(page.locator("[data-look-said]")).to_contain_text("Marked as looked at")
        self.assertEqual(LookedRegion.objects.get().view.name, "right")
        page.get_by_role("button", name="Mark what I looked at").tap()
        expect(page.locator("[data-mark]")).to_have_attribute("aria-pressed", "false")
        page.get_by_role("link", name="Draw a finding").tap()
        page.wait_for_selector("[data-finding-board][data-ready]")
        for _ in range(4):
            page.get_by_role("button", name="Zoom in").tap()
        page.wait_for_timeout(200)
        for corner in ((-1500, 250), (-1300, 250), (-1300, 320), (-1500, 330)):
            self.tap(*corner)
        page.get_by_label("Probe", exact=True).select_option("through")
        page.get_by_role("button", name="Store the finding").tap()
        expect(page.locator("h1")).to_contain_text("Outer sill, right")
        page.get_by_role("link", name="Look again").tap()
        page.get_by_label("Drawn").select_option("opened")
        page.get_by_label("Looked", exact=True).select_option("hole")
        page.get_by_role("button", name="Store the finding").tap()
        expect(page.locator(".caution")).to_contain_text("now survey what is behind")
        page.get_by_role("link", name="R-SILLM").first.tap()
        expect(page.locator("#id_panel")).to_have_value("R-SILLM")
        self.assertEqual(page.evaluate("document.documentElement.scrollWidth"), 820)
        self.assertEqual([look.stage for look in Finding.objects.get().inspections.all()], ["seen", "opened"])


class ByKeys(BrowserCase):
    """No pointer at all: Tab, Enter, letters and arrows."""

    def press(self, locator, key="Enter"):
        locator.focus()
        self.page.keyboard.press(key)

    def test_a_side_without_a_pointer(self):
        mine, page = vehicle(self.owner), self.page
        self.open(f"/v/{mine.pk}/survey/right/")
        self.press(page.get_by_text("Panels in this view and layer"))
        self.press(page.get_by_role("link", name="R-SILL", exact=True).last)
        page.get_by_label("What is fixed behind?").focus()
        page.keyboard.type("Nothing there")
        page.get_by_label("Where", exact=True).focus()
        page.keyboard.type("Behind")
        self.press(page.get_by_role("button", name="Answer it"))
        expect(page.get_by_role("status")).to_contain_text("answered")
        page.get_by_label("What", exact=True).focus()
        page.keyboard.type("Jack tube cap")
        page.keyboard.press("Enter")
        expect(page.get_by_text("Jack tube cap", exact=True).first).to_be_visible()
        self.press(page.get_by_role("button", name="The whole panel is looked at"))
        expect(page.get_by_role("status")).to_contain_text("marked as looked at")
        self.press(page.get_by_role("link", name="Draw a finding on it"))
        page.locator("#id_corners").focus()
        page.keyboard.type("1500 250\n1300 250\n1300 320\n1500 330")
        page.get_by_label("Hammer tap", exact=True).focus()
        page.keyboard.press("d")
        expect(page.locator("[data-grade-word]")).to_have_text("Thin")
        page.locator("#id_title").focus()
        page.keyboard.type("Sill, middle")
        page.keyboard.press("Enter")
        expect(page.locator("h1")).to_have_text("Sill, middle")
        self.press(page.get_by_role("link", name="Thickness grid"))
        page.wait_for_selector("[data-grid-board][data-ready]")
        cell = page.locator(".gcell.is-on")
        self.press(cell, "ArrowRight")
        page.keyboard.press("Enter")
        page.keyboard.type("0.62")
        page.keyboard.press("Enter")
        expect(page.locator("[data-sum=least]")).to_have_text("0.62")
        found = Finding.objects.get()
        self.assertEqual(
            (found.grade, found.readings.count(), FarSide.objects.count(), PanelItem.objects.count()),
            ("T", 1, 1, 1),
        )
        sill = panel(mine, "R-SILL", "right")
        self.assertAlmostEqual(sill.cover.looked_mm2, sill.cover.area_mm2, delta=1)
