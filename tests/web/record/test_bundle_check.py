"""A bundle is looked over as a whole: every fault a line, with its place; a good one has none."""

import io
import json
import zipfile

from tests.builders import DAY, picture
from tests.web.record.test_record import RecordCase
from yellow_sill.core.formats.bundle_report import bundle_faults
from yellow_sill.web.logbook.bundle import export_vehicle
from yellow_sill.web.logbook.services import add_photo


class Check(RecordCase):
    def changed(self, change, without="none/"):
        """The bundle with something of its vehicle.json changed, some files left out."""
        was = zipfile.ZipFile(io.BytesIO(self.good))
        told = json.loads(was.read("vehicle.json"))
        change(told)
        stream = io.BytesIO()
        with zipfile.ZipFile(stream, "w") as archive:
            for name in was.namelist():
                if name.startswith(without):
                    continue
                archive.writestr(name, json.dumps(told) if name == "vehicle.json" else was.read(name))
        return stream.getvalue()

    def test_all_that_is_wrong_is_told_at_once(self):
        add_photo(self.repair, picture(), caption="The hole", taken_on=DAY, by="Wren")
        self.good = export_vehicle(self.vehicle)
        self.assertEqual(bundle_faults(self.good), [])

        def bend(told):
            told["findings"][0]["grade"] = "ZZ"
            told["repairs"][0]["title"] = ""
            told["repairs"][0]["odd"] = 1

        lines = bundle_faults(self.changed(bend))
        self.assertTrue(
            any("findings[0].grade" in line for line in lines) or any("odd" in line for line in lines), lines
        )

        def values(told):
            told["findings"][0]["found_on"] = "soon"
            told["repairs"][0]["margin_mm"] = "wide"

        lines = bundle_faults(self.changed(values))
        self.assertEqual(len(lines), 2, lines)
        self.assertIn("vehicle.json: findings[0].found_on", lines[0])
        self.assertIn("vehicle.json: repairs[0].margin_mm", lines[1])

        def links(told):
            told["findings"][0]["panel"] = "NO-SUCH"
            told["repairs"].append(told["repairs"][0])

        lines = bundle_faults(self.changed(links, without="photos/"))
        self.assertGreaterEqual(len(lines), 3, lines)
        self.assertTrue(any("is missing" in line for line in lines), lines)
        for data, words in (
            (b"", "no bundle"),
            (b"hello", "no bundle"),
            (self.good[: len(self.good) // 2], "no bundle"),
        ):
            self.assertIn(words, bundle_faults(data)[0])
