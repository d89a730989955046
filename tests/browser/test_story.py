import re

from playwright.sync_api import expect

from tests.browser.base import BrowserCase
from tests.builders import finding, repair, vehicle
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.survey.models import Finding

HOLE = [(700, 300), (730, 262), (830, 262), (844, 310), (780, 334)]


class ADayInTheGarage(BrowserCase):
    def test_from_a_rust_hole_to_the_record(self):
        page, mine = self.page, vehicle(self.owner)
        self.open(f"/v/{mine.pk}/")
        page.get_by_role("link", name="Draw the first finding").click()
        page.get_by_role("link", name="Draw a finding").click()
        self._draw(page)
        self._reload(page)
        self._cut(page)
        self._patch(page)
        self._weld(page)
        self._log(page, mine)
        self._back(page)

    def _draw(self, page):
        """Draw: zoom in with the wheel, tap the corners, drag one, undo."""
        page.wait_for_selector("[data-finding-board][data-ready]")
        x, y = self.at(770, 300)
        page.mouse.move(x, y)
        for _ in range(5):
            page.mouse.wheel(0, -300)
        page.wait_for_timeout(200)
        for corner in HOLE:
            self.tap(*corner)
        expect(page.locator("#id_panel")).to_have_value("L-SILL")
        page.get_by_label("Probe", exact=True).select_option("through")
        page.locator("#id_probe_hits").fill("3")
        page.locator("#id_probe_tries").fill("5")
        expect(page.locator("[data-grade-word]")).to_have_text("Holed")
        expect(page.locator("[data-size]")).to_contain_text("× 7")
        handle = page.locator('[data-handle="corner-4"] .dot')
        box = handle.bounding_box()
        page.mouse.move(box["x"] + 6, box["y"] + 6)
        page.mouse.down()
        page.mouse.move(box["x"] + 30, box["y"] + 20, steps=4)
        page.mouse.up()
        moved = page.locator("#id_corners").input_value()
        page.keyboard.press("ArrowUp")
        self.assertNotEqual(page.locator("#id_corners").input_value(), moved)

    def _reload(self, page):
        """A reload in mid-edit loses nothing."""
        drawn = page.locator("#id_corners").input_value()
        page.reload()
        expect(page.locator("#id_corners")).to_have_value(drawn)
        expect(page.locator("#id_probe_result")).to_have_value("through")
        page.locator("#id_title").fill("Sill end, front")
        page.get_by_role("button", name="Store the finding").click()
        expect(page.locator("h1")).to_have_text("Sill end, front")
        self.assertEqual(Finding.objects.get().grade, "H")

    def _cut(self, page):
        """The repair and its cut."""
        page.get_by_role("link", name="Open a repair").click()
        page.get_by_role("button", name="Open it and propose the cut").click()
        page.wait_for_selector("[data-cut-board][data-ready]")
        expect(page.locator("[data-remarks]")).to_contain_text("All rust lies inside")
        corner = page.locator('[data-handle="corner-0"]')
        corner.focus()
        for _ in range(4):
            page.keyboard.press("Shift+ArrowRight")
        expect(page.locator("[data-remarks]")).to_contain_text(re.compile("stays outside|margin"))
        expect(page.locator(".remark-mark").first).to_be_visible()
        page.get_by_role("button", name="Back to the proposal").click()
        expect(page.locator("[data-remarks]")).to_contain_text("All rust lies inside")
        page.locator('[data-handle="corner-0"]').focus()
        page.keyboard.press("Shift+ArrowLeft")
        page.get_by_role("button", name="Keep this line").click()
        expect(page.get_by_role("status")).to_contain_text("All rust lies inside it")
        self.assertTrue(Cut.objects.get().moved)

    def _patch(self, page):
        """The patch."""
        page.get_by_role("link", name="Make the patch").click()
        page.locator("#id_treatment_A").select_option("flange")
        page.locator("#id_leg_A").fill("20")
        expect(page.locator("[data-figures]")).to_contain_text("90° up")
        page.get_by_role("button", name="Store the pattern").click()
        for name in ("PDF A4", "SVG", "DXF"):
            with page.expect_download() as file:
                page.get_by_role("link", name=name).click()
            self.assertRegex(file.value.suggested_filename, r"R-01-1-pattern\.(pdf|svg|dxf)")

    def _weld(self, page):
        """The weld."""
        page.get_by_role("link", name="On to the weld").click()
        button = page.locator("[data-tack]")
        expect(button).to_be_disabled()
        for tick in page.locator("[data-cautions] input").all():
            tick.check()
        expect(button).to_have_text("Tack 1 is done")
        button.click()
        button.click()
        expect(page.locator("[data-step]")).to_have_text("2")
        expect(page.locator(".tp").first).to_be_attached()
        page.get_by_role("button", name="Blew through").click()
        expect(page.locator("[data-again] li")).to_contain_text("Tack 3 blew through")
        page.reload()
        expect(page.locator("[data-step]")).to_have_text("3")
        page.get_by_role("button", name="Put right").click()
        expect(page.locator("[data-again] li")).to_have_count(0)
        expect(page.locator("[data-going]")).to_contain_text("3 of")
        page.get_by_role("button", name="Play the passes").click()
        expect(page.locator("[data-step]")).to_have_text(re.compile(r"^([5-9]|\d\d)$"))
        page.get_by_role("button", name="Play the passes").click()

    def _log(self, page, mine):
        """The log and the record."""
        page.get_by_role("link", name="Log the work").click()
        page.locator("#id_work-typed").fill("1:45")
        page.locator("#work").get_by_role("button", name="Add").click()
        expect(page.locator("#work table")).to_contain_text("1 h 45")
        page.get_by_role("button", name="Cut it out: record as cut").click()
        expect(page.locator(".fault")).to_contain_text("What is fixed behind L-SILL?")
        page.get_by_role("link", name="L-SILL").click()
        page.get_by_label("What is fixed behind?").fill("Nothing there, looked with lamp")
        page.get_by_label("Where", exact=True).select_option("marked")
        page.get_by_role("button", name="Answer it").click()
        page.wait_for_load_state("networkidle")
        page.go_back()
        page.goto(f"{self.live_server_url}/v/{mine.pk}/repairs/1/log/")
        expect(page.locator(".readies .is-so").first).to_contain_text("Far side looked at")
        page.get_by_role("button", name="Nothing goes with these pieces").click()
        for reason in page.get_by_label("All the same, because").all():
            reason.fill("Skin only, and the hand saw makes no sparks")
        page.get_by_role("button", name="Cut it out: record as cut").click()
        expect(page.locator(".ribbon .now")).to_contain_text("Cut")
        page.get_by_role("navigation", name="Steps of R-").get_by_role("link", name="Record").click()
        expect(page.locator(".drawings figure")).to_have_count(3)
        with page.expect_download() as file:
            page.get_by_role("link", name="Take the PDF").click()
        self.assertEqual(file.value.suggested_filename, "R-01-record.pdf")
        self.assertEqual(Repair.objects.get().state, "cut")

    def _back(self, page):
        """The back button, and the board moves by keys."""
        page.go_back()
        expect(page.locator(".ribbon .now")).to_contain_text("Cut")
        page.get_by_role("link", name="Survey").click()
        board = page.locator("[data-shell-board]")
        before = board.locator("[data-world]").get_attribute("transform")
        board.focus()
        page.keyboard.press("+")
        page.keyboard.press("ArrowLeft")
        page.wait_for_timeout(100)
        self.assertNotEqual(board.locator("[data-world]").get_attribute("transform"), before)
        page.keyboard.press("0")

    def test_a_refused_outline_is_marked_where_it_crosses(self):
        page, mine = self.page, vehicle(self.owner)
        self.open(f"/v/{mine.pk}/survey/left/new/?panel=L-SILL")
        page.locator("#id_corners").fill("690, 280\n800, 330\n800, 280\n690, 330")
        expect(page.locator("[data-errors]")).to_contain_text("crosses itself")
        expect(page.locator(".fault-mark circle")).to_be_visible()
        page.get_by_role("button", name="Store the finding").click()
        expect(page.locator(".fault")).to_contain_text("crosses itself")
        expect(page.locator("#id_corners")).to_have_value(re.compile("690, 330"))


class OnATablet(BrowserCase):
    viewport = {"width": 820, "height": 1180}
    touch = True

    def test_a_finding_by_touch(self):
        page, mine = self.page, vehicle(self.owner)
        self.open(f"/v/{mine.pk}/survey/right/")
        page.get_by_role("link", name="Draw a finding").tap()
        page.wait_for_selector("[data-finding-board][data-ready]")
        for _ in range(4):
            page.get_by_role("button", name="Zoom in").tap()
        page.wait_for_timeout(200)
        for corner in ((-1500, 250), (-1200, 250), (-1200, 340), (-1500, 340)):
            self.tap(*corner)
        expect(page.locator("#id_panel")).to_have_value("R-SILL")
        expect(page.locator("#id_corners")).to_have_value(re.compile(r"^1(499|50[01])"))
        page.get_by_role("button", name="Store the finding").tap()
        expect(page.locator("h1")).to_contain_text("Outer sill, right")

    def test_nothing_is_wider_than_the_screen(self):
        mine = vehicle(self.owner)
        repair(mine, [finding(mine)])
        for path in (
            "",
            "survey/left/",
            "survey/finding/1/",
            "repairs/",
            "repairs/1/cut/",
            "repairs/1/patch/",
            "repairs/1/opening/",
            "repairs/1/fit/",
            "repairs/1/weld/",
            "stock/",
            "bench/?kind=shape",
            "bench/?kind=gauge",
            "repairs/1/log/",
            "repairs/1/options/",
            "repairs/1/around/",
            "repairs/1/release/",
            "repairs/rules/",
            "hold/",
            "hold/?view=underside",
            "hold/ways/",
            "hold/order/?job=floor_L&job=sill_inner_L",
            "hold/braces/",
            "hold/measured/",
            "datums/underside/",
            "datums/rounds/",
            "logbook/",
            "survey/list/",
            "survey/compare/",
            "survey/report/",
            "survey/finding/1/grid/",
            f"survey/panel/{mine.views.first().panels.first().pk}/",
        ):
            with self.subTest(path):
                self.open(f"/v/{mine.pk}/{path}")
                self.assertLessEqual(self.page.evaluate("document.documentElement.scrollWidth"), 820)
