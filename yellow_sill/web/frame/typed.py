"""What stands in an address or a hidden field, taken with care."""


def whole_number(text: object) -> int | None:
    """A number such as a page, a version or a key; None for anything else, also for one that no table holds.

    >>> whole_number("12"), whole_number("²"), whole_number("9" * 20), whole_number(None)
    (12, None, None, None)
    """
    typed = str(text or "")
    return int(typed) if typed.isascii() and typed.isdigit() and len(typed) <= 15 else None


def place_typed(text: str) -> list[float] | None:
    """A place on a drawing as its board sends it, mm: two numbers with a space between; None for what is none."""
    try:
        u, v = (round(float(part), 1) for part in text.split())
    except ValueError:
        return None
    return [u, v] if abs(u) < 20_000 and abs(v) < 20_000 else None
