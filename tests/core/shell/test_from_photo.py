"""Dimensions traced on a side photo, in simulated photos with known truth, beside one scale from one length."""

from unittest import TestCase

import numpy as np

from yellow_sill.core.errors import BadField
from yellow_sill.core.shell import BODY_TYPES, build_shell
from yellow_sill.core.shell.from_photo import PhotoRequest, from_photo

SALOON = "saloon-2-door-unitary"


def sizes(**changes):
    return {each.name: each.usual_mm for each in BODY_TYPES[SALOON].dimensions} | changes


def photo(told, *, scale=2.4, tilt=0.0, facing=1, tall=1.0, noise=0.0, rng=None):
    """Places of a car in a picture: so many mm a pixel, tilted, facing left (1) or right (-1), stretched upwards, clicked with an error, px."""
    rear = told["wheelbase"] - 354 * told["tyre_height"] / 588
    front = rear - told["sill_length"]
    at = {
        "front-axle": (0, 292), "rear-axle": (told["wheelbase"], 292), "nose": (-told["front_overhang"], 600),
        "tail": (told["overall_length"] - told["front_overhang"], 640), "ground": (0, 0), "tyre-top": (0, told["tyre_height"]),
        "waist": (1300, told["waist_height"]), "roof": (1500, told["height"]), "sill-front": (front, 300), "sill-rear": (rear, 300),
        "door-front": (front + 100, 600), "door-rear": (front + 100 + told["door_length"], 600),
    }  # fmt: skip
    c, s = np.cos(tilt), np.sin(tilt)
    found = {}
    for name, (x, z) in at.items():
        u, v = facing * x / scale, -tall * z / scale
        error = rng.normal(0, noise, 2) if rng is not None else (0, 0)
        found[name] = (float(c * u - s * v + 1200 + error[0]), float(s * u + c * v + 900 + error[1]))
    return found


def asked(places, *lengths, body=SALOON):
    named = [{"name": name, "mm": mm} for name, mm in lengths]
    return PhotoRequest.read({"places": places, "lengths": named, "body_type": body})


class FromPhoto(TestCase):
    def test_two_scales_are_nearer_than_one_in_crooked_photos_and_the_errors_are_honest(self):
        rng = np.random.default_rng(4)
        mine, plain, inside, all_ = [], [], 0, 0
        for _ in range(300):
            told = sizes(wheelbase=float(rng.uniform(2350, 2480)), height=float(rng.uniform(1300, 1420)))
            places = photo(
                told, scale=rng.uniform(1.5, 4), tilt=rng.normal(0, 0.04), facing=rng.choice([-1, 1]), tall=rng.uniform(0.93, 1.07), noise=1.5, rng=rng
            )  # fmt: skip
            found = from_photo(asked(places, ("wheelbase", told["wheelbase"]), ("height", told["height"])))
            one = told["wheelbase"] / float(np.hypot(*np.subtract(places["rear-axle"], places["front-axle"])))
            by_one = one * abs(places["waist"][1] - places["ground"][1])
            mine.append(abs(found.told_mm["waist_height"] - told["waist_height"]))
            plain.append(abs(by_one - told["waist_height"]))
            for name in ("overall_length", "sill_length", "door_length", "front_overhang"):
                inside += abs(found.told_mm[name] - told[name]) <= 1.96 * found.sigma_mm[name] * 1.2 + 0.5
                all_ += 1
        self.assertLess(np.median(mine), np.median(plain))
        self.assertLess(np.percentile(mine, 95), np.percentile(plain, 95))
        self.assertGreater(inside / all_, 0.85)

    def test_what_is_traced_can_be_drawn_and_what_gives_way_is_named(self):
        found = from_photo(asked(photo(sizes()), ("wheelbase", 2400), ("height", 1345), body=""))
        self.assertEqual((found.held, found.missing), ([], ["width"]))
        self.assertTrue(build_shell(found.body_type, found.sizes_mm).views)
        odd = from_photo(asked(photo(sizes(door_length=1700.0)), ("wheelbase", 2400), ("height", 1345)))
        self.assertIn("door_length", odd.held)
        self.assertIn("the nearest that fits", odd.words[-1])
        self.assertTrue(build_shell(odd.body_type, odd.sizes_mm).views)
        same = from_photo(asked(photo(sizes()), ("wheelbase", 2400), ("overall_length", 3980)))
        self.assertIn("run the same way", same.words[0])
        crooked = from_photo(asked(photo(sizes(), tall=0.85), ("wheelbase", 2400), ("height", 1345)))
        self.assertIn("not taken square", crooked.words[0])

    def test_refusals(self):
        places = photo(sizes())
        two = (("wheelbase", 2400), ("height", 1345))
        cases = {
            "One length gives a scale": asked(places, two[0]),
            "Without a length": asked(places),
            "Both wheels' middles": asked({"nose": (1, 2)}, *two),
            "lie on each other": asked(places | {"rear-axle": places["front-axle"]}, *two),
            "Nobody traces a place": asked(places | {"mast": (1, 2)}, *two),
            "is not traced": asked({name: at for name, at in places.items() if name != "roof"}, *two),
            "contradict each other": asked(places, ("wheelbase", 2400), ("overall_length", 3000)),
            "No dimension is called": asked(places, two[0], ("girth", 900)),
            "given twice": asked(places, two[0], two[0]),
            "too short in the picture": asked(places | {"roof": places["ground"]}, *two),
        }
        for words, request in cases.items():
            with self.subTest(words), self.assertRaises(BadField) as caught:
                from_photo(request)
            self.assertIn(words, caught.exception.message)
