import re

from playwright.sync_api import expect

from tests.browser.base import BrowserCase
from tests.builders import SILL_HOLE, finding, repair, vehicle
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.survey.models import Finding


class Mishaps(BrowserCase):
    """A second tab, a wrong click, a server that went away, keys only."""

    def test_two_tabs_on_one_cut(self):
        mine = vehicle(self.owner)
        repair(mine, [finding(mine)])
        first, second = self.page, self.context.new_page()
        for page in (first, second):
            page.goto(f"{self.live_server_url}/v/{mine.pk}/repairs/1/cut/")
            page.wait_for_selector("[data-cut-board][data-ready]")
            page.locator('[data-handle="corner-0"]').focus()
            page.keyboard.press("ArrowLeft")
        first.get_by_role("button", name="Keep this line").click()
        expect(first.get_by_role("status")).to_contain_text("stored")
        second.keyboard.press("ArrowLeft")
        expect(second.locator("[data-size]")).to_contain_text("172")
        second.get_by_role("button", name="Keep this line").click()
        expect(second.locator("[data-conflict]")).to_contain_text("saved this while you had it open")
        typed = second.locator("#corners").input_value()
        second.get_by_role("button", name="Keep this line").click()
        expect(second.get_by_role("status")).to_contain_text("stored")
        kept = "\n".join(f"{u:g}, {v:g}" for u, v in Cut.objects.get().corners)
        self.assertEqual(kept, typed, "the second person chose theirs, knowing both")

    def test_a_finding_by_keys_alone(self):
        mine, page = vehicle(self.owner), self.page
        self.open(f"/v/{mine.pk}/survey/left/new/")
        page.locator("#id_panel").select_option("L-SILL")
        page.locator("#id_corners").fill("\n".join(f"{u}; {v}" for u, v in SILL_HOLE))
        expect(page.locator("[data-size]")).to_contain_text("146 × 72")
        page.locator('[data-handle="corner-1"]').focus()
        page.keyboard.press("Delete")
        expect(page.locator('[data-handle^="corner"]')).to_have_count(len(SILL_HOLE) - 1)
        page.get_by_role("button", name="Undo").press("Enter")
        expect(page.locator('[data-handle^="corner"]')).to_have_count(len(SILL_HOLE))
        page.locator("[data-finding-board]").focus()
        for _ in range(5):
            page.keyboard.press("+")
        page.locator('[data-handle="middle-2"]').focus()
        page.keyboard.press("Enter")
        page.keyboard.press("Shift+ArrowUp")
        expect(page.locator('[data-handle^="corner"]')).to_have_count(len(SILL_HOLE) + 1)
        page.locator("#id_title").focus()
        page.keyboard.type("By keys")
        page.keyboard.press("Enter")
        expect(page.locator("h1")).to_have_text("By keys")
        self.assertEqual(len(Finding.objects.get().outline), len(SILL_HOLE) + 1)

    def test_leaving_what_is_not_stored_asks(self):
        mine, page = vehicle(self.owner), self.page
        repair(mine, [finding(mine)])
        away = f"{self.live_server_url}/v/{mine.pk}/survey/"
        for path, field, value, button in (
            ("patch", "gap_mm", "0.7", "Store the pattern"),
            ("log", "note", "Sanded", ""),
        ):
            with self.subTest(path):
                self.open(f"/v/{mine.pk}/repairs/1/{path}/")
                typed = page.locator(f"[name$={field}]").first
                before = typed.input_value()
                typed.fill(value)
                page.goto(away)
                self.assertEqual(self.asked, ["beforeunload"])
                self.asked.clear()
                self.open(f"/v/{mine.pk}/repairs/1/{path}/")
                typed.fill(value)
                typed.fill(before)
                page.goto(away)
                self.assertEqual(self.asked, [], "typed and taken back")
                if button:
                    self.open(f"/v/{mine.pk}/repairs/1/{path}/")
                    typed.fill(value)
                    page.get_by_role("button", name=button).click()
                    page.wait_for_load_state("networkidle")
                    self.assertEqual(self.asked, [], "stored")

    def test_a_small_patch_is_tapped_at_fit_zoom(self):
        """Five taps on 90 by 60 mm are five corners, 25 px apart or less; a tap on another panel is offered, not taken."""
        mine, page = vehicle(self.owner), self.page
        self.open(f"/v/{mine.pk}/survey/left/new/?layer=outer")
        page.wait_for_selector("[data-finding-board][data-ready]")
        self.tap(1000, 290)
        expect(page.locator("#id_panel")).to_have_value("L-SILL")
        expect(page.locator("[data-tapped]")).to_contain_text("Taken from the first corner: L-SILL")
        for corner in ((1090, 290), (1090, 350), (1045, 330), (1000, 350)):
            self.tap(*corner)
        expect(page.locator('[data-handle^="corner"]')).to_have_count(5)
        expect(page.locator("[data-size]")).to_contain_text(
            re.compile("(88|89|90|91|92) × (58|59|60|61|62) mm")
        )
        for _ in range(5):
            page.get_by_role("button", name="Undo").click()
        page.locator("#id_panel").select_option("L-QTR")
        page.locator("[data-zoom=fit]").click()
        page.wait_for_timeout(100)  # drawn with the next frame
        self.tap(1000, 290)
        expect(page.locator("#id_panel")).to_have_value("L-QTR")
        page.get_by_role("button", name="Take L-SILL").click()
        expect(page.locator("#id_panel")).to_have_value("L-SILL")

    def test_when_the_server_does_not_answer_nothing_drawn_is_lost(self):
        mine, page = vehicle(self.owner), self.page
        self.open(f"/v/{mine.pk}/survey/left/new/?panel=L-SILL")
        self.context.set_offline(True)
        page.locator("#id_corners").fill("700, 300\n740, 262\n800, 300")
        expect(page.locator("[data-errors]")).to_contain_text("does not answer")
        self.context.set_offline(False)
        page.reload()
        expect(page.locator("#id_corners")).to_have_value(re.compile("740, 262"))
        expect(page.locator("[data-size]")).to_contain_text("100 ×")
        self.faults = [fault for fault in self.faults if "ERR_INTERNET_DISCONNECTED" not in fault]

    def test_what_was_left_is_offered_where_it_was_left_and_never_put_in_by_itself(self):
        mine, page = vehicle(self.owner), self.page
        self.open(f"/v/{mine.pk}/survey/left/new/?panel=L-SILL")
        page.locator("#id_corners").fill("700, 300\n740, 262\n800, 300")
        page.locator("[name=probe_result]").select_option("through")
        page.get_by_role("link", name="Leave it").click()
        for other in ("?panel=L-SILL&layer=middle", "?panel=L-WING"):
            self.open(f"/v/{mine.pk}/survey/left/new/{other}")
            expect(page.locator("[data-left]")).to_be_hidden()
        self.open(f"/v/{mine.pk}/survey/left/new/?panel=L-SILL")
        expect(page.locator("[data-left-words]")).to_contain_text("3 corners and 1 looks")
        expect(page.locator("#id_corners")).to_have_value("")
        expect(page.locator("[name=probe_result]")).to_have_value("")
        page.get_by_role("button", name="Take it up again").click()
        expect(page.locator("#id_corners")).to_have_value(re.compile("740, 262"))
        expect(page.locator("[name=probe_result]")).to_have_value("through")
        page.get_by_role("link", name="Leave it").click()
        self.open(f"/v/{mine.pk}/survey/left/new/?panel=L-SILL")
        page.get_by_role("button", name="Throw it away").click()
        self.open(f"/v/{mine.pk}/survey/left/new/?panel=L-SILL")
        expect(page.locator("[data-left]")).to_be_hidden()

    def test_zoom_by_wheel_and_buttons_keeps_the_place_under_the_pointer(self):
        mine, page = vehicle(self.owner), self.page
        self.open(f"/v/{mine.pk}/survey/underside/")
        page.wait_for_selector("[data-shell-board][data-ready]")
        x, y = self.at(900, 500)
        page.mouse.move(x, y)
        page.mouse.wheel(0, -400)
        page.wait_for_timeout(150)
        moved = self.at(900, 500)
        self.assertAlmostEqual(moved[0], x, delta=1.5)
        self.assertAlmostEqual(moved[1], y, delta=1.5)
        page.mouse.down()
        page.mouse.move(x + 60, y + 30, steps=4)
        page.mouse.up()
        page.wait_for_timeout(100)
        self.assertAlmostEqual(self.at(900, 500)[0], x + 60, delta=2)
        page.get_by_role("button", name="Show all").click()
        page.wait_for_timeout(100)
        figures = page.locator(".rulers .rl-t").all_text_contents()
        self.assertIn("500", figures)
        self.assertIn("-500", figures, "rulers follow the shell's own axes")

    def test_a_wrong_click_on_the_patch_is_told_and_can_be_undone(self):
        mine, page = vehicle(self.owner), self.page
        repair(mine, [finding(mine)])
        self.open(f"/v/{mine.pk}/repairs/1/patch/")
        page.locator("#id_treatment_B").select_option("flange")
        page.locator("#id_leg_B").fill("3")
        expect(page.locator("[data-figures]")).to_contain_text("shorter than the tool grips")
        expect(page.locator(".remark-mark")).to_have_count(1)
        page.locator("#id_leg_B").fill("0.5")
        expect(page.locator("[data-errors]")).to_contain_text("all bend")
        page.locator("#id_treatment_B").select_option("butt")
        expect(page.locator("[data-errors]")).to_be_empty()
        expect(page.locator(".remark-mark")).to_have_count(0)
        page.get_by_text("Mirror hand: make it").click()
        expect(page.locator(".tblock dd").nth(4)).to_have_text("mirror")
        figures = page.locator(".rulers .rl-t").all_text_contents()
        self.assertIn("0", figures, "a sheet on the bench is measured from its corner")

    def test_an_edge_is_tapped_taken_back_and_the_part_folds(self):
        mine, page = vehicle(self.owner), self.page
        repair(mine, [finding(mine)])
        self.open(f"/v/{mine.pk}/repairs/1/patch/")
        page.locator("[data-edge=B]").click()
        page.locator("[data-edge-sheet]").get_by_role("button", name="Flange with a return").click()
        expect(page.locator("#id_treatment_B")).to_have_value("return")
        expect(page.locator("[data-figures]")).to_contain_text("B1.2: 90° up")
        page.wait_for_timeout(600)
        page.get_by_role("button", name="Undo").click()
        expect(page.locator("#id_treatment_B")).to_have_value("butt")
        expect(page.locator("[data-figures]")).not_to_contain_text("B1.2")
        page.get_by_role("button", name="Redo").click()
        expect(page.locator("[data-figures]")).to_contain_text("B1.2: 90° up")
        page.get_by_role("button", name="Folded, bend by bend").click()
        expect(page.locator("[data-fold-words]")).to_have_text("2 of 2: B1")
        expect(page.locator("[data-order]")).to_contain_text("in the finger folder")
        standing = page.locator("[data-fold-board] [data-face=B1]").last.get_attribute("d")
        page.locator("[data-fold-at]").fill("0")
        expect(page.locator("[data-fold-words]")).to_have_text("flat")
        self.assertNotEqual(
            page.locator("[data-fold-board] [data-face=B1]").last.get_attribute("d"), standing
        )
        page.get_by_role("button", name="Fold it").click()
        expect(page.locator("[data-fold-words]")).to_have_text("2 of 2: B1")
        self.asked.clear()

    def test_a_new_vehicle_is_drawn_as_one_types(self):
        page = self.page
        self.open("/vehicles/new/")
        page.wait_for_selector("[data-shell-preview][data-ready]")
        before = page.locator(".sh-out").get_attribute("d")
        page.locator("#id_wheelbase").fill("2450")
        page.locator("#id_overall_length").fill("4060")
        expect(page.locator(".sh-out")).not_to_have_attribute("d", before)
        page.locator("#id_door_length").fill("1400")
        expect(page.locator("[data-errors]")).to_contain_text("does not fit")
