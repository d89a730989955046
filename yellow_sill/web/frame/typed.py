"""What stands in an address or a hidden field, taken with care."""


def whole_number(text: object) -> int | None:
    """A number such as a page, a version or a key; None for anything else, also for one that no table holds.

    >>> whole_number("12"), whole_number("²"), whole_number("9" * 20), whole_number(None)
    (12, None, None, None)
    """
    typed = str(text or "")
    return int(typed) if typed.isascii() and typed.isdigit() and len(typed) <= 15 else None
