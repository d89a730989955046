"""The weeks as they are drawn: everything begins where its step is."""

from datetime import timedelta
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.core.order.test_plan import slot
from yellow_sill.core.order.asked import Slot
from yellow_sill.core.order.picture import Drawn, weeks

SLOTS = [Slot.read(slot(7 * week + day, hours, 1, at)) for week in range(3) for day, hours, at in ((0, 5, 9), (3, 2.5, 18))]  # fmt: skip
AT = st.tuples(st.integers(0, 5), st.integers(0, 20))


class Weeks(TestCase):
    @given(st.lists(st.tuples(AT, st.integers(1, 3), st.integers(0, 400)), min_size=1, max_size=8))
    def test_lines_and_cures_begin_where_their_steps_do(self, drawn):
        steps = []
        for n, ((at, late), repair, cure) in enumerate(drawn):
            begins = SLOTS[at].begins + timedelta(minutes=5 * late)
            pieces = [(begins, begins + timedelta(minutes=20))]
            steps.append(Drawn(key=f"s{n}", name=f"s{n}", repair=repair, pieces=pieces, cure_h=cure))
        rows = weeks(list(enumerate(SLOTS)), steps, width=600)
        self.assertEqual(sum(len(row.slots) for row in rows), len(SLOTS))
        for row in rows:
            bars = {piece.key: piece for bar in row.slots for piece in bar.pieces}
            for line in row.repairs:
                mine = [bars[step.key].x for step in steps if step.key in bars and step.repair == line.repair]
                if not line.before:
                    self.assertAlmostEqual(line.x, min(mine), delta=0.2)
                self.assertTrue(all(line.x - 0.2 <= x <= line.x + line.width for x in mine))
            for thin in row.thin:
                if thin.name in bars:
                    self.assertAlmostEqual(thin.x, bars[thin.name].x + bars[thin.name].width, delta=0.3)
            self.assertGreaterEqual(row.open, 1 if row.repairs and bars else 0)
