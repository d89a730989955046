"""What came off: the order of refitting over made-up cars, circles named, boxes, questions in words."""

import random
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from yellow_sill.core.errors import BadField
from yellow_sill.core.strip.find import FindRequest, find
from yellow_sill.core.strip.register import RegisterRequest, register


def told(*parts):
    return register(RegisterRequest.read({"parts": [{"number": n, "name": f"part {n}"} | part for n, part in enumerate(parts, start=1)]}))  # fmt: skip


class Refitting(TestCase):
    def test_the_last_off_goes_on_first_but_nothing_before_what_it_sits_on(self):
        order = [each.number for each in told({}, {"after": [1]}, {}).order]
        self.assertEqual(order, [3, 1, 2])

    @settings(max_examples=150, deadline=None)
    @given(st.integers(1, 40), st.integers(0, 10**6))
    def test_every_part_comes_after_all_it_sits_on(self, count, seed):
        rng = random.Random(seed)
        ranks = rng.sample(range(count), count)
        parts = [{"after": [k + 1 for k in range(count) if ranks[k] < ranks[n] and rng.random() < 0.2]} for n in range(count)]  # fmt: skip
        order = [each.number for each in told(*parts).order]
        self.assertEqual(sorted(order), list(range(1, count + 1)))
        for n, part in enumerate(parts, start=1):
            self.assertTrue(all(order.index(k) < order.index(n) for k in part["after"]))

    def test_a_circle_is_named_in_its_order(self):
        with self.assertRaisesRegex(BadField, r"part (\d) → part (\d) → part (\d) → part \1"):
            told({"after": [2]}, {"after": [3]}, {"after": [1]})
        for parts, words in (([{"number": 2}, {}], "there twice"), ([{"after": [7]}], "which there is not")):
            with self.subTest(words), self.assertRaisesRegex(BadField, words):
                told(*parts)

    def test_what_cannot_go_on_yet_says_why_and_what_is_gone_is_left_out(self):
        told_ = told({"state": "missing"}, {"after": [1], "state": "good", "box": "B1"}, {"waits_for": "chrome", "shelf": "2"}, {"state": "sold"}, {"on": True})  # fmt: skip
        why = {each.number: str(each.why_not) for each in told_.order}
        self.assertEqual(why, {3: "It waits for chrome.", 1: "It is missing.", 2: "First part 1."})
        self.assertEqual((told_.off, told_.missing, told_.unplaced, told_.ready), (3, 1, [], []))
        self.assertEqual(told({}).unplaced, [1], "nobody has said where it is")

    def test_questions_in_words(self):
        texts = {
            1: "Bracket of the jacking point, left. bag 4",
            2: "Bonnet hinge, right",
            3: "Jacking point cap",
        }
        asked = lambda words: [each.number for each in find(FindRequest(asked=words, texts=texts))]
        self.assertEqual(asked("where is the bracket of the left jacking point?")[0], 1)
        self.assertEqual(asked("hood hinge"), [2], "American words find British ones")
        self.assertEqual(asked("braket"), [1], "a slip of the pen")
        self.assertEqual((asked(""), asked("where is the"), asked("gearbox")), ([], [], []))
