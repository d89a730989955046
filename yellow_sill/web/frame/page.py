"""What a page is handed: one typed record, whose fields are the names in its template."""

from dataclasses import dataclass, fields
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render


@dataclass(frozen=True, slots=True, kw_only=True)
class Page:
    """What every page says; ``cells``: the title block, label and value; ``current_stage``: the button of the rail that is lit."""

    current_stage: str = ""
    cells: list[tuple[str, Any]]


def names_of(record: Any) -> dict[str, Any]:
    """The fields of a record by name, as a template takes them."""
    return {field.name: getattr(record, field.name) for field in fields(record)}


def show(request: HttpRequest, template: str, page: Page, *, status: int = 200) -> HttpResponse:
    """A page through its template."""
    return render(request, template, names_of(page), status=status)
