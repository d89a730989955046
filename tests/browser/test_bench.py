"""The bench in a real browser: a width dragged, a patch offered up by taps, patterns laid on steel."""

from playwright.sync_api import expect

from tests.browser.base import BrowserCase
from tests.builders import finding, repair, vehicle, worked_out
from yellow_sill.web.frame import jobs
from yellow_sill.web.frame.models import Job
from yellow_sill.web.patch.models import CuttingPlan, FitOffer, StockSheet


class Bench(BrowserCase):
    def test_a_width_is_dragged_and_taken_back(self):
        mine, page = vehicle(self.owner), self.page
        repair(mine, [finding(mine)])
        self.open(f"/v/{mine.pk}/repairs/1/patch/")
        page.locator("#id_treatment_A").select_option("flange")
        page.locator("#id_leg_A").fill("20")
        grip = page.locator("[data-grip=leg_A]")
        expect(grip).to_be_visible()
        expect(page.locator("[data-figures]")).to_contain_text("90° up")
        page.wait_for_timeout(700)
        box = grip.bounding_box()
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        before = page.locator(".flat").first.get_attribute("d")
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x, y + 20)
        page.mouse.move(x, y + 40)
        page.mouse.up()
        wide = float(page.locator("#id_leg_A").input_value())
        self.assertGreater(wide, 24, "out of the sheet is wider")
        expect(page.locator(".flat").first).not_to_have_attribute("d", before)
        page.wait_for_timeout(700)
        page.get_by_role("button", name="Undo").click()
        self.assertLess(float(page.locator("#id_leg_A").input_value()), wide)
        self.asked.clear()

    def test_a_patch_is_offered_up_by_taps(self):
        mine, page = vehicle(self.owner), self.page
        cut = worked_out(repair(mine, [finding(mine)]).cuts.get())
        self.open(f"/v/{mine.pk}/repairs/1/fit/")
        us, vs = [u for u, _ in cut.outline], [v for _, v in cut.outline]
        middle = ((min(us) + max(us)) / 2, (min(vs) + max(vs)) / 2)
        self.tap(*middle)
        expect(page.locator(".fit-rows li")).to_have_count(0)
        for at, gap in (
            ((middle[0], max(vs)), "0.5"),
            ((middle[0], min(vs)), "-1.2"),
            ((min(us), middle[1]), "0,4"),
        ):
            self.tap(*at)
            page.keyboard.type(gap)
        expect(page.locator(".fit-rows li")).to_have_count(3)
        expect(page.locator(".fit-mark")).to_have_count(3)
        page.get_by_role("button", name="Store this offer-up").click()
        expect(page.locator(".fit-verdict")).to_contain_text("nothing was tapped")
        expect(page.locator(".fit-laps").last).to_be_attached()
        self.assertEqual([gap["gap_mm"] for gap in FitOffer.objects.get().gaps], [0.5, -1.2, 0.4])
        page.reload()
        expect(page.locator(".fit-mark text")).to_have_text(["0.5", "-1.2", "0,4"])
        page.locator("#id_school").select_option("overlay")
        page.get_by_role("button", name="Store this offer-up").click()
        expect(page.locator(".fit-go").first).to_be_attached()

    def test_patterns_are_laid_on_a_sheet_kept_and_cut(self):
        mine, page = vehicle(self.owner), self.page
        worked_out(repair(mine, [finding(mine)]).cuts.get())
        self.open(f"/v/{mine.pk}/stock/")
        for name, value in (
            ("thickness_mm", "1"),
            ("length_mm", "600"),
            ("width_mm", "400"),
            ("price", "12"),
        ):
            page.locator(f"#id_{name}").fill(value)
        page.get_by_role("button", name="Put it into stock").click()
        expect(page.get_by_role("status")).to_contain_text("S1 is in stock")
        page.locator("[name='take_R-01.1']").check()
        page.locator("[name=from_S1]").check()
        page.get_by_role("button", name="Lay them out").click()
        expect(page.locator("progress")).to_be_visible()
        self.assertEqual(Job.objects.get().command, "nest")
        jobs.work_off()
        expect(page.locator(".laid-part")).to_have_count(1)
        self.assertTrue(page.locator("[name='take_R-01.1']").is_checked(), "what was asked stays ticked")
        page.get_by_role("button", name="Keep this plan").click()
        expect(page.locator("h1")).to_have_text("Cutting plan 1")
        rest = page.locator("[name=rest]").first
        self.assertFalse(rest.is_checked())
        rest.check()
        page.get_by_role("button", name="It is cut").click()
        expect(page.get_by_role("status")).to_contain_text("Cut")
        self.assertTrue(CuttingPlan.objects.get().cut_on)
        self.assertEqual(StockSheet.objects.filter(cut_by_plan=0).count(), 1)
