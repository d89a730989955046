"""The house itself: what can be read at a glance stays so."""

import ast
import re
from pathlib import Path
from unittest import TestCase

ROOT = Path(__file__).resolve().parent.parent
#: Longest line of a template, style sheet or script; the longest file of any kind that people read; the longest function.
MOST_COLUMNS, MOST_LINES, MOST_OF_A_FUNCTION = 120, 400, 60
READ = (".html", ".css", ".js")
#: Longest class of a board.
MOST_OF_A_BOARD = 120


def files(*suffixes: str) -> list[Path]:
    found = [
        path
        for path in (ROOT / "yellow_sill").rglob("*")
        if path.suffix in suffixes and "vendor" not in path.parts and "migrations" not in path.parts
    ]
    assert len(found) > 40
    return found


class House(TestCase):
    def test_no_line_of_the_front_is_too_long_to_be_read(self):
        long = [
            f"{path.relative_to(ROOT)}:{number}"
            for path in files(*READ)
            for number, line in enumerate(path.read_text().splitlines(), start=1)
            if len(line) > MOST_COLUMNS
        ]
        self.assertEqual(long, [])

    def test_no_board_is_too_long_to_be_read(self):
        boards = [path for path in files(".js") if path.name.endswith("_board.js")]
        self.assertGreater(len(boards), 12)
        for path in boards:
            for found in re.finditer(r"^class \w+ \{\n.*?^\}$", path.read_text(), re.MULTILINE | re.DOTALL):
                self.assertLessEqual(len(found[0].splitlines()), MOST_OF_A_BOARD, path.name)

    def test_no_file_is_too_long_to_be_read(self):
        long = [
            str(path.relative_to(ROOT))
            for path in files(*READ, ".py")
            if len(path.read_text().splitlines()) > MOST_LINES
        ]
        self.assertEqual(long, [])

    def test_no_function_is_too_long_to_be_read(self):
        long = [
            f"{path.relative_to(ROOT)}:{each.lineno} {each.name}"
            for path in [*files(".py"), *(ROOT / "tests").rglob("*.py")]
            for each in ast.walk(ast.parse(path.read_text()))
            if isinstance(each, ast.FunctionDef) and each.end_lineno - each.lineno >= MOST_OF_A_FUNCTION
        ]
        self.assertEqual(long, [])
