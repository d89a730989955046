from axe_playwright_python.sync_playwright import Axe

from tests.browser.base import BrowserCase
from tests.builders import finding, repair, vehicle


class EveryPage(BrowserCase):
    PAGES = (
        "v/{0}/", "v/{0}/survey/left/", "v/{0}/survey/underside/", "v/{0}/survey/finding/1/", "v/{0}/survey/finding/1/?edit", "v/{0}/survey/left/new/",
        "v/{0}/repairs/", "v/{0}/repairs/new/?finding=1", "v/{0}/repairs/1/cut/", "v/{0}/repairs/1/patch/", "v/{0}/repairs/1/weld/", "v/{0}/repairs/1/log/",
        "v/{0}/repairs/1/record/", "v/{0}/logbook/", "vehicles/", "vehicles/new/", "vehicles/import/",
    )  # fmt: skip

    def violations(self, path):
        self.open("/" + path)
        found = Axe().run(self.page).response["violations"]
        return [f"{v['id']}: {v['nodes'][0]['html'][:110]}" for v in found if v["impact"] in ("serious", "critical")]

    def test_no_serious_violation(self):
        mine = vehicle(self.owner)
        repair(mine, [finding(mine)])
        for path in self.PAGES:
            with self.subTest(path):
                self.assertEqual(self.violations(path.format(mine.pk)), [])

    def test_the_door(self):
        self.context.clear_cookies()
        self.assertEqual(self.violations("sign-in/"), [])

    def test_the_board_fits_the_window_without_a_scroll_bar(self):
        mine = vehicle(self.owner)
        repair(mine, [finding(mine)])
        for path in self.PAGES[:14]:
            with self.subTest(path):
                self.open("/" + path.format(mine.pk))
                self.assertEqual(self.page.evaluate("[document.documentElement.scrollHeight, document.documentElement.scrollWidth]"), [800, 1280])
