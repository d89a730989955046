"""Files that are given out: never opened by the browser as a page of ours."""

from django.http import HttpResponse


def attachment(data: bytes | str, name: str, content_type: str) -> HttpResponse:
    """A file to keep, under a plain name."""
    return _given(data, name, content_type, "attachment")


def shown(data: bytes, name: str, content_type: str = "application/pdf") -> HttpResponse:
    """A file that the browser may show by itself, such as paper to print."""
    return _given(data, name, content_type, "inline")


def _given(data: bytes | str, name: str, content_type: str, how: str) -> HttpResponse:
    return HttpResponse(
        data, content_type=content_type, headers={"Content-Disposition": f'{how}; filename="{name}"'}
    )
