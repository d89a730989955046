"""Every calculation under bad input: its own example bent a few hundred ways answers or refuses in strict JSON, in seconds, and never breaks."""

import copy
import io
import json
import random
import re
import time
from contextlib import redirect_stdout
from pathlib import Path
from unittest import TestCase, mock

from yellow_sill.core.calc import COMMANDS, main

ROOT = Path(__file__).resolve().parent.parent.parent
TRIES = 300
#: What a value is replaced by: wrong kinds, extremes, odd texts.
ODD = [
    None, True, False, 0, 1, -1, 1e-9, 1e-300, 1e300, -1e6, 19_999, 0.5, 10**30, "", "x", "²", "\ud800", "n" * 100_000, "1e5", [], {}, [[]], [0], [0, 0], {"a": 1}, [[0, 0]] * 5,
]  # fmt: skip


def examples():
    page = (ROOT / "docs/formats.md").read_text()
    return {
        name: json.loads(given)
        for name, given in re.findall(
            r"`\./yellow-sill calc (\w+)`.*?```json\n(.*?)```\s+gives", page, re.DOTALL
        )
    }


def places(value, path=()):
    yield path
    if isinstance(value, dict):
        for key, item in value.items():
            yield from places(item, (*path, key))
    elif isinstance(value, list):
        for i, item in enumerate(value):
            yield from places(item, (*path, i))


def bent(value, rng):
    """The example with one to three things wrong: a value replaced, left out, doubled, scaled or renamed."""
    value = copy.deepcopy(value)
    for _ in range(rng.choice((1, 1, 1, 2, 3))):
        path = rng.choice(list(places(value)))
        if not path:
            continue
        parent = value
        for step in path[:-1]:
            parent = parent[step]
        at, how = path[-1], rng.random()
        if how < 0.5:
            parent[at] = copy.deepcopy(rng.choice(ODD))
        elif how < 0.65:
            del parent[at]
        elif how < 0.8 and isinstance(parent, list):
            parent.insert(rng.randrange(len(parent) + 1), copy.deepcopy(parent[at]))
        elif how < 0.95 and isinstance(parent[at], (int, float)) and not isinstance(parent[at], bool):
            parent[at] = parent[at] * rng.choice((0, -1, 0.001, 1e3, 1.0000001, 10))
        elif isinstance(parent, dict):
            parent[f"{at}s"] = parent.pop(at)
        else:
            rng.shuffle(parent)
    return value


class Fuzz(TestCase):
    def test_bent_examples_are_answered_or_refused_in_strict_json(self):
        given = examples()
        self.assertEqual(set(given), set(COMMANDS))
        for name, example in given.items():
            rng = random.Random(f"{name} 1")
            for number in range(TRIES):
                text = json.dumps(bent(example, rng))
                out, start = io.StringIO(), time.monotonic()
                with (
                    self.subTest(name, number=number),
                    redirect_stdout(out),
                    mock.patch("sys.stdin", io.StringIO(text)),
                ):
                    code = main([name])
                    told = out.getvalue()
                    told.encode()
                    answer = json.loads(
                        told, parse_constant=lambda word: self.fail(f"{word} is not strict JSON")
                    )
                    self.assertIn(code, (0, 2))
                    self.assertEqual(
                        code == 2,
                        "error" in answer and set(answer["error"]) == {"code", "message", "where"},
                        told[:300],
                    )
                    self.assertLess(len(told) if code == 2 else 0, 1500, "no value is echoed whole")
                    self.assertLess(time.monotonic() - start, 20, text[:300])
