"""The datum stage: book, rounds, board, stands, gate, transfer marks."""

import io
import json
from threading import Thread

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase, override_settings
from django.urls import reverse
from pypdf import PdfReader

from tests.builders import DAY, owner, vehicle
from yellow_sill.demo.datums import OFF, TRUSTED, take_round
from yellow_sill.devices.simulated import serve
from yellow_sill.web.datums.models import DatumPoint, Reading
from yellow_sill.web.datums.plan_services import open_round

STRAIGHT = [-118.0, 3.0, -6.0]


class DatumCase(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = owner()
        cls.vehicle = vehicle(cls.owner)
        for point in cls.vehicle.datum_points.filter(code__in=TRUSTED):
            point.save_as(None, "Wren", trusted=True)

    def setUp(self):
        self.client.force_login(self.owner)

    def url(self, name, *args):
        return reverse(f"datums:{name}", args=[self.vehicle.pk, *args])

    def send(self, name, *args, **values):
        return self.client.post(
            self.url(name, *args),
            json.dumps(values),
            content_type="application/json",
            headers={"Accept": "application/json"},
        )

    def a_round(self, stage="braced", share=1.0, day=DAY, about="", count=None):
        made = take_round(self.vehicle, stage, day, STRAIGHT, share, "", by="Wren", about=about)
        if count is not None:
            for reading in list(made.readings.all())[count:]:
                reading.delete()
        return made

    def point_values(self, **changes):
        point = self.vehicle.datum_points.get(code="2L")
        names = (
            "code",
            "name",
            "kind",
            "how",
            "x_mm",
            "y_mm",
            "z_mm",
            "source",
            "source_note",
            "tolerance_mm",
            "mirror_code",
            "version",
        )
        return {name: getattr(point, name) for name in names} | changes


class Book(DatumCase):
    def test_a_new_vehicle_brings_its_set_and_an_emptied_book_is_filled_again(self):
        self.assertEqual(self.vehicle.datum_points.count(), 28)
        self.assertContains(self.client.get(self.url("book")), "Rear outrigger")
        self.vehicle.datum_points.all().delete()
        self.assertContains(self.client.get(self.url("board", "left")), "No datum points")
        self.assertContains(
            self.client.post(self.url("starting_set"), follow=True), "28 points of the body type"
        )
        self.assertContains(self.client.post(self.url("starting_set"), follow=True), "nothing more to bring")

    def test_a_point_is_added_changed_trusted_mirrored_and_protected(self):
        values = self.point_values(code="20L", x_mm="1200,5", version="")
        self.client.post(self.url("new_point"), values)
        made = DatumPoint.objects.get(code="20L")
        self.assertEqual((made.x_mm, made.typed[0]), (1200.5, "1200,5"))
        self.assertContains(
            self.client.post(self.url("new_point"), values), "There is a point 20L already", status_code=422
        )
        self.assertContains(
            self.client.post(self.url("new_point"), values | {"code": "a b"}),
            "letters and figures",
            status_code=422,
        )
        self.assertContains(
            self.client.post(self.url("new_point"), values | {"code": "Z", "x_mm": "far"}),
            "is not a number",
            status_code=422,
        )
        self.client.post(self.url("point", "2L"), self.point_values(tolerance_mm="2"))
        self.assertEqual(DatumPoint.objects.get(code="2L").tolerance_mm, 2)
        self.assertContains(
            self.client.post(self.url("point", "2L"), self.point_values(name="Mine", version=1)),
            "saved this while",
            status_code=409,
        )
        self.client.post(self.url("trust"), {"trusted": ["2L"]})
        self.assertEqual([p.code for p in self.vehicle.datum_points.filter(trusted=True)], ["2L"])
        self.assertContains(self.client.post(self.url("from_round", "2L"), follow=True), "not measured yet")
        stale = self.vehicle.datum_points.get(code="3L")
        type(stale).objects.filter(code="3L").update(name="Renamed a moment ago")
        stale.set_fields("Wren", trusted=True)
        self.assertEqual(self.vehicle.datum_points.get(code="3L").name, "Renamed a moment ago")
        self.client.post(self.url("trust"), {"trusted": list(TRUSTED)})
        self.client.post(self.url("delete_point", "20L"))
        self.assertFalse(DatumPoint.objects.filter(code="20L").exists())
        made = self.a_round()
        self.assertContains(
            self.client.post(self.url("from_round", "2L"), follow=True),
            f"2R in round {made.number}, mirrored",
        )
        mirrored = DatumPoint.objects.get(code="2L")
        self.assertAlmostEqual(mirrored.y_mm, -(376 + OFF["2R"][1]), delta=4)
        self.assertEqual(mirrored.source, "mirrored")
        self.client.post(self.url("from_round", "2L"), {"what": "own", "round": made.number})
        own = DatumPoint.objects.get(code="2L")
        self.assertEqual((own.source, own.source_note), ("measured", f"2L in round {made.number}"))
        self.assertAlmostEqual(own.z_mm, 342 + OFF["2L"][2], delta=4)
        self.assertContains(
            self.client.post(self.url("delete_point", "2L"), follow=True), "Readings hang on 2L"
        )
        self.assertContains(
            self.client.post(self.url("point", "2L"), self.point_values(code="2X")),
            "it keeps its name",
            status_code=422,
        )

    def test_the_table_goes_out_and_in_and_bad_rows_are_named(self):
        text = self.client.get(self.url("table")).content.decode("utf-8-sig")
        self.assertIn('2L,"Mount', text)
        send = lambda body: self.client.post(
            self.url("take_in"), {"table": SimpleUploadedFile("t.csv", body.encode())}, follow=True
        )
        self.assertContains(send(text), "0 points added, 28 changed")
        self.assertContains(
            send("point;x_mm;y_mm;z_mm;trusted\n2L;-209,5;-376;342;yes\nN1;1;2;3;no\n"),
            "1 points added, 1 changed",
        )
        self.assertEqual(DatumPoint.objects.get(code="2L").x_mm, -209.5)
        for body, words in (
            ("point,x_mm,y_mm,z_mm\n2L,a,1,1\n", "x_mm: &#x27;a&#x27; is no number"),
            ("point,x_mm,y_mm,z_mm\n,1,1,1\n", "is no name for a point"),
            ("point,x_mm,y_mm,z_mm\nA,1,1,1\nA,1,1,1\n", "A is there twice"),
            ("point,x_mm,y_mm,z_mm,kind\nA,1,1,1,blob\n", "no kind"),
            ("point,x_mm,y_mm,z_mm,trusted\nA,1,1,1,maybe\n", "Trusted is yes or no"),
            ("point,x_mm,y_mm,z_mm,tolerance_mm\nA,1,1,1,0\n", "tolerance of 0"),
            ("point,x_mm,y_mm\nA,1,1\n", "z_mm&#x27; is missing"),
            ("point,x_mm,y_mm,z_mm,wings\nA,1,1,1,2\n", "Nobody knows the column"),
            ("point,x_mm,y_mm,z_mm\n", "no point in this file"),
        ):
            self.assertContains(send(body), words, status_code=422)
        self.assertEqual(DatumPoint.objects.filter(code="A").count(), 0)


class Entering(DatumCase):
    def setUp(self):
        super().setUp()
        self.round = open_round(self.vehicle, stage="found", taken_on=DAY, by="Wren")

    def read(self, value, points=("2L", "9R"), kind="distance", **more):
        return self.send("save", self.round.number, kind=kind, points=list(points), value=value, **more)

    def test_a_reading_is_kept_at_once_doubted_replaced_repeated_and_struck(self):
        told = self.read("2850").json()
        self.assertIn("45 mm from the drawing: typed 2850, meant 2805?", told["question"])
        self.assertEqual((Reading.objects.count(), told["meant_typed"]), (1, "2805"))
        again = self.read("2805", replaces=told["value"]["pk"]).json()
        self.assertEqual(again["question"], "")
        self.assertIn("mistyped", Reading.objects.first().struck_why)
        spread = self.read("2815", ("9R", "2L")).json()["spread"]
        self.assertIn("10.0 mm apart", spread)
        pk = Reading.objects.last().pk
        self.send("strike", self.round.number, reading=pk, why="tape slipped")
        self.assertIn("tape slipped", Reading.objects.get(pk=pk).struck_why)
        self.send("strike", self.round.number, reading=pk, back=True)
        self.assertEqual(Reading.objects.get(pk=pk).struck_why, "")
        later = open_round(self.vehicle, stage="levelled", taken_on=DAY, by="Wren")
        asked = self.send("save", later.number, kind="distance", points=["2L", "9R"], value="2850").json()[
            "question"
        ]
        self.assertIn("from last time", asked)
        self.client.post(reverse("accounts:display"), {"unit": "in"})
        self.assertIn(
            "in from last time: typed 112 13/64, 110 53/64 expected",
            self.send("save", later.number, kind="distance", points=["2L", "9R"], value="112.205").json()[
                "question"
            ],
        )
        self.client.post(reverse("accounts:display"), {"unit": "mm"})
        self.assertEqual(
            self.read("356", ("1L",), "offset_y").json()["value"]["mm"], -356, "the left side's sign is known"
        )

    def test_every_refusal_names_what_is_wrong_and_keeps_nothing(self):
        for values, words in (
            (("",), "Nothing is typed"), (("long",), "is no length"), (("-5",), "no distance"), (("99999",), "no distance"),
            (("10", ("2L",)), "joins 2 different points"), (("10", ("2L", "2L")), "joins 2 different points"), (("10", ("2L", "Z9")), "no point Z9"),
            (("10", ("2L",), "guess"), "no such kind"), (("200", ("1L", "2L", "3L"), "angle"), "no angle"), (("x", ("1L", "2L", "3L"), "angle"), "is no angle"),
        ):  # fmt: skip
            answer = self.read(*values)
            self.assertEqual(answer.status_code, 422)
            self.assertIn(words, answer.json()["error"]["what"])
        for name, values in (
            ("save", {"points": "2L"}),
            ("strike", {"reading": 999}),
            ("strike", {"reading": "x"}),
            ("save", {"kind": "height", "points": ["1L"], "device": True}),
        ):
            with override_settings(DEVICES={"tape": "127.0.0.1:1", "level": "127.0.0.1:1"}):
                self.assertEqual(self.send(name, self.round.number, **values).status_code, 422)
        self.assertEqual(Reading.objects.count(), 0)
        self.assertContains(
            self.client.post(self.url("delete_round", self.round.number), follow=True), "thrown away"
        )

    def test_two_people_enter_at_once_and_see_each_other(self):
        self.read("2805")
        state = self.client.get(self.url("state", self.round.number)).json()["steps"]
        step = next(step for step in state if step["key"] == "distance 2L 9R")
        self.assertEqual([value["mm"] for value in step["values"]], [2805])
        self.assertEqual(state[0]["kind"], "height", "the walk begins with the level")

    def test_devices_are_read_through_one_adapter(self):
        with serve("tape", 0, seed=3) as tape, serve("level", 0, seed=3) as level:
            for device in (tape, level):
                Thread(target=device.serve_forever, daemon=True).start()
            addresses = {
                name: f"127.0.0.1:{d.server_address[1]}" for name, d in (("tape", tape), ("level", level))
            }
            with override_settings(DEVICES=addresses):
                answers = [
                    self.read("", device=True),
                    self.read("", ("2L",), "height", device=True),
                    self.read("", ("2L", "4R"), device=True),
                ]
            tape.shutdown()
            level.shutdown()
        taken = [answer.json()["value"] for answer in answers if answer.status_code == 200]
        self.assertGreaterEqual(len(taken), 2)
        self.assertLessEqual({value["told"].rpartition(", ")[2] for value in taken}, {"tape", "level"})
        self.assertEqual(
            self.read("", ("1L",), "offset_y", device=True).json()["error"]["what"],
            "No device reads this kind.",
        )

    def test_a_sheet_is_printed_and_typed_in_in_the_same_order(self):
        pdf = self.client.get(self.url("sheet", self.round.number))
        text = "".join(page.extract_text() for page in PdfReader(io.BytesIO(pdf.content)).pages)
        self.assertIn("1L - 1R", text)
        first = next(i for i, (kind, codes) in enumerate(self.round.plan) if codes == ["2L", "9R"])
        self.assertContains(self.client.get(self.url("type_in", self.round.number)), "2L – 9R")
        answer = self.client.post(
            self.url("type_in", self.round.number), {"r0": "284", f"r{first}": "2850", "r1": "abc"}
        )
        self.assertContains(answer, "abc", status_code=422)
        self.assertContains(answer, "meant 2805", status_code=422)
        self.assertEqual(Reading.objects.count(), 2)

    def test_what_to_read_next_and_what_is_not_fixed_yet(self):
        self.assertEqual(self.client.get(self.url("next", self.round.number)).status_code, 422)
        self.assertContains(
            self.client.get(self.url("datums") + f"?round={self.round.number}", follow=True),
            "Nothing is read yet",
        )
        made = self.a_round("levelled", count=60)
        told = self.client.get(self.url("next", made.number)).json()
        self.assertEqual(len(told["readings"]), 5)
        page = self.client.get(self.url("board", "underside") + f"?round={made.number}")
        self.assertContains(page, "not fixed")
