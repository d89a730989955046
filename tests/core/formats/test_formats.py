import io
import json
import re
import warnings
import zipfile
from unittest import TestCase

import ezdxf
import jsonschema
from ezdxf import bbox
from pypdf import PdfReader
from shapely.geometry import Polygon
from svgelements import Path

from yellow_sill.core.formats.bundle import bundle_schema, read_bundle, write_bundle
from yellow_sill.core.formats.bundle_base import BadBundle
from yellow_sill.core.formats.bundle_parts import Bundle
from yellow_sill.core.formats.csv import csv_text
from yellow_sill.core.formats.drawings import pattern_sketch
from yellow_sill.core.formats.dxf import dxf_file
from yellow_sill.core.formats.pdf import pattern_pdf
from yellow_sill.core.formats.svg import svg_file
from yellow_sill.core.patch.opening import EdgeMade, part_of
from yellow_sill.core.patch.part import PartRequest
from yellow_sill.core.patch.pattern import pattern
from yellow_sill.core.patch.tiles import tiling

OPENING = [[0, 0], [330, 0], [330, 180], [0, 180]]
RING = [[0, 0], [50, 0], [50, 30]]


def sketch():
    flange = {"A": EdgeMade(treatment="flange", legs_mm=[20], inside_radius_mm=1)}
    return pattern_sketch(pattern(part_of(OPENING, flange, thickness_mm=1.0)), OPENING)


def lipped():
    """A base with an arc of radius 100 whose flange comes from a blank of radius 100 + 15 less the deduction, and a slot."""
    outline = [{"to": [200, 0]}, {"to": [200, 100]}, {"to": [0, 100], "centre": [100, 100]}, {"to": [0, 0]}]
    run = {"name": "rim", "on": ["C"], "legs_mm": [15]}
    slot = {"kind": "slot", "at": [60, 40], "diameter_mm": 8, "length_mm": 30, "angle_deg": 90}
    down = {"name": "lip", "on": ["A"], "legs_mm": [20], "direction": "down"}
    asked = {
        "outline": outline,
        "thickness_mm": 1,
        "inside_radius_mm": 1,
        "k_factor": 0.4,
        "runs": [run, down],
        "holes": [slot],
    }
    return pattern(PartRequest.read(asked))


class Patterns(TestCase):
    def test_svg_is_full_size(self):
        text = svg_file(sketch(), "Patch <R-07>")
        self.assertIn('width="340mm"', text)
        self.assertIn("stroke-dasharray", text)
        self.assertIn("Patch &lt;R-07&gt;", text)

    def test_dxf_is_in_millimetres_with_its_layers(self):
        document = ezdxf.read(io.StringIO(dxf_file(sketch())))
        self.assertEqual(document.units, ezdxf.units.MM)
        outline = document.modelspace().query('LWPOLYLINE[layer=="CUT"]')[0]
        xs = [point[0] for point in outline.get_points()]
        self.assertAlmostEqual(max(xs) - min(xs), 330, places=3)
        self.assertEqual(document.layers.get("BEND_UP").dxf.linetype, "DASHED")

    def test_arcs_are_arcs_and_read_back_by_other_programs_to_a_tenth(self):
        flat = lipped()
        drawn = pattern_sketch(flat, OPENING)
        space = ezdxf.read(io.StringIO(dxf_file(drawn))).modelspace()
        self.assertEqual({each.dxf.layer for each in space}, {"CUT", "BEND_UP", "BEND_DOWN", "MARK", "TEXT"})
        rim = max(space.query('LWPOLYLINE[layer=="CUT"]'), key=lambda line: bbox.extents([line]).size.x)
        self.assertTrue(any(abs(bulge) > 0.3 for *_, bulge in rim.get_points()))
        box = bbox.extents([rim])
        svg = svg_file(drawn, "lip")
        path = re.search(r'pen-flat" d="([^"]+)"', svg)[1]
        self.assertIn("A", path)
        x0, y0, x1, y1 = Path(path).bbox()
        top = 100 + 100 + 15 - (4 - 2.1991)
        self.assertAlmostEqual(box.extmax.y, top, delta=0.01)
        self.assertAlmostEqual(y1 - y0, flat.bounding_box_mm[3] - flat.bounding_box_mm[1], delta=0.01)
        self.assertAlmostEqual(x1 - x0, box.extmax.x - box.extmin.x, delta=0.01)
        self.assertAlmostEqual(abs(Polygon(flat.corners).area - flat.area_mm2), 0, delta=0.5)
        mirrored = ezdxf.read(io.StringIO(dxf_file(drawn.mirrored()))).modelspace()
        other = bbox.extents(
            [max(mirrored.query('LWPOLYLINE[layer=="CUT"]'), key=lambda line: bbox.extents([line]).size.x)]
        )
        self.assertAlmostEqual(other.extmax.y, top, delta=0.01)
        self.assertAlmostEqual(other.extmin.x, -box.extmax.x, delta=0.001)

    def test_pdf_has_a_cover_and_full_size_sheets(self):
        for paper, size in (("A4", (210, 297)), ("Letter", (215.9, 279.4))):
            with self.subTest(paper):
                sheets = tiling(sketch().bounds(), paper)
                pages = PdfReader(
                    io.BytesIO(pattern_pdf(sketch(), sheets, "R-07", [("Repair", "R-07")], ["Bend: 90°"]))
                ).pages
                self.assertEqual(len(pages), len(sheets.tiles) + 1)
                self.assertIn("100 mm square", pages[0].extract_text())
                self.assertIn("joins", pages[1].extract_text())
                box = sorted(
                    float(side) / 72 * 25.4 for side in (pages[0].mediabox.width, pages[0].mediabox.height)
                )
                self.assertAlmostEqual(box[0], size[0], delta=0.1)
                self.assertAlmostEqual(box[1], size[1], delta=0.1)

    def test_nothing_that_was_written_is_cut_off_on_paper(self):
        name, notes = (
            "Quarter, lower rear corner with its closing piece and the flange behind it",
            [f"Step {i}: {'bend it a little and look again, ' * 6}" for i in range(9)],
        )
        pages = PdfReader(
            io.BytesIO(
                pattern_pdf(
                    sketch(),
                    tiling(sketch().bounds(), "A4"),
                    f"R-07 {name}",
                    [("Vehicle", "Marrick Countryman Long Wheelbase")],
                    notes,
                )
            )
        ).pages
        text = " ".join(pages[0].extract_text().split())
        for words in (name, "Marrick Countryman Long Wheelbase", *(" ".join(note.split()) for note in notes)):
            self.assertIn(words, text)

    def test_the_mirror_hand_turns_the_drawing_only(self):
        x0, y0, x1, y1 = sketch().bounds()
        self.assertEqual(sketch().mirrored().bounds(), (-x1, y0, -x0, y1))
        self.assertEqual(sketch().mirrored().mirrored().items, sketch().items)

    def test_spreadsheets_run_nothing(self):
        text = csv_text(["item", "n"], [["=HYPERLINK(1)", -2], ["@x", 1.5], ["-1+1", 0], ["plain", 0]])
        self.assertEqual(text.split("\r\n")[1:4], ["'=HYPERLINK(1),-2", "'@x,1.5", "'-1+1,0"])


def bundle(**changes):
    panel = {
        "code": "L-SILL",
        "name": "Outer sill",
        "mirror_code": "",
        "layer": 1,
        "thickness_mm": 1.0,
        "tone": 1,
        "outline": RING,
        "holes": [],
    }
    view = {
        "name": "left",
        "title": "Left",
        "u_axis": "x",
        "v_axis": "z",
        "bounds": [0, 0, 50, 30],
        "layered": True,
        "silhouette": [],
        "features": [],
        "panels": [panel],
        "looked": [
            {"layer": 1, "outline": RING, "method": "lamp", "made_on": "2026-02-14", "made_by": "Wren"}
        ],
    }
    vehicle = {
        "make": "Marrick", "model": "Dunlin", "year": 1967, "body_no": "D2", "body_type": "saloon", "dimensions_mm": {}, "dimensions_typed": {}, "currency": "GBP",
        "views": [view],
    }  # fmt: skip
    finding = {
        "number": 1, "view": "left", "panel": "L-SILL", "title": "", "outline": RING, "outline_typed": "", "area_mm2": 750, "bounds_mm": [0, 0, 50, 30],
        "grade": "H", "why": "", "note": "", "found_on": "2026-02-14", "found_by": "Wren", "overruled_to": "", "overruled_reason": "",
        "old_kind": "", "old_test": "", "old_verdict": "", "grid_pitch_mm": 20, "readings": [{"column": 1, "row": 0, "thickness_mm": 0.7, "by_gauge": True, "read_on": "2026-02-14", "by": "Wren"}],
        "inspections": [{"stage": "seen", "made_on": "2026-02-14", "made_by": "Wren", "outline": RING, "area_mm2": 750, "perimeter_mm": 130, "evidence": []}],
    }  # fmt: skip
    return {
        "format": "yellow-sill.bundle/1",
        "vehicle": vehicle,
        "findings": [finding],
        "panel_notes": [],
        "survey_photos": [],
        "repairs": [],
        "work": [],
        "costs": [],
    } | changes


DATUM = {
    "code": "2L", "name": "Mount", "kind": "hole", "how": "", "x_mm": 1, "y_mm": -2, "z_mm": 3, "typed": [], "source": "drawing", "source_note": "",
    "tolerance_mm": 3, "trusted": False, "mirror_code": "2R",
}  # fmt: skip
ROUND = {
    "number": 1, "stage": "found", "about": "", "taken_on": "2026-02-14", "by": "Wren", "note": "", "tape_sigma_mm": 1, "height_sigma_mm": 0.7, "plan": [],
    "readings": [{"kind": "height", "codes": ["9Z"], "value": 1, "typed": "1", "by": "Wren", "made_at": "2026-02-14T10:00:00Z", "device": "", "struck_why": ""}],
}  # fmt: skip


def zipped(**files):
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w") as archive:
        for name, text in files.items():
            archive.writestr(name.replace("_json", ".json"), text)
    return stream.getvalue()


COST = {
    "bought_on": "2026-02-14", "supplier": "Shop", "item": "Discs", "kind": "consumable", "quantity": "2", "unit_price": "3.50", "tax_rate": "20",
    "tax_included": True, "by": "Wren",
}  # fmt: skip


def shell(change):
    told = bundle()
    change(told["vehicle"]["views"][0])
    return told


def doubled():
    stream = io.BytesIO()
    with warnings.catch_warnings(), zipfile.ZipFile(stream, "w") as archive:
        warnings.simplefilter("ignore")
        for _ in range(2):
            archive.writestr("vehicle.json", json.dumps(bundle()))
    return stream.getvalue()


class Bundles(TestCase):
    def test_out_and_in_is_the_same_and_keeps_to_the_published_schema(self):
        record = Bundle.model_validate(bundle())
        data = write_bundle(record, {})
        self.assertEqual(read_bundle(data), (record, {}))
        self.assertEqual(write_bundle(record, {}), data, "the same vehicle gives the same bytes")
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            self.assertLessEqual(
                {"vehicle.json", "schema.json", "findings.csv", "costs.csv"}, set(archive.namelist())
            )
            jsonschema.validate(
                json.loads(archive.read("vehicle.json")), json.loads(archive.read("schema.json"))
            )
        self.assertEqual(bundle_schema()["title"], "Bundle")

    REFUSED = {
        "no zip": (b"not a zip", "not a zip"),
        "vehicle.json twice": (doubled(), "in this zip twice"),
        "empty zip": (zipped(readme="x"), "no vehicle.json"),
        "not JSON": (zipped(vehicle_json="{"), "JSON"),
        "other format": (zipped(vehicle_json=json.dumps(bundle(format="x/2"))), "one of"),
        "unknown key": (zipped(vehicle_json=json.dumps(bundle(wings=2))), "Nobody knows"),
        "finding on no panel": (
            zipped(vehicle_json=json.dumps(bundle(findings=[bundle()["findings"][0] | {"panel": "ROOF"}]))),
            "does not have",
        ),
        "number twice": (
            zipped(vehicle_json=json.dumps(bundle(findings=bundle()["findings"] * 2))),
            "same number",
        ),
        "notes on no panel": (
            zipped(
                vehicle_json=json.dumps(
                    bundle(panel_notes=[{"view": "left", "panel": "X", "far_side": None, "items": []}])
                )
            ),
            "does not have",
        ),
        "a datum twice": (
            zipped(vehicle_json=json.dumps(bundle(datums={"points": [DATUM, DATUM]}))),
            "same name",
        ),
        "a round of no point": (
            zipped(vehicle_json=json.dumps(bundle(datums={"points": [DATUM], "rounds": [ROUND]}))),
            "not in the book",
        ),
        "a round twice": (
            zipped(vehicle_json=json.dumps(bundle(datums={"rounds": [ROUND | {"readings": []}] * 2}))),
            "same number",
        ),
        "two views of one name": (
            zipped(
                vehicle_json=json.dumps(
                    bundle(vehicle=bundle()["vehicle"] | {"views": bundle()["vehicle"]["views"] * 2})
                )
            ),
            "Two views",
        ),
        "two panels of one code": (
            zipped(vehicle_json=json.dumps(shell(lambda view: view["panels"].append(view["panels"][0])))),
            "Two panels",
        ),
        "a panel without area": (
            zipped(
                vehicle_json=json.dumps(
                    shell(lambda view: view["panels"][0].update(outline=[[0, 0], [9, 0], [18, 0]]))
                )
            ),
            "no area",
        ),
        "a bow-tie": (
            zipped(
                vehicle_json=json.dumps(
                    bundle(findings=[bundle()["findings"][0] | {"outline": [[0, 0], [9, 9], [9, 0], [0, 9]]}])
                )
            ),
            "crosses itself",
        ),
        "tax below nothing": (
            zipped(vehicle_json=json.dumps(bundle(costs=[COST | {"tax_rate": "-20"}]))),
            "0 or more",
        ),
        "less than nothing bought": (
            zipped(vehicle_json=json.dumps(bundle(costs=[COST | {"quantity": "-3"}]))),
            "above 0",
        ),
        "more than any shop has": (
            zipped(vehicle_json=json.dumps(bundle(costs=[COST | {"quantity": "1e999999"}]))),
            "digits",
        ),
        "a key twice": (zipped(vehicle_json='{"format": "a", "format": "b"}'), "is there twice"),
        "datums that differ by a capital": (
            zipped(vehicle_json=json.dumps(bundle(datums={"points": [DATUM, DATUM | {"code": "2l"}]}))),
            "same name",
        ),
        "NaN": (
            zipped(
                vehicle_json=json.dumps(
                    bundle(findings=[bundle()["findings"][0] | {"area_mm2": float("nan")}])
                )
            ),
            "finite",
        ),
    }

    def test_what_is_no_bundle_is_refused(self):
        for name, (data, words) in self.REFUSED.items():
            with self.subTest(name), self.assertRaises(BadBundle) as caught:
                read_bundle(data)
            self.assertIn(words, caught.exception.message)
