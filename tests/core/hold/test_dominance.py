"""A search that leaves states unsolved finds the same as one that solves them all."""

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from yellow_sill.core.hold.dominance import METAL, NEW, OLD, OUT, Solved, ranked

JOBS = 5
states = st.lists(st.tuples(*[st.sampled_from([OLD, OUT, NEW])] * JOBS), min_size=1, max_size=40, unique=True)


class WhatIsNotSolved(TestCase):
    @given(
        states,
        st.lists(st.integers(0, 4), min_size=JOBS, max_size=JOBS),
        st.integers(1, 6),
        st.integers(0, 10),
    )
    def test_the_best_are_the_best_of_all_and_no_bound_is_above_the_truth(self, asked, weights, best, known):
        def softness(state):  # any number that only grows when metal comes out
            lacking = [
                weight * (2 - metal)
                for weight, metal in zip(weights, METAL[list(state)].tolist(), strict=True)
            ]
            return float(max(lacking) * 3 + sum(lacking) // 4)

        solved = Solved(softness)
        for state in asked[:known]:
            solved.j(state)
        for state in asked:
            self.assertLessEqual(solved.least(state), softness(state))
        plain = sorted(((softness(state), sum(state)), state) for state in asked)[:best]
        self.assertEqual(ranked(asked, lambda state, j: (j, sum(state)), best, solved), plain)

    def test_states_that_cannot_be_among_the_best_are_not_solved(self):
        solved = Solved(lambda state: float(state.count(OUT)))
        solved.j((OUT, OUT, NEW))
        (found,) = ranked([(OUT, OUT, OUT), (NEW, NEW, NEW)], lambda state, j: (j,), 1, solved)
        self.assertEqual((found, len(solved)), (((0.0,), (NEW, NEW, NEW)), 2))
