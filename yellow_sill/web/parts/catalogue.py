"""The adapter to a supplier's catalogue: asks over HTTP, reads only what keeps to the format, tells everything else in a sentence."""

import json
from decimal import Decimal
from typing import Any
from urllib.error import HTTPError, URLError
from urllib.parse import quote, urlencode, urlsplit
from urllib.request import HTTPRedirectHandler, Request, build_opener

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.parts.wire import CatalogueItem, Found, OrderTold

#: How long an answer may take, s, and how large it may be, bytes.
WAIT_S, MOST_BYTES = 5.0, 1_000_000


class NoAnswer(CoreError):
    """A supplier does not answer, or not in the agreed format."""

    code = "SUPPLIER"


class _Stay(HTTPRedirectHandler):
    """Nobody is sent elsewhere: the address is the one that the person typed."""

    def redirect_request(self, *_args: Any) -> None:
        return None


_opener = build_opener(_Stay)


def require_address(address: str) -> str:
    """An address as typed, without a slash at its end. Raises: BadField."""
    try:
        parts = urlsplit(address.strip())
        fine = parts.scheme in ("http", "https") and bool(parts.hostname) and not parts.query and (parts.port or 1) > 0  # fmt: skip
    except ValueError:
        fine = False
    if not fine:
        raise BadField("That is no address of a catalogue.", "address", "It begins with http:// or https://.")
    return address.strip().rstrip("/")


def _ask(address: str, path: str, sent: dict[str, Any] | None = None) -> Any:
    """What is answered. Raises: NoAnswer, BadField."""
    data = None if sent is None else json.dumps(sent).encode()
    request = Request(  # noqa: S310 - the scheme is looked at
        require_address(address) + path, data=data, headers={"Accept": "application/json", "Content-Type": "application/json"}
    )  # fmt: skip
    try:
        with _opener.open(request, timeout=WAIT_S) as answer:
            text = answer.read(MOST_BYTES + 1)
    except HTTPError as error:
        raise _refusal(error) from None
    except (URLError, OSError, ValueError) as error:
        late = "timed out" in str(error)
        raise NoAnswer(
            f"The supplier {'takes too long to answer' if late else 'does not answer'}.", "supplier", "Nothing is ordered and nothing is lost: try again later."
        ) from None  # fmt: skip
    if len(text) > MOST_BYTES:
        raise _nonsense()
    try:
        return json.loads(text, parse_float=Decimal)
    except ValueError:
        raise _nonsense() from None


def _nonsense() -> NoAnswer:
    return NoAnswer(
        "The supplier's answer makes no sense.", "supplier", "Nothing is ordered and nothing is lost: ask them by telephone."
    )  # fmt: skip


def _refusal(error: HTTPError) -> NoAnswer:
    try:
        told = json.loads(error.read(10_000))
        words = str(told["error"])[:120]
        if "price" in told:
            words += f" It is {told['price']} {told.get('currency', '')} now."
    except (ValueError, TypeError, KeyError, OSError):
        return _nonsense()
    return NoAnswer(f"The supplier says: {words}", "supplier", "Nothing is ordered.")


def _read(record: Any, told: Any) -> Any:
    try:
        return record.read(told)
    except (CoreError, TypeError):
        raise _nonsense() from None


def search(address: str, words: str) -> Found:
    """What a supplier has by that name. Raises: NoAnswer, BadField."""
    return _read(Found, _ask(address, f"/search?{urlencode({'q': words})}"))


def item(address: str, ref: str) -> CatalogueItem:
    """An article as it is offered now. Raises: NoAnswer, BadField."""
    return _read(CatalogueItem, _ask(address, f"/items/{quote(ref, safe='')}"))


def place(address: str, *, ref: str, quantity: Decimal, price: Decimal, mine: str) -> OrderTold:
    """Order an article at a price; the same order (``mine``) is taken once. Raises: NoAnswer, BadField."""
    sent = {"ref": ref, "quantity": int(quantity), "price": f"{price:.2f}", "mine": mine}
    return _read(OrderTold, _ask(address, "/orders", sent))


def how_far(address: str, order: str) -> OrderTold:
    """How far an order is. Raises: NoAnswer, BadField."""
    return _read(OrderTold, _ask(address, f"/orders/{quote(order, safe='')}"))
