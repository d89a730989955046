"""A panel wanted, quoted thrice, ordered, come wrong, sent back, bought used, checked, fitted and paid, in a browser on a tablet."""

from datetime import timedelta

from playwright.sync_api import expect

from tests.browser.base import BrowserCase
from tests.builders import vehicle
from yellow_sill.web.frame import days


class Parts(BrowserCase):
    viewport = {"width": 820, "height": 1180}
    touch = True

    def step(self, state):
        form = self.page.locator("form:has(input[value=step])")
        form.locator("select").select_option(state)
        form.locator("button").click()

    def quote(self, address, name, source, price, **more):
        self.page.goto(address)
        box = self.page.locator("details:has(#id_price)")
        if box.get_attribute("open") is None:
            box.locator("summary").click()
        for field, value in {"name": name, "price": price, **more}.items():
            box.locator(f"#id_{field}").fill(value)
        box.locator("#id_source").select_option(source)
        self.page.get_by_text("Keep the quote").click()

    def take(self, number, why=""):
        self.page.select_option("#id_number", number)
        self.page.fill("#id_reason", why)
        self.page.get_by_role("button", name="Take it").click()

    def check(self, button, **typed):
        self.page.get_by_text("Check what came").click()
        for field in ("came", "has_ribs", "looked", "coating"):
            if field in typed:
                self.page.select_option(f"#id_{field}", typed.pop(field))
        for field, value in typed.items():
            self.page.fill(f"#id_{field}", value)
        self.page.get_by_role("button", name=button).click()

    def test_by_way_of_a_wrong_one(self):
        mine, page = vehicle(self.owner), self.page
        self.open(f"/v/{mine.pk}/parts/")
        page.fill("#id_name", "Front wing")
        page.select_option("#id_hand", "left")
        page.fill("#id_needed_by", f"{days.today() + timedelta(60)}")
        page.get_by_role("button", name="Write it down").click()
        page.wait_for_url("**/parts/1/")
        address = page.url
        self.quote(
            address,
            "Lantern Panels",
            "reproduction",
            "231,00",
            carriage="18.50",
            back="18.50",
            back_until=f"{days.today() + timedelta(14)}",
        )
        self.quote(address, "Old Tin Barn", "nos", "1.262,00")
        self.quote(address, "Harbour Breakers", "used", "120", carriage="30")
        expect(page.locator(".quotes thead th")).to_have_count(4)
        self.step("quoted")
        self.take("1", "the used one is bent")
        self.step("ordered")
        self.step("arrived")
        self.step("checked")
        expect(page.locator(".ys-err")).to_contain_text("Nobody has held it against the car")
        self.check("Write the check down", came="right", sizes="length, 1120, 1120.5")
        expect(page.locator(".verdict")).to_contain_text("14 days left")
        page.get_by_text("Back to the need").click()
        self.step("returned")
        self.step("quoted")
        self.take("3")
        self.step("ordered")
        self.step("arrived")
        self.check("Check it again" if page.get_by_text("Check it again").count() else "Write the check down", came="left", sizes="length, 1120, 1121",
                   has_ribs="no", bow="3", looked="yes", missing="splash plate bracket", coating="bare")  # fmt: skip
        expect(page.locator(".verdict")).to_contain_text("It can be made to fit")
        page.get_by_text("Back to the need").click()
        self.step("checked")
        self.step("fitted")
        self.open(f"/v/{mine.pk}/parts/receipts/new/")
        for field, value in {"supplier": "Harbour Breakers", "carriage": "30", "printed": "160", "line0-item": "Front wing, used", "line0-unit_price": "120",
                             "line0-tax_rate": "0"}.items():  # fmt: skip
            page.fill(f"#id_{field}", value)
        page.select_option("#id_line0-kind", "part")
        page.select_option("#id_line0-need", index=1)
        page.get_by_role("button", name="More lines").click()
        expect(page.locator("#id_line0-item")).to_have_value("Front wing, used")
        page.get_by_role("button", name="Keep the receipt").click()
        expect(page.locator(".ys-err")).to_contain_text("10.00 off")
        page.fill("#id_printed", "150")
        page.get_by_role("button", name="Keep the receipt").click()
        page.wait_for_url("**/receipts/1/")
        page.goto(address)
        expect(page.get_by_text("Paid:")).to_contain_text("150.00")
        self.assertEqual(mine.cost_lines.get().gross_minor, 15000)
