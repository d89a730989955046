from playwright.sync_api import expect

from tests.browser.base import BrowserCase
from tests.builders import DAY, finding, repair, vehicle
from yellow_sill.demo.datums import TRUSTED, take_round
from yellow_sill.web.cut.models import TransferMark
from yellow_sill.web.datums.models import Reading, StandSet
from yellow_sill.web.datums.plan_services import open_round


class Measuring(BrowserCase):
    """A cold garage: a round entered by keys and by touch, the board turned, the stands dragged."""

    def setUp(self):
        super().setUp()
        self.mine = vehicle(self.owner)
        for point in self.mine.datum_points.filter(code__in=TRUSTED):
            point.save_as(None, "Wren", trusted=True)

    def test_a_round_is_started_entered_and_a_slip_is_asked_about(self):
        page = self.page
        self.open(f"/v/{self.mine.pk}/datums/")
        page.get_by_role("link", name="Start the first round").click()
        page.get_by_label("Stage", exact=True).select_option("found")
        page.get_by_role("button", name="Start the round").click()
        expect(page.locator("[data-what]")).to_have_text("Height 1L")
        field = page.get_by_label("Reading, mm")
        for value in ("284", "224,5"):
            field.fill(value)
            field.press("Enter")
            expect(field).to_have_value("")
        expect(page.locator("[data-what]")).to_have_text("Height 3L")
        expect(page.locator("[data-progress]")).to_contain_text("2 of ")
        page.locator("[data-walk] button", has_text="2L – 9R").click()
        for key in "2850":
            page.locator(f"[data-key='{key}']").click()
        page.get_by_role("button", name="Keep it, next").click()
        expect(page.locator("[data-question]")).to_contain_text("typed 2850, meant 2805?")
        page.get_by_role("button", name="2805.0 was meant").click()
        expect(page.locator("[data-what]")).not_to_have_text("Distance 2L – 9R")
        self.assertEqual([r.value for r in Reading.objects.filter(kind="distance", struck_why="")], [2805])
        field.fill("long")
        field.press("Enter")
        expect(page.locator("[data-errors]")).to_contain_text("is no length")
        expect(field).to_have_value("long")
        page.reload()
        expect(page.locator("[data-progress]")).to_contain_text("3 of ")
        page.locator("summary", has_text="Another reading").click()
        page.locator("#o-points").fill("1L 14R")
        page.get_by_role("button", name="Measure this").click()
        expect(page.locator("[data-what]")).to_have_text("Distance 1L – 14R")

    def test_what_another_device_enters_is_seen_here(self):
        made = open_round(self.mine, stage="found", taken_on=DAY, by="Wren")
        self.open(f"/v/{self.mine.pk}/datums/round/{made.number}/")
        expect(self.page.locator("[data-progress]")).to_contain_text("0 of ")
        url = f"/v/{self.mine.pk}/datums/round/{made.number}/save/"
        self.client.post(
            url, {"kind": "height", "points": ["1L"], "value": "284"}, content_type="application/json"
        )
        expect(self.page.locator("[data-progress]")).to_contain_text("1 of ", timeout=9000)

    def test_the_board_is_read_compared_and_turned(self):
        take_round(self.mine, "found", DAY, [-118.0, 3.0, -6.0], 1.0, "", by="Wren")
        take_round(self.mine, "braced", DAY, [-118.0, 0.0, 0.0], 0.4, "", by="Wren")
        page = self.page
        self.open(f"/v/{self.mine.pk}/datums/underside/?round=1")
        page.wait_for_selector("[data-datum-board][data-ready]")
        expect(page.locator(".dv-out .dv-h").first).to_be_attached()
        expect(page.locator(".dp")).to_have_count(24)
        page.locator("a.dlab[data-code='2L']").first.press("Enter")
        expect(page.locator(".bigtag b")).to_have_text("2L")
        page.wait_for_load_state("networkidle")
        page.get_by_label("Compared with").select_option("2")
        expect(page.locator(".vd")).to_contain_text("moved from round 2 to 1")
        page.get_by_role("link", name="Turn", exact=True).click()
        table = page.locator("[data-turntable][data-ready]")
        before = table.get_attribute("data-turn")
        table.focus()
        page.keyboard.press("ArrowRight")
        self.assertNotEqual(table.get_attribute("data-turn"), before)
        box, turned = table.bounding_box(), table.get_attribute("data-turn")
        page.mouse.move(box["x"] + 300, box["y"] + 500)
        page.mouse.down()
        page.mouse.move(box["x"] + 400, box["y"] + 470, steps=4)
        page.mouse.up()
        self.assertNotEqual(table.get_attribute("data-turn"), turned)

    def test_stands_are_moved_and_packers_worked_out(self):
        take_round(self.mine, "found", DAY, [-118.0, 3.0, -6.0], 1.0, "", by="Wren")
        page = self.page
        self.open(f"/v/{self.mine.pk}/datums/stands/")
        page.wait_for_selector("[data-stands-board][data-ready]")
        stand, field = page.locator("[data-handle='LF']"), page.locator("#id_s-0-x_mm")
        before = float(field.input_value())
        stand.focus()
        page.keyboard.press("ArrowRight")
        self.assertEqual(float(field.input_value()), before + 10)
        box = page.locator("[data-handle='LF'] rect").bounding_box()
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x - 30, y, steps=3)
        page.mouse.up()
        self.assertLess(float(field.input_value()), before)
        page.get_by_role("button", name="Work it out").click()
        expect(page.locator(".order")).to_contain_text("Raise R")
        page.get_by_role("button", name="The packers are in").click()
        expect(page.get_by_role("status").first).to_contain_text("Let the shell settle")
        self.assertEqual(StandSet.objects.get().log[0]["round"], 1)

    def test_a_lost_stud_is_tapped_on_the_board(self):
        repair(self.mine, [finding(self.mine)])
        page = self.page
        self.open(f"/v/{self.mine.pk}/repairs/1/marks/")
        page.wait_for_selector("[data-marks-board][data-ready]")
        for place in ((600, 420), (900, 420), (760, 300)):
            self.tap(*place)
        for label, value in (
            ("What is lost", "Stud"),
            ("First mark", "hinge bolt"),
            ("Second mark", "drain"),
            ("From the first mark, or along, mm", "200"),
            ("From the second, or across (left +), mm", "184.4"),
        ):
            page.get_by_label(label, exact=True).fill(value)
        page.get_by_role("button", name="Keep it").click()
        expect(page.get_by_role("status")).to_contain_text("T1 Stud is kept")
        self.assertAlmostEqual(TransferMark.objects.get().at[1], 300, delta=3)
