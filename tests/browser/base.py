"""A real browser on a real server. A test fails on any console error, uncaught exception or refused resource."""

import os
import re

from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.test import override_settings
from playwright.sync_api import expect, sync_playwright

from tests.builders import owner
from yellow_sill.demo.shots import BROWSER_ARGUMENTS, chromium_path


@override_settings(DEBUG=False)
class BrowserCase(StaticLiveServerTestCase):
    viewport = {"width": 1280, "height": 800}
    touch = False

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "1")
        cls.playwright = sync_playwright().start()
        expect.set_options(timeout=15_000)
        cls.browser = cls.playwright.chromium.launch(executable_path=chromium_path(), args=BROWSER_ARGUMENTS)

    @classmethod
    def tearDownClass(cls):
        cls.browser.close()
        cls.playwright.stop()
        super().tearDownClass()

    def setUp(self):
        self.faults, self.asked = [], []
        self.owner = owner()
        self.context = self.browser.new_context(
            viewport=self.viewport, has_touch=self.touch, accept_downloads=True
        )
        self.page = self.context.new_page()
        # A page of a busy machine may take long; a page that hangs is found all the same.
        self.page.set_default_timeout(30_000)
        self.page.set_default_navigation_timeout(90_000)
        self.page.on("dialog", lambda dialog: (self.asked.append(dialog.type), dialog.accept()))
        self.page.on(
            "console",
            lambda message: (
                self.faults.append(message.text)
                if message.type == "error" and not re.search("status of 4|beforeunload", message.text)
                else None
            ),
        )
        self.page.on("pageerror", lambda error: self.faults.append(str(error)))
        self.page.on(
            "response",
            lambda answer: (
                self.faults.append(f"{answer.status} {answer.url}") if answer.status in (404, 500) else None
            ),
        )
        self.client.force_login(self.owner)
        cookie = self.client.cookies["sessionid"]
        self.context.add_cookies([{"name": "sessionid", "value": cookie.value, "url": self.live_server_url}])

    def tearDown(self):
        self.context.close()
        self.assertEqual(self.faults, [])

    def open(self, path):
        self.page.goto(self.live_server_url + path)
        self.page.wait_for_load_state("networkidle")

    def at(self, u, v):
        """Where a place of the drawing is on the screen, by the world group's own transform."""
        return self.page.evaluate(
            """([u, v]) => { const svg = document.querySelector('.board-svg'), box = svg.getBoundingClientRect();
               const [, x, y, k] = svg.querySelector('[data-world]').getAttribute('transform').match(/translate\\(([-\\d.]+) ([-\\d.]+)\\) scale\\(([-\\d.]+)\\)/).map(Number);
               return [box.left + x + u * k, box.top + y - v * k]; }""",
            [u, v],
        )

    def tap(self, u, v):
        x, y = self.at(u, v)
        if self.touch:
            self.page.touchscreen.tap(x, y)
        else:
            self.page.mouse.click(x, y)
