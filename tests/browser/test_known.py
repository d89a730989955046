import re

from playwright.sync_api import expect

from tests.browser.base import BrowserCase
from tests.builders import finding, picture, vehicle
from yellow_sill.web.survey.models import GridReading, LookedRegion, SurveyPhoto
from yellow_sill.web.survey.photo_services import add_survey_photo


class Knowing(BrowserCase):
    """Marking what was looked at, reading the gauge's grid, tracing a photo, going through the list."""

    def test_one_gesture_marks_a_region(self):
        mine, page = vehicle(self.owner), self.page
        self.open(f"/v/{mine.pk}/survey/left/")
        page.wait_for_selector("[data-shell-board][data-ready]")
        before = page.locator("[data-world]").first.get_attribute("transform")
        page.get_by_role("button", name="Mark what I looked at").click()
        (x0, y0), (x1, y1) = self.at(700, 210), self.at(2000, 370)
        page.mouse.move(x0, y0)
        page.mouse.down()
        page.mouse.move((x0 + x1) / 2, (y0 + y1) / 2, steps=3)
        expect(page.locator(".looked-box")).to_be_visible()
        page.mouse.move(x1, y1, steps=3)
        page.mouse.up()
        expect(page.locator("[data-look-said]")).to_contain_text("Marked as looked at: probe")
        self.assertEqual(
            page.locator("[data-world]").first.get_attribute("transform"),
            before,
            "the board stayed where it was",
        )
        region = LookedRegion.objects.get()
        self.assertAlmostEqual(region.outline[0][0], 700, delta=6)
        page.get_by_role("button", name="Take back").click()
        expect(page.get_by_role("status")).to_contain_text("taken back")

    def test_readings_by_keys(self):
        mine, page = vehicle(self.owner), self.page
        finding(mine)
        self.open(f"/v/{mine.pk}/survey/finding/1/grid/")
        page.wait_for_selector("[data-grid-board][data-ready]")
        field = page.get_by_label("Reading, mm")
        for value in ("0.9", "0,55"):
            field.fill(value)
            field.press("Enter")
            expect(field).to_have_value("")
        expect(page.locator("[data-sum=worst]")).to_have_text("45")
        expect(page.locator("[data-rows] tbody tr")).to_have_count(2)
        page.route("**/reading/", lambda route: (page.wait_for_timeout(500), route.continue_()))
        field.press_sequentially("0.81")
        field.press("Enter")
        field.press_sequentially("0.62", delay=20)
        expect(field).to_have_value("0.62")  # typed while the first was on its way
        expect(page.locator("[data-rows] tbody tr")).to_have_count(3)
        page.unroute("**/reading/")
        field.fill("thick")
        field.press("Enter")
        expect(page.locator("[data-errors]")).to_contain_text("is not a number")
        page.get_by_role("button", name="Take it from the gauge").click()
        expect(page.locator("[data-errors]")).to_contain_text("No gauge answers")
        self.assertEqual(GridReading.objects.count(), 3)

    def test_a_photo_is_traced_into_the_finding(self):
        mine, page = vehicle(self.owner), self.page
        found = finding(mine)
        add_survey_photo(
            found.panel, found, picture(size=(900, 600)), caption="card", taken_on=found.found_on, by="Wren"
        )
        self.open(f"/v/{mine.pk}/survey/photo/{SurveyPhoto.objects.get().pk}/")
        page.wait_for_selector("[data-photo-board][data-ready]")
        for corner in ((100, -100), (442, -100), (442, -316), (100, -316)):
            self.tap(*corner)
        expect(page.locator("[data-mode=trace]")).to_have_attribute("aria-pressed", "true")
        for corner in ((500, -200), (700, -200), (700, -320), (500, -320)):
            self.tap(*corner)
        expect(page.locator("[data-size]")).to_have_text(re.compile("(49|50|51) × (29|30|31)"))
        page.get_by_role("link", name="Make it the outline").press("Enter")
        expect(page.locator("[data-errors]")).to_contain_text("where the hole lies")
        page.get_by_role("button", name="3 Two points").click()
        self.tap(500, -500)
        self.tap(700, -500)
        for i, value in enumerate(("720", "240", "770", "240")):
            page.locator(f"#p{i}").fill(value)
        expect(page.get_by_role("link", name="Make it the outline")).to_have_attribute(
            "aria-disabled", "true"
        )
        page.get_by_label("The photo shows").select_option("drawn")
        expect(page.get_by_role("link", name="Make it the outline")).to_have_attribute(
            "aria-disabled", "false"
        )
        page.get_by_role("link", name="Make it the outline").click()
        expect(page.locator("h1")).to_have_text("Look again at 1")
        page.get_by_label("Drawn").select_option("stripped")
        page.get_by_role("button", name="Store the finding").click()
        expect(page.locator("h1")).to_have_text("Sill end, front")
        found.refresh_from_db()
        self.assertAlmostEqual(found.area_mm2, 1500, delta=60)
        self.assertEqual([look.stage for look in found.inspections.all()], ["seen", "stripped"])

    def test_from_finding_to_finding_by_keys(self):
        mine, page = vehicle(self.owner), self.page
        finding(mine), finding(mine, title="Second", corners=[(900, 300), (960, 262), (980, 310)])
        self.open(f"/v/{mine.pk}/survey/list/")
        page.locator("[data-finding-list]").focus()
        page.keyboard.press("ArrowDown")
        page.keyboard.press("ArrowDown")
        page.keyboard.press("Enter")
        expect(page.locator("h1")).to_have_text("Second")
        page.wait_for_selector("[data-shell-board][data-ready]")
        page.keyboard.press("p")
        expect(page.locator("h1")).to_have_text("Sill end, front")

    def test_a_corner_of_the_shell_is_moved(self):
        mine, page = vehicle(self.owner), self.page
        self.open(f"/v/{mine.pk}/shell/left/")
        page.wait_for_selector("[data-panel-board][data-ready]")
        self.tap(1300, 300)
        expect(page.locator("h1")).to_have_text("Outer sill, left")
        page.wait_for_selector("[data-panel-board][data-ready]")
        before = page.locator("#id_corners").input_value()
        page.locator('[data-handle="corner-0"]').focus()
        page.keyboard.press("Shift+ArrowUp")
        self.assertNotEqual(page.locator("#id_corners").input_value(), before)
        page.get_by_role("button", name="Keep the panel").click()
        expect(page.get_by_role("status")).to_contain_text("stored")
