"""Refusals that no other test meets: what is asked, where it says the fault lies, and a word of what it says."""

import io
import json
import sys
import zipfile
from contextlib import ExitStack, redirect_stdout
from datetime import date
from unittest import TestCase, mock

from tests.core.formats.test_formats import bundle
from yellow_sill.core.calc import calculate, main
from yellow_sill.core.datum.starting_set import starting_points
from yellow_sill.core.errors import CoreError
from yellow_sill.core.formats.bundle import read_bundle, write_bundle
from yellow_sill.core.formats.bundle_base import BadBundle
from yellow_sill.core.formats.bundle_parts import Bundle
from yellow_sill.core.formats.datum_table import COLUMNS, read_datums
from yellow_sill.core.formats.survey_tables import read_findings
from yellow_sill.core.geometry import outline_polygon
from yellow_sill.core.survey.thickness import grid_cells

SQUARE = [[0, 0], [300, 0], [300, 200], [0, 200]]


def corner(name, x, y, z=0.0, **more):
    return {"id": name, "nominal": [x, y, z], "place": [x, y, z]} | more


BODY = [
    corner(f"{i}{hand}", x, y, z)
    for i, (x, z) in enumerate(((0, 0), (900, 40), (1800, 10), (2700, 60)))
    for hand, y in (("L", -400), ("R", 400))
]
POINTS = [{key: value for key, value in point.items() if key != "place"} for point in BODY]
FLATS = [
    {"id": f"F{i}", "xy": place, "height_mm": 0.0}
    for i, place in enumerate(([0, -400], [0, 400], [2000, -400], [2000, 400]))
]
SURVEY_PHOTO = {
    "view": "left", "panel": "L-SILL", "finding": None, "file": "0" * 32 + ".jpg", "caption": "", "taken_on": "2026-02-14", "by": "Wren", "trace": [],
    "reference": [], "size_mm": None, "distances_mm": None, "marks": [], "on_panel": [],
}  # fmt: skip
STANDS = [
    {"id": f"S{i}", "xy": place, "packed_mm": 0, "most_mm": 5}
    for i, place in enumerate(([0, -400], [0, 400], [2000, -400], [2000, 400]))
]


class Calculations(TestCase):
    REFUSED = {
        "two points of one name": ("shape", {"points": [*BODY, corner("0L", 5, 5)]}, "points", "same name"),
        "a covariance that is none": ("shape", {"points": [*BODY, corner("X", 5, 5, covariance_mm2=[[1, 0, 0], [0, -1, 0], [0, 0, 1]])]}, "points[8]", "none"),
        "a pair with a stranger": ("shape", {"points": BODY, "pairs": [["0L", "9R"]]}, "pairs[0]", "no point 9R"),
        "a face in one line": ("shape", {"points": BODY + [corner(f"X{i}", 0, i * 50) for i in range(3)], "faces": [{"id": "F", "points": ["X0", "X1", "X2"]}]}, "faces[0]", "one line"),
        "an angle without an arm": (
            "adjust",
            {"points": [*POINTS, {"id": "X", "nominal": [0, -400, 0]}], "readings": [{"id": "a", "kind": "angle", "points": ["X", "0L", "1L"], "value": 60, "sigma_mm": 1}]},
            "readings[0].points",
            "no length",
        ),
        "two corners on one spot": ("develop", {"outline": [*SQUARE, [0, 0]], "thickness_mm": 1}, "outline", "same spot"),
        "a gap wider than the piece": ("develop", {"outline": [[0, 0], [30, 0], [30, 20], [0, 20]], "thickness_mm": 1, "gap_mm": 15}, "gap_mm", "eats"),
        "a trace behind the horizon": (
            "rectify",
            {"reference": [[100, 300], [300, 300], [260, 200], [140, 200]], "size_mm": [85, 54], "trace": [[100, 300], [300, 300], [200, -400]]},
            "trace",
            "horizon",
        ),
        "a trace without area": (
            "rectify",
            {"reference": [[100, 100], [300, 100], [300, 200], [100, 200]], "size_mm": [85, 54], "trace": [[150, 150], [160, 150], [170, 150]]},
            "trace",
            "area",
        ),
        "a seam on one spot": ("tacks", {"path": [[5, 5], [5, 5]], "thickness_mm": 1, "tack_energy_J": 300}, "path", "no length"),
        "jobs that lie under one another": ("removal_order", None, "rules", "under itself"),
    }  # fmt: skip

    def test_each_says_where_and_what(self):
        from yellow_sill.core.hold.unitary import saloon_structure

        jobs = [{"id": name, "parts": [name]} for name in ("floor_L", "sill_inner_L")]
        ring = {"jobs": jobs, "rules": [["floor_L", "sill_inner_L"], ["sill_inner_L", "floor_L"]]}
        for name, (command, given, where, words) in self.REFUSED.items():
            with self.subTest(name), self.assertRaises(CoreError) as caught:
                calculate(command, saloon_structure() | ring if given is None else given)
            self.assertTrue(caught.exception.where.startswith(where), caught.exception.where)
            self.assertIn(words, caught.exception.message)

    def test_stands_too_low_and_outlines_too_fine(self):
        tilted = [flat | {"height_mm": 30.0 * (flat["xy"][0] > 0)} for flat in FLATS]
        with self.assertRaisesRegex(CoreError, "it reaches 5 mm"):
            calculate("level", {"flats": tilted, "stands": STANDS, "packers_mm": [3]})
        with self.assertRaisesRegex(CoreError, "More than"):
            outline_polygon([(i % 50, i // 50 + i % 2) for i in range(4000)], "x")
        with self.assertRaisesRegex(CoreError, "cells"):
            grid_cells([(0, 0), (9000, 0), (9000, 9000), (0, 9000)], 5.0)

    def test_the_command_line_refuses_what_is_no_text_and_too_much_of_it(self):
        class Bytes:
            def read(self, _):
                raise UnicodeDecodeError("utf-8", b"\xff", 0, 1, "invalid start byte")

        for words, stream, told in (
            (["tacks"], Bytes(), "UTF-8"),
            (["tacks"], io.StringIO(" " * 60_000_000), "larger than"),
            (["wings", "--schema"], io.StringIO(), "no calculation"),
        ):
            out = io.StringIO()
            with self.subTest(told), redirect_stdout(out), mock.patch.object(sys, "stdin", stream):
                self.assertEqual(main(words), 2)
            self.assertIn(told, json.loads(out.getvalue())["error"]["message"])


class Files(TestCase):
    HEAD = ",".join(COLUMNS)

    def test_tables(self):
        point = {"point": "2L", "x_mm": "1", "y_mm": "2", "z_mm": "3"}
        line = lambda **more: ",".join((point | more).get(name, "") for name in COLUMNS)
        for words, text in {
            "cannot be read": f'{self.HEAD}\n"{"x" * 200_000}"',
            "at most": "\n".join([self.HEAD, *(line(point=f"P{i}") for i in range(400))]),
        }.items():
            with self.subTest(words), self.assertRaisesRegex(CoreError, words):
                read_datums(text)
        for words, row in {
            "no source": line(source="hearsay"),
            "off every shell": line(x_mm="99999999"),
        }.items():
            with self.subTest(words):
                taken, [refused] = read_datums(f"{self.HEAD}\n{row}")
                self.assertEqual(taken, [])
                self.assertIn(words, refused.why)
        with self.assertRaisesRegex(CoreError, "cannot be read"):
            read_findings(f'view,panel,corners\nleft,L-SILL,"{"1" * 200_000}"', date(2026, 3, 1))
        stranger = json.dumps(
            {
                "findings": [
                    {"view": "left", "panel": "L-SILL", "corners": [[1, 2], [3, 4], [5, 9]], "colour": "red"}
                ]
            }
        )
        self.assertIn("Nobody knows 'colour'", read_findings(stranger, date(2026, 3, 1))[1][0].why)
        with self.assertRaisesRegex(CoreError, "No datum points"):
            starting_points("hovercraft", {})

    def test_a_bundle_that_is_damaged_or_too_large(self):
        data = write_bundle(Bundle.model_validate(bundle()), {})
        at = data.index(b"vehicle.json") + 60
        with self.assertRaises(BadBundle):
            read_bundle(data[:at] + bytes(byte ^ 255 for byte in data[at : at + 40]) + data[at + 40 :])
        whole = json.dumps(bundle())
        for words, limit, parts in (
            ("larger than 2 GB", {"MOST_BYTES": 10}, {"vehicle.json": whole}),
            ("more than 40 MB", {"MOST_JSON_BYTES": 10}, {"vehicle.json": whole}),
            ("more than 1500000 values", {}, {"vehicle.json": "[" + "1," * 1_500_001 + "1]"}),
            ("NUL", {}, {"vehicle.json": whole.replace("Dunlin", "Dun\\u0000lin")}),
            (
                "A photo of .* is missing",
                {},
                {"vehicle.json": json.dumps(bundle(survey_photos=[SURVEY_PHOTO]))},
            ),
            (
                "larger than 25 MB",
                {},
                {
                    "vehicle.json": json.dumps(bundle(survey_photos=[SURVEY_PHOTO])),
                    f"photos/{SURVEY_PHOTO['file']}": bytes(26_000_000),
                },
            ),
        ):
            stream = io.BytesIO()
            with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as archive:
                for name, content in parts.items():
                    archive.writestr(name, content)
            limits = [
                mock.patch(f"yellow_sill.core.formats.bundle_zip.{name}", value)
                for name, value in limit.items()
            ]
            with self.subTest(words), ExitStack() as stack, self.assertRaisesRegex(BadBundle, words):
                for each in limits:
                    stack.enter_context(each)
                read_bundle(stream.getvalue())
