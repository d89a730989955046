"""The en_US catalogue, made from the term table: every message of ours that holds a British term, and the same in American."""

import ast
import io
import re
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path

from babel.messages.catalog import Catalog
from babel.messages.mofile import write_mo
from babel.messages.pofile import write_po

from yellow_sill.core.hold.bodies import BODIES, vehicle_structure
from yellow_sill.core.terms import american, terms_in

PACKAGE = Path(__file__).resolve().parent.parent
CATALOGUE = PACKAGE / "locale" / "en_US" / "LC_MESSAGES" / "django"
HEADER = "# American terms; made by 'python -m yellow_sill terms' from core/terms.py. Do not edit by hand."
#: Fixed, so that the same messages always give the same file.
MADE_ON = datetime(2026, 1, 1, tzinfo=UTC)
_TRANSLATED = re.compile(r"\{%\s*translate\s+\"([^\"]+)\"[^%]*%\}")
#: What is no message: keys, codes, tables of the structure, names of formats and commands.
_NO_MESSAGE = re.compile(r"^[a-z_/]+$|[*|\n]|yellow-sill|^(?!.*[a-z])", re.DOTALL)


def messages() -> list[str]:
    """All messages with a term in them, sorted."""
    found = {
        path["name"] for body in BODIES for path in (vehicle_structure(body, {}) or {"paths": []})["paths"]
    }
    for path in PACKAGE.rglob("*.py"):
        if not {"migrations", "demo"} & set(path.relative_to(PACKAGE).parts) and path.name != "terms.py":
            found |= set(_constants(ast.parse(path.read_text(encoding="utf-8"))))
    for path in PACKAGE.rglob("*.html"):
        found |= set(_TRANSLATED.findall(path.read_text(encoding="utf-8")))
    return sorted(text for text in found if terms_in(text))


def _constants(tree: ast.Module) -> Iterator[str]:
    """Texts of a module that are no documentation and may be shown."""
    documentation = {
        id(node.body[0].value)
        for node in ast.walk(tree)
        if isinstance(node, (ast.Module, ast.ClassDef, ast.FunctionDef))
        and node.body
        and isinstance(node.body[0], ast.Expr)
    }
    for node in ast.walk(tree):
        if (
            isinstance(node, ast.Constant)
            and isinstance(node.value, str)
            and id(node) not in documentation
            and not _NO_MESSAGE.search(node.value)
        ):
            yield node.value


def catalogue() -> tuple[bytes, bytes]:
    """The catalogue as text and as Django reads it."""
    made = Catalog(
        locale="en_US",
        header_comment=HEADER,
        project="Yellow Sill",
        fuzzy=False,
        creation_date=MADE_ON,
        revision_date=MADE_ON,
    )
    for text in messages():
        made.add(text, american(text))
    text_file, machine_file = io.BytesIO(), io.BytesIO()
    write_po(text_file, made, omit_header=True, width=110)
    write_mo(machine_file, made)
    head = f'{HEADER}\nmsgid ""\nmsgstr ""\n"Language: en_US\\n"\n"Content-Type: text/plain; charset=utf-8\\n"\n\n'
    return head.encode() + text_file.getvalue(), machine_file.getvalue()


def write_catalogue() -> None:
    text_file, machine_file = catalogue()
    CATALOGUE.parent.mkdir(parents=True, exist_ok=True)
    CATALOGUE.with_suffix(".po").write_bytes(text_file)
    CATALOGUE.with_suffix(".mo").write_bytes(machine_file)
