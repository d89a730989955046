import json
from datetime import date
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from yellow_sill.core.errors import BadField
from yellow_sill.core.formats.survey_tables import corners_cell, evidence_cell, read_findings

TODAY = date(2026, 3, 1)
GOOD = "view,panel,name,day,corners,evidence\nleft,L-SILL,Sill end,2026-02-14,698 300 | 708 274 | 746 262,probe through 3/5 | gauge 0.74\n"


class Tables(TestCase):
    def test_commas_semicolons_and_decimal_commas(self):
        german = "View;Panel;Corners;Evidence;Day\nleft;L-SILL;684,5 292 | 700 264,5 | 742 256;gauge 0,74;14.2.2026\n\n"
        for text in (GOOD, german, "\ufeff" + GOOD, GOOD.replace(",", "\t")):
            with self.subTest(text[:20]):
                [row], refused = read_findings(text, TODAY)
                self.assertEqual(
                    (refused, row.view, row.panel, row.day), ([], "left", "L-SILL", date(2026, 2, 14))
                )
                self.assertEqual(row.evidence[-1].thickness_mm, 0.74)
        self.assertEqual(read_findings(german, TODAY)[0][0].corners[0], (684.5, 292.0))

    def test_json_and_out_and_in_again(self):
        [row], _ = read_findings(GOOD, TODAY)
        again = {
            "findings": [
                {
                    "view": "left",
                    "panel": "L-SILL",
                    "corners": [list(c) for c in row.corners],
                    "evidence": evidence_cell(row.evidence),
                }
            ]
        }
        [same], refused = read_findings(json.dumps(again), TODAY)
        self.assertEqual(
            (refused, same.corners, [look.method for look in same.evidence]),
            ([], row.corners, ["probe", "gauge"]),
        )
        self.assertEqual(corners_cell(row.corners), "698 300 | 708 274 | 746 262")
        negative = "view;panel;corners\nright;R-SILL;'-698 300 | -708 274 | -746 262\n"
        self.assertEqual(
            read_findings(negative, TODAY)[0][0].corners[0],
            (-698.0, 300.0),
            "our own apostrophe is taken off",
        )

    @given(
        st.lists(st.tuples(st.integers(-2000, 5000), st.integers(-900, 2000)), min_size=3, max_size=30),
        st.sampled_from([",", ";", "\t"]),
        st.lists(
            st.sampled_from(["probe through 3/5", "tap dull", "gauge 0.74", "lamp light 2", "seen filler"]),
            max_size=4,
            unique=True,
        ),
    )
    def test_whatever_is_written_is_read_back(self, corners, delimiter, looks):
        cells = ["left", "L-SILL", corners_cell(corners), " | ".join(looks)]
        text = (
            delimiter.join(["view", "panel", "corners", "evidence"]) + "\r\n" + delimiter.join(cells) + "\r\n"
        )
        [row], refused = read_findings(text, TODAY)
        self.assertEqual((refused, row.corners), ([], [(float(u), float(v)) for u, v in corners]))
        self.assertEqual(evidence_cell(row.evidence), " | ".join(looks))

    def test_each_refused_row_has_its_reason(self):
        head = "view,panel,corners,evidence,day,stage,name\n"
        rows = {
            "left,L-SILL,698 300 | x,,,,": "Corner 2",
            "left,,698 300 | 708 274,,,,": "'panel' is empty",
            "left,L-SILL,1 2 | 3 4 | 5 9,probe sings,,,": "cannot show",
            "left,L-SILL,1 2 | 3 4 | 5 9,wish good,,,": "no evidence",
            "left,L-SILL,1 2 | 3 4 | 5 9,,soon,,": "no day",
            "left,L-SILL,1 2 | 3 4 | 5 9,,2126-01-01,,": "not come yet",
            "left,L-SILL,1 2 | 3 4 | 5 9,,,later,": "no stage",
            f"left,L-SILL,1 2 | 3 4 | 5 9,,,,{'long ' * 20}": "nothing is cut off",
        }
        taken, refused = read_findings(head + "\n".join(rows) + "\nleft,L-SILL,1 2 | 3 4 | 5 9,,,,\n", TODAY)
        self.assertEqual(len(taken), 1)
        for row, (line, words) in zip(refused, rows.items(), strict=True):
            with self.subTest(line):
                self.assertIn(words, row.why)
        self.assertEqual([row.row for row in refused], list(range(2, 10)))

    def test_files_that_are_no_table(self):
        for text, words in (("", "neither"), ("a,b\n1,2", "'view' is missing"), ("view,panel,corners,wings\n", "Nobody knows"), ("{", "not JSON"), ("[1]", "no list"),
                            ("view,panel,corners\n", "no finding"), ("view,panel,corners\n" + "a,b,c\n" * 2001, "2000")):  # fmt: skip
            with self.subTest(words), self.assertRaises(BadField) as caught:
                read_findings(text, TODAY)
            self.assertIn(words, caught.exception.message)
