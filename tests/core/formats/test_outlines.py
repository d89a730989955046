"""Outlines from drawings made elsewhere: the unit is what the drawing or a person says, never a guess."""

import io
from unittest import TestCase

import ezdxf

from yellow_sill.core.errors import BadField
from yellow_sill.core.formats.outlines import UnitUnknown, outline_from_file


def dxf(points, units=0, heights=None):
    document = ezdxf.new()
    document.header["$INSUNITS"] = units
    if heights:
        document.modelspace().add_polyline3d(
            [(x, y, z) for (x, y), z in zip(points, heights, strict=True)], close=True
        )
    else:
        document.modelspace().add_lwpolyline(points, close=True)
    stream = io.StringIO()
    document.write(stream)
    return stream.getvalue().encode()


def svg(head):
    return f'<svg xmlns="http://www.w3.org/2000/svg" {head}><rect x="1" y="2" width="40" height="20"/></svg>'.encode()


SQUARE = [(0, 0), (4, 0), (4, 2), (0, 2)]


class Units(TestCase):
    def size(self, *asked):
        points = outline_from_file(*asked)
        return [round(max(p[k] for p in points) - min(p[k] for p in points), 2) for k in (0, 1)]

    def test_what_the_drawing_says_counts_and_what_it_does_not_say_is_asked(self):
        self.assertEqual(self.size(dxf(SQUARE, 1), "a.dxf"), [101.6, 50.8])
        self.assertEqual(self.size(svg('width="80mm" height="60mm" viewBox="0 0 80 60"'), "a.svg"), [40, 20])
        for data, name in (
            (dxf(SQUARE), "a.dxf"),
            (svg('viewBox="0 0 80 60"'), "a.svg"),
            (svg('width="80" height="60"'), "a.svg"),
        ):
            with self.assertRaises(UnitUnknown):
                outline_from_file(data, name)
        self.assertEqual(self.size(dxf(SQUARE), "a.dxf", (0, 0), "cm"), [40, 20])
        for head in (
            'viewBox="0 0 80 60"',
            'width="80" height="60"',
            'width="160" height="120" viewBox="0 0 80 60"',
            'width="80mm" height="60mm" viewBox="0 0 80 60"',
        ):
            self.assertEqual(self.size(svg(head), "a.svg", (0, 0), "in"), [1016, 508], head)
        with self.assertRaisesRegex(BadField, "no such unit"):
            outline_from_file(dxf(SQUARE), "a.dxf", (0, 0), "ell")

    def test_an_outline_that_is_not_flat_is_not_flattened_without_a_word(self):
        self.assertEqual(self.size(dxf(SQUARE, 4, [7, 7, 7, 7]), "a.dxf"), [4, 2])
        with self.assertRaisesRegex(BadField, "not flat: it rises by 30.0 mm"):
            outline_from_file(dxf(SQUARE, 4, [0, 0, 30, 30]), "a.dxf")
