"""Finding again: held against the plain method, a text that holds all words."""

import random
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from yellow_sill.core.record.finder import Entry, Finder, FindRequest, find
from yellow_sill.core.record.words import folded, marked, ways

WORDS = [
    "sill",
    "Wheelarch",
    "naïve",
    "Türgriff",
    "Çelik",
    "wing",
    "bonnet",
    "F-12",
    "R-02",
    "bracket",
    "No.4",
    "hinge",
    "L-SILLI",
    "drain",
    "Łódź",
    "lamp",
    "0.8",
    "mm",
]


def entry(key, head, text="", kind="notes"):
    return Entry(key=key, kind=kind, head=head, text=text)


def plain(entries, typed):
    """What an engineer would write in twenty lines: every word is somewhere in the text, capitals and accents aside."""
    words = folded(typed).split()
    return {each.key for each in entries if all(word in folded(f"{each.head} {each.text}") for word in words)}


class Finds(TestCase):
    def test_known_answers(self):
        entries = [
            entry("a", "Front wing, left", "bought from Old Tin Barn"), entry("b", "Wing nuts in the boot", "box 4"),
            entry("c", "Rear wheelarch", "R-02 behind the door card"), entry("d", "Türgriff, Çelik", "shelf 2"),
            entry("e", "F-3 sill end", "see R-2 and wing", kind="findings"),
        ]  # fmt: skip
        for typed, keys in {
            "fender": "abe", "wing left": "a", "WHEEL": "c", "arch": "c", "turgriff celik": "d", "r2": "ce", "R-02": "ce", "r 002": "ce", "f3": "e",
            "trunk": "b", "zz": "", "wing zz": "", "": "", "--": "", '" OR *': "",
        }.items():  # fmt: skip
            with self.subTest(typed):
                found = find(FindRequest(entries=entries, typed=typed))
                self.assertEqual(set(found.keys), set(keys))
                self.assertEqual(found.count, len(keys))
        found = find(FindRequest(entries=entries, typed="wing"))
        self.assertEqual(found.keys[-1], "e", "a word in the heading is worth more than one in the text")
        self.assertEqual(found.by_kind, {"notes": 2, "findings": 1})
        self.assertEqual(find(FindRequest(entries=entries, typed="wing", kinds=["findings"])).keys, ["e"])

    @given(st.integers(0, 100_000))
    def test_never_behind_the_plain_method(self, seed):
        rng = random.Random(seed)
        entries = [entry(f"k{n}", " ".join(rng.choices(WORDS, k=3)), " ".join(rng.choices(WORDS, k=6))) for n in range(12)]  # fmt: skip
        finder = Finder()
        finder.put(entries)
        gone = rng.sample(entries, 3)
        finder.drop(each.key for each in gone)
        left = [each for each in entries if each not in gone]
        typed = " ".join(rng.sample(WORDS, rng.choice([1, 2])))
        missed = plain(left, typed) - set(finder.find(typed, most=50).keys)
        self.assertFalse(missed, typed)
        again = rng.choice(left).model_copy(update={"head": "Quoin", "text": ""})
        finder.put([again])
        self.assertEqual(finder.find("quoin").keys, [again.key])
        self.assertEqual(len(finder.entries), len(left), "it took the place of the one before")

    def test_many_answers_are_headings_first(self):
        finder = Finder()
        finder.put(entry(f"t{n}", "Other", "sill") for n in range(1100))
        finder.put([entry("head", "Sill")])
        finder.put([entry("new", "Other", "sill")])
        found = finder.find("sill", most=3)
        self.assertEqual((found.keys[:2], found.count), (["head", "new"], 1102))

    @given(st.text(max_size=60), st.text(max_size=12))
    def test_what_is_marked_is_the_text_and_any_words_are_taken(self, text, typed):
        words = [word for way in ways(typed) for word in way]
        self.assertEqual("".join(piece for piece, _ in marked(text, words)), text)
        finder = Finder()
        finder.put([entry("a", text[:60] or "x", text)])
        finder.find(typed)
