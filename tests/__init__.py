"""All tests. Hypothesis draws the same examples each time, so that a red run can be run again."""

import re

from django.test import SimpleTestCase, TestCase
from hypothesis import settings

settings.register_profile("same", derandomize=True, deadline=None)
settings.load_profile("same")


class _Flat:
    """A response whose lines are run together: where a template ends a line is no part of what its page says."""

    streaming = False

    def __init__(self, response) -> None:
        self.status_code, self.charset = response.status_code, response.charset
        body = b"".join(response.streaming_content) if response.streaming else response.content
        self.content = flat(body.decode(response.charset, "replace")).encode(response.charset, "replace")


def flat(text: str) -> str:
    return re.sub(r" ?(<[^>]*>) ?", r"\1", re.sub(r"\s+", " ", text))


_contains = SimpleTestCase._assert_contains


def _assert_contains(self, response, text, status_code, msg_prefix, html):
    plain = isinstance(text, bytes) or html
    return _contains(
        self,
        response if plain else _Flat(response),
        text if plain else flat(str(text)),
        status_code,
        msg_prefix,
        html,
    )


SimpleTestCase._assert_contains = _assert_contains


_enter_atomics = TestCase._enter_atomics.__func__


def _begin_anew(cls):
    """A test that is rolled back gives its numbers again, which no real database does: nothing is remembered across."""
    from yellow_sill.web.frame.revision import forget  # its models need Django set up

    forget()
    return _enter_atomics(cls)


TestCase._enter_atomics = classmethod(_begin_anew)
