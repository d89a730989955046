"""Worked out once for a page: a look at a page stores nothing, so what was read for one part of it holds for the others."""

from collections.abc import Callable
from contextvars import ContextVar
from functools import wraps
from typing import ParamSpec, TypeVar

from django.db.models import Model
from django.http import HttpRequest, HttpResponse

P = ParamSpec("P")
R = TypeVar("R")

_kept: ContextVar[dict | None] = ContextVar("kept", default=None)


def once(read: Callable[P, R]) -> Callable[P, R]:
    """A reading that is the same for the whole of a page, by its arguments; records count by their key."""

    @wraps(read)
    def inner(*args: P.args, **kwargs: P.kwargs) -> R:
        kept = _kept.get()
        if kept is None:
            return read(*args, **kwargs)
        told = tuple(
            (type(arg), arg.pk) if isinstance(arg, Model) else arg for arg in (*args, *kwargs.values())
        )
        key = (read, told)
        if key not in kept:
            kept[key] = read(*args, **kwargs)
        return kept[key]

    return inner


class OnceMiddleware:
    """Opens the memory for one look at a page, and for nothing that may store."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        token = _kept.set({} if request.method in ("GET", "HEAD") else None)
        try:
            return self.get_response(request)
        finally:
            _kept.reset(token)
