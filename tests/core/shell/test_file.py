"""A shell as a file, corrections by hand, outlines from drawings."""

import json
from dataclasses import asdict
from unittest import TestCase

import jsonschema

from tests.builders import BODY, shell
from yellow_sill.core.errors import CoreError
from yellow_sill.core.formats.dxf import dxf_file
from yellow_sill.core.formats.outlines import outline_from_file
from yellow_sill.core.formats.sketch import Sketch
from yellow_sill.core.shell.correct import corrected_panel, new_hole
from yellow_sill.core.shell.file import ShellFile, read_shell, shell_schema, write_shell

SQUARE = [[0, 0], [100, 0], [100, 80], [0, 80]]


def saved(**changes):
    values = {
        "format": "yellow-sill.shell/1",
        "body_type": BODY,
        "dimensions_mm": {},
        "views": [asdict(view) for view in shell().views],
    }
    return values | changes


class ShellFiles(TestCase):
    def test_out_and_in_is_the_same_and_keeps_to_the_schema(self):
        record = ShellFile.read(saved())
        text = write_shell(record)
        self.assertEqual(read_shell(text), record)
        jsonschema.validate(json.loads(text), shell_schema())

    def test_what_is_no_shell_is_refused_with_its_place(self):
        view = asdict(shell().views[0])
        crossed = {**view["panels"][0], "outline": [[0, 0], [9, 9], [9, 0], [0, 9]]}
        for text, where in (
            ("{", "shell file"),
            ("[]", "shell file"),
            (json.dumps(saved(format="x")), "format"),
            (json.dumps(saved(views=[view, view])), "views"),
            (
                json.dumps(saved(views=[{**view, "panels": [view["panels"][0]] * 2}])),
                "views[0].panels[1].code",
            ),
            (json.dumps(saved(views=[{**view, "panels": [crossed]}])), "views[0].panels[0].outline"),
        ):
            with self.subTest(where), self.assertRaises(CoreError) as caught:
                read_shell(text)
            self.assertEqual(caught.exception.where, where)


class Corrections(TestCase):
    GOOD = {
        "code": "l-tray",
        "name": "Battery tray",
        "mirror_code": "",
        "layer": 1,
        "thickness_mm": 1.2,
        "corners": SQUARE,
        "taken": ["L-SILL"],
    }

    def test_a_new_panel(self):
        made = corrected_panel(**self.GOOD)
        self.assertEqual((made.code, made.outline[0]), ("L-TRAY", [0.0, 0.0]))

    def test_what_cannot_be_is_refused(self):
        for changes, where in (({"code": "L SILL"}, "code"), ({"code": "L-SILL"}, "code"), ({"mirror_code": "l-tray"}, "mirror_code"), ({"mirror_code": "?"}, "mirror_code"), ({"name": " "}, "name"),
                               ({"layer": 4}, "layer"), ({"thickness_mm": 9}, "thickness_mm"), ({"corners": SQUARE[:2]}, "corners")):  # fmt: skip
            with self.subTest(where), self.assertRaises(CoreError) as caught:
                corrected_panel(**self.GOOD | changes)
            self.assertEqual(caught.exception.where, where)

    def test_holes_stay_inside_and_apart(self):
        hole = [[20, 20], [40, 20], [40, 40], [20, 40]]
        self.assertEqual(len(new_hole(hole, SQUARE, [])), 4)
        for bad, others in (([[80, 20], [120, 20], [120, 40]], []), (hole, [[[30, 30], [60, 30], [60, 60]]])):
            with self.assertRaises(CoreError):
                new_hole(bad, SQUARE, others)


class Drawings(TestCase):
    def test_an_outline_from_svg_in_millimetres_the_right_way_up(self):
        svg = '<svg xmlns="http://www.w3.org/2000/svg" width="200mm" height="100mm" viewBox="0 0 200 100"><path d="M10 10h5v5z"/><path d="M20 90H120V40L20 60Z"/></svg>'
        outline = outline_from_file(svg.encode(), "part.SVG", (500, 300))
        self.assertEqual(
            sorted(tuple(round(value, 1) for value in corner) for corner in outline),
            [(500, 300), (500, 330), (600, 300), (600, 350)],
        )

    def test_a_circle_becomes_short_straight_pieces(self):
        outline = outline_from_file(
            b'<svg xmlns="http://www.w3.org/2000/svg" width="1in" height="1in" viewBox="0 0 96 96"><circle cx="48" cy="48" r="48"/></svg>',
            "hole.svg",
        )
        us = [u for u, _ in outline]
        self.assertGreater(len(outline), 12)
        self.assertAlmostEqual(max(us) - min(us), 25.4, delta=0.3)

    def test_an_outline_from_our_own_dxf(self):
        sketch = Sketch()
        sketch.stroke("flat", SQUARE, closed=True)
        sketch.stroke("bend up", [[0, 0], [9, 9]])
        self.assertEqual(
            sorted(map(tuple, outline_from_file(dxf_file(sketch).encode(), "x.dxf"))),
            sorted(map(tuple, SQUARE)),
        )

    def test_what_is_no_drawing_is_refused(self):
        for data, name in (
            (b"x", "x.png"),
            (b"<svg", "x.svg"),
            (b"<svg xmlns='http://www.w3.org/2000/svg'/>", "x.svg"),
            (b"nonsense", "x.dxf"),
            (b"0" * 2_000_001, "x.svg"),
            (b"", "svg"),
        ):
            with self.subTest(name), self.assertRaises(CoreError):
                outline_from_file(data, name)
