"""A finished page in American terms: its text and labels, never what a person typed into a field, addresses or scripts."""

import json
import re
from dataclasses import replace

from django.http import HttpResponse

from yellow_sill.core.formats.record_pdf import RecordSheet
from yellow_sill.core.terms import american

from .units import american_terms

_PIECES = re.compile(
    r"(<(?:script|style|textarea)\b.*?</(?:script|style|textarea)>|<a class=\"ys-brand\".*?</a>|<[^>]+>)",
    re.DOTALL,
)
_LABELS = re.compile(r'\b(aria-label|placeholder|alt)="([^"]*)"')
_BOARD_DATA = re.compile(r'(<script id="tags" type="application/json">)(.*?)(</script>)', re.DOTALL)
#: Values in JSON answers that are sentences for a person.
_SAID = ("what", "mend", "why", "text", "figures")


def in_american(response: HttpResponse) -> None:
    """Change the answer in place; files, pictures and data keep their words."""
    kind = response.get("Content-Type", "")
    if kind.startswith("text/html"):
        response.content = page(response.content.decode()).encode()
    elif (
        kind.startswith("application/json")
        and "Content-Disposition" not in response
        and response.status_code != 404
    ):
        response.content = json.dumps(_sentences(json.loads(response.content)), ensure_ascii=False).encode()
    else:
        return
    if response.has_header("Content-Length"):
        response["Content-Length"] = str(len(response.content))


def page(html: str) -> str:
    """Text between tags, and the labels in them."""
    out = []
    for piece in _PIECES.split(html):
        if not piece.startswith("<"):
            out.append(american(piece))
        elif piece.startswith(("<script", "<style", '<a class="ys-brand"')):
            out.append(_BOARD_DATA.sub(lambda m: m[1] + american(m[2]) + m[3], piece))
        elif piece.startswith("<textarea"):
            out.append(piece)
        else:
            out.append(_LABELS.sub(lambda m: f'{m[1]}="{american(m[2])}"', piece))
    return "".join(out)


def sheet_in_terms(sheet: RecordSheet) -> RecordSheet:
    """A paper sheet in the terms of whoever asks now; body numbers and the like keep their letters, since codes are never changed."""
    if not american_terms.get():
        return sheet
    told = [
        replace(
            section,
            head=american(section.head),
            rows=[(american(label), american(text)) for label, text in section.rows],
            drawings=[(american(caption), drawing) for caption, drawing in section.drawings],
            photos=[(data, american(caption)) for data, caption in section.photos],
        )
        for section in sheet.sections
    ]
    return replace(sheet, title=american(sheet.title), sections=told)


def _sentences(value):
    if isinstance(value, dict):
        return {
            key: american(item) if key in _SAID and isinstance(item, str) else _sentences(item)
            for key, item in value.items()
        }
    return [_sentences(item) for item in value] if isinstance(value, list) else value
