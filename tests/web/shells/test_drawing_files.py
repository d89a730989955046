"""Drawings made to do harm, and honest large ones."""

import io
import math
import sys
import time
from unittest import TestCase, mock

import ezdxf

from yellow_sill.core.errors import BadField
from yellow_sill.core.formats.outlines import UnitUnknown, outline_from_file
from yellow_sill.web.shells import drawing_files
from yellow_sill.web.shells.drawing_files import outline_of_drawing

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="400mm" height="400mm" viewBox="0 0 400 400">'


def around(count):
    return [
        (200 + 150 * math.cos(i * math.tau / count), 200 + 150 * math.sin(i * math.tau / count))
        for i in range(count)
    ]


def svg(path):
    return f'{HEAD}<path d="{path}"/></svg>'.encode()


def lines(count):
    return svg("M" + "L".join(f"{x:.3f},{y:.3f}" for x, y in around(count)) + "Z")


def echoes(levels):
    told = "".join(f'<g id="a{i}">' + f'<use xlink:href="#a{i - 1}"/>' * 6 + "</g>" for i in range(1, levels))
    shape = '<path id="a0" d="M0,0L1,0L1,1Z"/>'
    return f'{HEAD}<defs>{shape}{told}</defs><use xlink:href="#a{levels - 1}"/></svg>'.encode()


def bulged(bulge):
    document = ezdxf.new()
    document.header["$INSUNITS"] = 4
    document.modelspace().add_lwpolyline(
        [(0, 0, bulge), (100, 0, 0), (100, 100, 0)], format="xyb", close=True
    )
    stream = io.StringIO()
    document.write(stream)
    return stream.getvalue().encode()


class Hostile(TestCase):
    def test_what_is_made_to_do_harm_is_refused_in_words_and_soon(self):
        for name, data, words in (
            ("a.svg", echoes(12), "again too many times"),
            ("a.svg", f'{HEAD}<g id="a"><use xlink:href="#a"/></g></svg>'.encode(), "again too many times"),
            (
                "a.svg",
                HEAD.encode() + b"<g>" * 5000 + b"</g>" * 5000 + b"</svg>",
                "again too many|cannot be read",
            ),
            ("a.svg", lines(21_000), "more than 20 ?000 points"),
            ("a.svg", svg("M0,0C1e300,0 0,1e300 10,0Z"), "points|no place|cannot be read|no closed"),
            (
                "a.svg",
                b'<!DOCTYPE s [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "' + b"&a;" * 5000 + b'">]><svg>&b;</svg>',
                "say in which unit|cannot be read",
            ),
            ("a.dxf", bulged(1e12), "beyond a full circle"),
            ("a.dxf", b"0\nSECTION\n" * 900, "cannot be read|no closed|say in which unit"),
        ):
            begun = time.monotonic()
            with self.subTest(words), self.assertRaisesRegex(BadField, words):
                outline_of_drawing(data, name, (0, 0), "")
            self.assertLess(time.monotonic() - begun, 10)

    def test_a_reader_that_takes_too_much_memory_or_time_is_ended(self):
        run = drawing_files.subprocess.run
        for work in ("bytearray(400_000_000)", "[0 for _ in iter(int, 1)]"):
            code = f"import yellow_sill.core.formats.drawing_worker as w; w.outline_from_file = lambda *_: {work}; w.main()"
            broken = lambda _told, code=code, **more: run([sys.executable, "-c", code], **more)
            with (
                mock.patch.object(drawing_files.subprocess, "run", broken),
                self.assertRaisesRegex(BadField, "time or memory"),
            ):
                outline_of_drawing(lines(50), "a.svg", (0, 0), "")

    def test_honest_ones_come_as_they_do_in_the_core_and_refusals_keep_their_kind(self):
        for name, data in (("a.svg", lines(300)), ("a.dxf", bulged(0.5))):
            self.assertEqual(
                outline_of_drawing(data, name, (5, 7), ""), outline_from_file(data, name, (5, 7))
            )
        with self.assertRaises(UnitUnknown):
            outline_of_drawing(b'<svg xmlns="http://www.w3.org/2000/svg"/>', "a.svg", (0, 0), "")
        self.assertRaisesRegex(BadField, "MB", outline_of_drawing, bytes(2_100_000), "a.svg", (0, 0), "")

    def test_curves_are_flattened_to_what_is_stated(self):
        points = outline_from_file(svg("M100,200A100,100 0 0 1 300,200A100,100 0 0 1 100,200Z"), "a.svg")
        middles = [
            math.dist(((a[0] + b[0]) / 2, (a[1] + b[1]) / 2), (100, 100))
            for a, b in zip(points, [*points[1:], points[0]], strict=True)
        ]
        self.assertLess(max(abs(away - 100) for away in middles), 0.2)
        self.assertLess(len(points), 200)
