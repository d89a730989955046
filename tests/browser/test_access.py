from datetime import time

from axe_playwright_python.sync_playwright import Axe

from tests.browser.base import BrowserCase
from tests.builders import DAY, finding, picture, repair, vehicle
from yellow_sill.core.order.asked import PlanRequest
from yellow_sill.core.order.plan import plan
from yellow_sill.demo.datums import take_round
from yellow_sill.demo.money_lines import receipt_head, receipt_line
from yellow_sill.web.frame import days
from yellow_sill.web.logbook.services import add_photo
from yellow_sill.web.order.plan_services import as_answer, asked_of, take_plan
from yellow_sill.web.order.slot_services import add_slots, rhythm
from yellow_sill.web.parts.bank_services import keep_statement
from yellow_sill.web.parts.money_services import keep_budget
from yellow_sill.web.parts.need_services import go_on, keep_need
from yellow_sill.web.parts.receipt_services import keep_receipt
from yellow_sill.web.survey.photo_services import add_survey_photo


class EveryPage(BrowserCase):
    PAGES = (
        "v/{0}/", "v/{0}/survey/left/", "v/{0}/survey/underside/", "v/{0}/survey/finding/1/", "v/{0}/survey/finding/1/?edit", "v/{0}/survey/left/new/",
        "v/{0}/repairs/", "v/{0}/repairs/new/?finding=1", "v/{0}/repairs/1/cut/", "v/{0}/repairs/1/patch/", "v/{0}/repairs/1/fit/", "v/{0}/repairs/1/opening/", "v/{0}/repairs/1/weld/", "v/{0}/repairs/1/log/",
        "v/{0}/repairs/1/record/", "v/{0}/logbook/", "v/{0}/survey/finding/1/?again", "v/{0}/survey/finding/1/grid/", "v/{0}/survey/list/", "v/{0}/survey/compare/",
        "v/{0}/survey/report/", "v/{0}/survey/take-in/", "v/{0}/survey/panel/{1}/", "v/{0}/survey/photo/{2}/", "v/{0}/shell/left/?panel=L-SILL",
        "v/{0}/datums/underside/", "v/{0}/datums/left/", "v/{0}/datums/turntable/", "v/{0}/datums/rounds/", "v/{0}/datums/round/1/", "v/{0}/datums/round/1/type-in/",
        "v/{0}/datums/book/", "v/{0}/datums/book/2L/", "v/{0}/datums/stands/", "v/{0}/repairs/1/marks/",
        "v/{0}/repairs/1/options/", "v/{0}/repairs/1/around/", "v/{0}/repairs/1/release/", "v/{0}/repairs/rules/", "v/{0}/hold/", "v/{0}/hold/?view=left",
        "v/{0}/hold/?try=1&out=floor_L&out=sill_inner_L&brace=ATR-BBL&advise=1", "v/{0}/hold/ways/", "v/{0}/hold/order/?job=floor_L&job=sill_inner_L&job=sill_outer_L",
        "v/{0}/hold/braces/", "v/{0}/hold/measured/", "v/{0}/stock/", "v/{0}/bench/?kind=shape", "v/{0}/bench/?kind=gauge&text=18+swg",
        "v/{0}/parts/", "v/{0}/parts/1/", "v/{0}/parts/1/arrival/", "v/{0}/parts/orders/", "v/{0}/parts/money/?budget=1", "v/{0}/parts/receipts/new/",
        "v/{0}/parts/receipts/1/", "v/{0}/parts/bank/", "v/{0}/parts/bank/1/", "v/{0}/parts/customer/", "v/{0}/parts/surplus/", "v/{0}/parts/money/line/",
        "v/{0}/parts/money/in/", "v/{0}/strip/", "v/{0}/plan/", "v/{0}/plan/?step=R1:round", "v/{0}/plan/calendars/", "v/{0}/plan/what-if/?helped=yes",
        "v/{0}/find/?q=sill", "v/{0}/time-line/", "v/{0}/metal/", "v/{0}/handing-over/", "v/{0}/write-down/", "v/{0}/taught/", "v/{0}/photos/", "v/{0}/photos/?photo={3}", "v/{0}/before-and-after/",
        "v/{0}/plan/now/?minutes=40&hands=1&sparks=no&off_the_shell=no",
        "vehicles/", "vehicles/new/", "vehicles/import/",
    )  # fmt: skip

    def filled(self, mine):
        """One of each thing; the keys that the pages' addresses need."""
        found = finding(mine)
        repair(mine, [found])
        take_round(mine, "found", DAY, [-118.0, 3.0, -6.0], 1.0, "", by="Wren")
        photo = add_survey_photo(
            found.panel, found, picture(), caption="card", taken_on=found.found_on, by="Wren"
        )
        shown = add_photo(mine.repairs.get(), picture(), caption="Behind", taken_on=DAY, by="Wren")
        self.bought(mine)
        add_slots(mine, rhythm(days.today(), 5, 8), time(9), time(14), hands=1, note="", by="Wren")
        told = plan(PlanRequest.read(asked_of(mine, days.now())[0]))
        take_plan(mine, as_answer(told), version=None, today=days.today(), by="Wren")
        return mine.pk, found.panel_id, photo.pk, shown.pk

    def bought(self, mine):
        """A need that came, a receipt, a budget, a statement."""
        values = {"name": "Outer sill", "hand": "left"}
        need = keep_need(mine, values, photo=None, stored=None, version=None, today=DAY, by="Wren")
        for state in ("ordered", "arrived"):
            go_on(need, state, day=DAY, today=DAY, why="by telephone", by="Wren")
        row = receipt_line("Outer sill", 1, "148.00", "20", "part", None, need.pk)
        keep_receipt(
            mine,
            receipt_head(0, "Lantern Panels", DAY),
            [row],
            upload=None,
            stored_as=None,
            version=None,
            by="Wren",
        )
        keep_budget(
            mine,
            {"name": "Sill", "amount": 100, "repairs": [1], "kinds": []},
            stored=None,
            version=None,
            by="Wren",
        )
        keep_statement(
            mine, "bank.csv", [["Day", "Text", "Out"], ["2026-03-01", "LANTERN", "-148,00"]], by="Wren"
        )

    def violations(self, path):
        self.open("/" + path)
        found = Axe().run(self.page).response["violations"]
        return [
            f"{v['id']}: {v['nodes'][0]['html'][:110]}"
            for v in found
            if v["impact"] in ("serious", "critical")
        ]

    def test_no_serious_violation(self):
        mine = vehicle(self.owner)
        keys = self.filled(mine)
        for path in self.PAGES:
            with self.subTest(path):
                self.assertEqual(self.violations(path.format(*keys)), [])

    def test_the_door(self):
        self.context.clear_cookies()
        self.assertEqual(self.violations("sign-in/"), [])

    def test_the_board_fits_the_window_without_a_scroll_bar(self):
        mine = vehicle(self.owner)
        keys = self.filled(mine)
        for path in self.PAGES[:-3]:
            with self.subTest(path):
                self.open("/" + path.format(*keys))
                self.assertEqual(
                    self.page.evaluate(
                        "[document.documentElement.scrollHeight, document.documentElement.scrollWidth]"
                    ),
                    [800, 1280],
                )
