import doctest
import importlib
import io
import json
import pkgutil
import re
import subprocess
import sys
from contextlib import redirect_stdout
from pathlib import Path
from unittest import TestCase, mock

import jsonschema

import yellow_sill.core
from yellow_sill.core.calc import COMMANDS, main

ROOT = Path(__file__).resolve().parent.parent.parent


def run(*words, stdin=""):
    out = io.StringIO()
    with redirect_stdout(out), mock.patch.object(sys, "stdin", io.StringIO(stdin)):
        code = main(words)
    return code, json.loads(out.getvalue())


class CommandLine(TestCase):
    def test_every_example_of_the_formats_page_runs_as_written(self):
        page = (ROOT / "docs/formats.md").read_text()
        examples = re.findall(
            r"`\./yellow-sill calc (\w+)`.*?```json\n(.*?)```\s+gives\s+```json\n(.*?)```", page, re.DOTALL
        )
        self.assertEqual({name for name, *_ in examples}, set(COMMANDS))
        for name, given, expected in examples:
            with self.subTest(name):
                self.assertEqual(run(name, stdin=given), (0, json.loads(expected)))
                jsonschema.validate(json.loads(given), run(name, "--schema")[1])

    REFUSED = {
        "no JSON": (["tacks"], "{", "$"),
        "NaN": (["tacks"], '{"path": [[0, NaN]]}', "$"),
        "infinite by overflow": (
            ["tacks"],
            '{"path": [[0, 1e999], [3, 4]], "thickness_mm": 1, "tack_energy_J": 3}',
            "path[0][1]",
        ),
        "a list": (["tacks"], "[]", "$"),
        "missing": (["develop"], '{"outline": [[0, 0], [9, 0], [9, 9]]}', "thickness_mm"),
        "unknown key": (
            ["develop"],
            '{"outline": [[0, 0], [9, 0], [9, 9]], "thickness_mm": 1, "colour": 1}',
            "colour",
        ),
        "crossing": (
            ["develop"],
            '{"outline": [[0, 0], [9, 9], [9, 0], [0, 9]], "thickness_mm": 1}',
            "outline",
        ),
        "too many": (
            ["cutlines"],
            json.dumps(
                {"panel": {"outline": [[i, i % 3] for i in range(10_000)], "thickness_mm": 1}, "findings": []}
            ),
            "panel.outline",
        ),
        "too many digits": (["tacks"], '{"path": [[0, ' + "1" * 5000 + "]]}", "$"),
        "larger than any number": (
            ["tacks"],
            '{"path": [[0, ' + "1" * 400 + ']], "thickness_mm": 1, "tack_energy_J": 3}',
            "path[0][1]",
        ),
        "nested too deep": (["tacks"], "[" * 100_000, "$"),
        "no such calculation": (["guess"], "{}", "$"),
        "no such file": (["tacks", "/nowhere.json"], "", "$"),
        "nothing asked": ([], "", "$"),
    }

    def test_bad_input_gives_an_error_and_never_a_traceback(self):
        for name, (words, given, where) in self.REFUSED.items():
            with self.subTest(name):
                code, answer = run(*words, stdin=given)
                self.assertEqual(code, 2)
                self.assertEqual(set(answer["error"]), {"code", "message", "where"})
                self.assertEqual(answer["error"]["where"], where)

    def test_it_starts_without_django_and_without_what_no_command_asked_for(self):
        script = "import sys, yellow_sill.core.calc; sys.exit(bool({'django', 'numpy', 'shapely'} & set(sys.modules)))"
        self.assertEqual(subprocess.run([sys.executable, "-c", script], cwd=ROOT, check=False).returncode, 0)

    def test_worked_calls_in_docstrings(self):
        for module in pkgutil.walk_packages(yellow_sill.core.__path__, "yellow_sill.core."):
            with self.subTest(module.name):
                self.assertEqual(doctest.testmod(importlib.import_module(module.name)).failed, 0)
