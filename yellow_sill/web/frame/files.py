"""Files that are given out: never opened by the browser as a page of ours."""

from django.http import HttpResponse


def attachment(data: bytes | str, name: str, content_type: str) -> HttpResponse:
    """A file to keep, under a plain name."""
    return HttpResponse(
        data,
        content_type=content_type,
        headers={
            "Content-Disposition": f'attachment; filename="{name}"',
            "X-Content-Type-Options": "nosniff",
        },
    )


def shown(data: bytes, name: str, content_type: str = "application/pdf") -> HttpResponse:
    """A file that the browser may show by itself, such as paper to print."""
    return HttpResponse(
        data,
        content_type=content_type,
        headers={"Content-Disposition": f'inline; filename="{name}"', "X-Content-Type-Options": "nosniff"},
    )
