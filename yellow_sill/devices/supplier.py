"""A simulated supplier: a small catalogue of made-up firms on a loopback port, JSON over HTTP (docs/formats.md); it is late, wrong and dearer now and then.

A day of its calendar passes in a few seconds, so that an order can be seen to come.
"""

import argparse
import contextlib
import json
import random
import re
import time
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from threading import Lock
from typing import Any
from urllib.parse import parse_qs, urlsplit

PORT = 8469
#: A day of the firm's calendar, s.
DAY_S = 3.0
MOST_BODY = 100_000
FIRMS = ("Lantern Panels", "Harbour Breakers")
#: What happens to an order of an article: nothing, it comes late, the wrong thing is packed, the price is raised once it was looked at.
MOODS = ("steady", "steady", "late", "wrong", "steady", "dearer")
#: So often an article is seen at its first price.
LOOKS = 2
_NAMES = (
    ("Outer sill", "sill", 148.0), ("Inner sill", "sill", 92.0), ("Front wing", "wing", 231.0), ("Rear arch repair section", "arch", 74.0),
    ("Floor pan, front", "floor", 118.0), ("Jacking point", "jack", 27.5), ("Door skin", "door", 126.0), ("Mud flap", "flap", 9.8),
    ("Door seal", "seal", 38.0), ("Splash plate", "splash", 33.0), ("Heelboard", "heel", 64.0), ("Rear valance", "valance", 88.0),
)  # fmt: skip


@dataclass(slots=True)
class Shop:
    """A firm: its articles, what was ordered, how often each was looked at; all answers follow from the seed."""

    firm: str
    items: list[dict[str, Any]]
    day_s: float = DAY_S
    orders: dict[str, dict[str, Any]] = field(default_factory=dict)
    seen: dict[str, int] = field(default_factory=dict)
    lock: Lock = field(default_factory=Lock)

    def price(self, item: dict[str, Any]) -> str:
        """What it costs now: one that is dearer has risen by a tenth once it was found and looked at."""
        risen = item["mood"] == "dearer" and self.seen.get(item["ref"], 0) > LOOKS
        return f"{float(item['price']) * (1.1 if risen else 1.0):.2f}"

    def shown(self, item: dict[str, Any]) -> dict[str, Any]:
        self.seen[item["ref"]] = self.seen.get(item["ref"], 0) + 1
        return {key: value for key, value in item.items() if key != "mood"} | {"price": self.price(item)}

    def search(self, words: str) -> list[dict[str, Any]]:
        asked = words.lower().split()
        return [self.shown(each) for each in self.items if all(word in f"{each['name']} {each['hand']}".lower() for word in asked)][:50]  # fmt: skip

    def item(self, ref: str) -> dict[str, Any] | None:
        return next((each for each in self.items if each["ref"] == ref), None)

    def order(self, asked: dict[str, Any]) -> tuple[int, dict[str, Any]]:
        """Take an order; the same order of the same buyer is taken once."""
        item = self.item(str(asked.get("ref", "")))
        if item is None:
            return 404, {"error": "There is no such article."}
        mine = str(asked.get("mine", ""))[:60]
        for known in self.orders.values():
            if mine and known["mine"] == mine:
                return 200, self.told(known)
        self.seen[item["ref"]] = self.seen.get(item["ref"], 0) + 1
        if str(asked.get("price", "")) != self.price(item):
            return 409, {"error": "The price has changed.", "price": self.price(item), "currency": item["currency"]}  # fmt: skip
        quantity = max(1, min(1000, int(asked.get("quantity", 1))))
        number = f"A{len(self.orders) + 1041}"
        self.orders[number] = {
            "order": number, "mine": mine, "item": item, "price": f"{float(self.price(item)) * quantity + float(item['carriage']):.2f}", "at": time.monotonic(),
        }  # fmt: skip
        return 201, self.told(self.orders[number])

    def told(self, order: dict[str, Any]) -> dict[str, Any]:
        item, gone = order["item"], (time.monotonic() - order["at"]) / self.day_s
        days = item["days"] + (9 if item["mood"] == "late" else 0)
        state = "accepted" if gone < days / 2 else "sent" if gone < days else "delivered"
        packed = ""
        if state == "delivered":
            packed = self._wrong(item) if item["mood"] == "wrong" else item["ref"]
        late = item["mood"] == "late" and gone > item["days"]
        return {
            "order": order["order"], "state": state, "price": order["price"], "currency": item["currency"], "delivered": packed,
            "expected": str(datetime.now(tz=UTC).date() + timedelta(days=max(0, round(days - gone)))), "words": "The lorry broke down." if late else "",
        }  # fmt: skip

    def _wrong(self, item: dict[str, Any]) -> str:
        """The article of the other hand, or the next one on the shelf."""
        other = next((each for each in self.items if each["name"] == item["name"] and each["hand"] != item["hand"]), None)  # fmt: skip
        return (other or self.items[(self.items.index(item) + 1) % len(self.items)])["ref"]


def stocked(firm: str, seed: int = 12, day_s: float = DAY_S) -> Shop:
    """A made-up firm with a shelf of its own."""
    rng = random.Random(f"{firm} {seed}")  # noqa: S311 - a game, not a secret
    items: list[dict[str, Any]] = []
    for name, code, usual in _NAMES:
        for hand in ("left", "right") if code not in ("heel", "valance", "seal") else ("",):
            items.append({
                "ref": f"{code}-{hand[:1] or 'x'}-{rng.randint(100, 999)}", "name": name, "hand": hand,
                "source": "used" if "Breakers" in firm else "reproduction",
                "price": f"{usual * rng.uniform(0.5, 0.7) if 'Breakers' in firm else usual * rng.uniform(0.9, 1.1):.2f}",
                "currency": "GBP", "carriage": f"{rng.choice([6, 12, 18.5]):.2f}", "stock": rng.choice([0, 1, 2, 4, 9]), "days": rng.randint(2, 6),
                "late_days": rng.randint(8, 16), "mood": rng.choice(MOODS),
            })  # fmt: skip
    return Shop(firm=firm, items=items, day_s=day_s)


class Counter(BaseHTTPRequestHandler):
    """Answers of one shop: GET /search?q=, /items/REF, /orders/NUMBER; POST /orders."""

    shop: Shop
    server_version = "catalogue"

    def do_GET(self) -> None:
        path = urlsplit(self.path)
        with self.shop.lock:
            if path.path == "/search":
                words = parse_qs(path.query).get("q", [""])[0][:80]
                return self._say(200, {"firm": self.shop.firm, "items": self.shop.search(words)})
            if found := re.fullmatch(r"/items/([\w-]{1,40})", path.path):
                item = self.shop.item(found[1])
                return self._say(200, self.shop.shown(item)) if item else self._say(404, {"error": "There is no such article."})  # fmt: skip
            if found := re.fullmatch(r"/orders/(\w{1,40})", path.path):
                order = self.shop.orders.get(found[1])
                return self._say(200, self.shop.told(order)) if order else self._say(404, {"error": "There is no such order."})  # fmt: skip
        return self._say(404, {"error": "There is no such page."})

    def do_POST(self) -> None:
        length = int(self.headers.get("Content-Length") or 0)
        if self.path != "/orders" or not 0 < length <= MOST_BODY:
            return self._say(404, {"error": "There is no such page."})
        try:
            asked = json.loads(self.rfile.read(length))
            with self.shop.lock:
                status, told = self.shop.order(asked)
        except (ValueError, TypeError, AttributeError):
            status, told = 400, {"error": "That is no order."}
        return self._say(status, told)

    def _say(self, status: int, told: dict[str, Any]) -> None:
        data = json.dumps(told).encode()
        self.send_response(status)
        self.send_header("Content-Type", "application/json")
        self.send_header("Content-Length", str(len(data)))
        self.end_headers()
        self.wfile.write(data)

    def log_message(self, *_told) -> None:
        """It says nothing."""


def serve(
    firm: str = FIRMS[0], port: int | None = None, seed: int = 12, day_s: float = DAY_S
) -> ThreadingHTTPServer:
    """A firm answering on the loopback address; call ``serve_forever`` in a thread of your own."""
    counter = type("ShopCounter", (Counter,), {"shop": stocked(firm, seed, day_s)})
    return ThreadingHTTPServer(("127.0.0.1", PORT if port is None else port), counter)


def main(arguments: list[str] | None = None) -> None:
    parser = argparse.ArgumentParser(
        prog="yellow-sill supplier", description="A simulated supplier's catalogue on a loopback port."
    )
    parser.add_argument("--port", type=int)
    parser.add_argument("--firm", choices=FIRMS, default=FIRMS[0])
    parser.add_argument("--day", type=float, default=DAY_S, help="seconds that a day of its calendar takes")
    args = parser.parse_args(arguments)
    with serve(args.firm, args.port, day_s=max(0.05, args.day)) as server:
        print(f"{args.firm} (made up) on http://127.0.0.1:{server.server_address[1]}. Ctrl-C ends it.", flush=True)  # fmt: skip
        with contextlib.suppress(KeyboardInterrupt):
            server.serve_forever()


if __name__ == "__main__":
    main()
