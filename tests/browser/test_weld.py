"""A sill end of three sheets welded on the tablet: a blow-through, a stop half way, a reload; closed after its check, protected, read in the record."""

from datetime import timedelta

from django.utils import timezone
from playwright.sync_api import expect

from tests.browser.base import BrowserCase
from tests.builders import DAY, finding, repair, vehicle
from yellow_sill.web.protect.models import Coat
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.weld.models import HotWork
from yellow_sill.web.weld.services import weld_of


class Welding(BrowserCase):
    viewport = {"width": 1180, "height": 820}
    touch = True

    def begun(self):
        mine = vehicle(self.owner)
        made = repair(mine, [finding(mine), finding(mine, "L-SILLI")])
        made.state, made.state_on = "fitted", DAY
        made.save()
        made.steps.create(state="fitted", made_on=DAY, by="Wren")
        return mine, made

    def test_the_torch_with_a_blow_through_a_stop_and_a_reload(self):
        mine, made = self.begun()
        page, here = self.page, f"/v/{mine.pk}/repairs/1/weld/"
        self.open(here)
        expect(page.locator("[data-next-head]")).to_have_text("Next: tack 1")
        for box in page.locator("[data-cautions] input").all():
            box.check()
        expect(page.locator("[data-tack]")).to_have_text("Tack 1 is done")
        page.locator("[data-torch]").click()
        expect(page.locator(".ys-rail")).to_be_hidden()
        high = page.locator("[data-wait]").bounding_box()["height"]
        self.assertGreater(high, 100, "read at two metres")
        page.locator("[data-next-lead]").tap()
        expect(page.locator("[data-next-n]")).to_have_text("2")
        page.wait_for_timeout(700)
        page.keyboard.press("b")
        expect(page.locator("[data-again] li")).to_have_count(1)
        expect(page.locator("[data-again]")).to_contain_text("Tack 2 blew through")
        page.wait_for_timeout(700)
        page.keyboard.press("Enter")
        expect(page.locator("[data-next-n]")).to_have_text("4")
        expect(page.locator("[data-going]")).to_contain_text("2 of")  # it is stored, and not on its way only
        page.locator("[data-torch]").click()
        expect(page.locator(".ys-rail")).to_be_visible()
        page.reload()
        expect(page.locator("[data-next-n]")).to_have_text("4")
        expect(page.locator("[data-going]")).to_contain_text("1 tack is to be put right")
        page.get_by_role("button", name="Put right").click()
        expect(page.locator("[data-again] li")).to_have_count(0)
        inner = made.cuts.order_by("-panel__layer").first()
        self.assertEqual([each["what"] for each in weld_of(inner).events], ["done", "blown", "done", "again"])

    def test_hot_work_is_watched_on_every_page(self):
        mine, _ = self.begun()
        page = self.page
        self.open(f"/v/{mine.pk}/hot-work/")
        for box in page.locator(".hot-list input[type=checkbox]").all():
            box.check()
        page.get_by_role("button", name="All seen to: begin").click()
        page.get_by_role("button", name="That was the last spark").click()
        expect(page.locator("b[data-until]")).to_contain_text("60")
        page.goto(f"{self.live_server_url}/v/{mine.pk}/")
        expect(page.locator(".ys-alerts")).to_contain_text("Fire watch until")
        HotWork.objects.update(last_spark_at=timezone.now() - timedelta(minutes=61))
        page.reload()
        expect(page.locator(".ys-alerts")).to_contain_text("say who watched")
        page.locator(".ys-alerts a").first.click()
        page.get_by_role("button", name="The watch is over").click()
        expect(page.locator(".looks")).to_contain_text("watched by")

    def test_from_the_inner_sheet_to_the_record(self):
        mine, made = self.begun()
        page, joints = self.page, f"/v/{mine.pk}/repairs/1/joints/"
        self.open(joints)
        for word in ("It is tacked", "It is welded"):
            page.locator(".sheets > li").first.get_by_role("button", name=word).click()
            expect(page.locator(".sheets > li").first.locator(".sheet-head")).to_contain_text(
                word.split()[-1]
            )
        self.open(f"/v/{mine.pk}/repairs/1/protect/")
        page.locator("a.face").first.tap()
        page.locator("#id_product").select_option("Epoxy primer, two-part")
        page.locator("#id_at_c").fill("20")
        page.get_by_role("button", name="It is on").click()
        expect(page.locator("a.face.is-on")).to_contain_text("the next coat may go on in")
        self.assertEqual(Coat.objects.count(), 1)
        self.open(f"/v/{mine.pk}/repairs/1/log/")
        expect(page.locator(".readies")).to_contain_text("Closing check")
        page.get_by_role("button", name="record as welded").click()
        expect(page.locator("[role=alert]").first).to_be_visible()
        page.locator("[name=step-despite-closing]").fill("Waxed through the wheel arch")
        page.locator("[name=step-despite-tacked]").fill("No datum near")
        page.get_by_role("button", name="record as welded").click()
        expect(page.locator(".ribbon .now")).to_contain_text("Welded")
        self.assertEqual(Repair.objects.get(pk=made.pk).state, "welded")
        self.open(f"/v/{mine.pk}/repairs/1/record/")
        for words in ("Waxed through the wheel arch", "Epoxy primer, two-part", "welded"):
            expect(page.locator(".record")).to_contain_text(words)

    def test_a_pinhole_is_tapped_and_welded_again(self):
        mine, made = self.begun()
        page, cut = self.page, made.cuts.first()
        self.open(f"/v/{mine.pk}/repairs/1/weld/checks/?cut={cut.number}")
        at = weld_of(cut).tack_plans[0]["tacks"][0]["at"]
        self.tap(*at)
        expect(page.locator("circle.pin:not(.key *)")).to_have_count(1)
        expect(page.locator(".readies")).to_contain_text("1 pinhole still open")
        page.get_by_role("button", name="Welded again").click()
        expect(page.locator(".readies")).to_contain_text("No light was held behind it yet")
