"""Bundles of the first build are brought up; all others, and what is no bundle, come back as they are."""

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from yellow_sill.core.formats.bundle_old import brought_up

plain = st.recursive(
    st.none() | st.integers() | st.text(max_size=5),
    lambda inner: (
        st.lists(inner, max_size=3)
        | st.dictionaries(st.sampled_from(["vehicle", "views", "findings", "outline"]), inner, max_size=3)
    ),
    max_leaves=12,
)


class BroughtUp(TestCase):
    @given(plain)
    def test_nothing_that_is_no_bundle_breaks_it_and_nothing_is_brought_up_twice(self, told):
        once = brought_up(told)
        self.assertEqual(brought_up(once), once)

    def test_the_only_look_has_the_outline_and_the_evidence(self):
        finding = {
            "number": 1,
            "outline": [[0, 0], [30, 0], [30, 40]],
            "area_mm2": 600,
            "found_on": "2026-05-02",
            "found_by": "Wren",
            "evidence": [{"method": "tap"}],
        }
        told = {"vehicle": {"views": [{"name": "left"}]}, "findings": [finding]}
        made = brought_up(told)
        (look,) = made["findings"][0]["inspections"]
        self.assertEqual(
            (look["perimeter_mm"], look["evidence"], look["made_by"]), (120.0, [{"method": "tap"}], "Wren")
        )
        self.assertEqual(made["vehicle"]["views"], [{"looked": [], "name": "left"}])
        self.assertIn("evidence", finding, "what was handed in is as it was")
