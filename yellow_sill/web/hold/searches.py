"""Searches for a better order, each in a process of its own: the pages go on, ask how far it is, and may stop it."""

import hashlib
import json
import os
import subprocess
import sys
import threading
from collections import OrderedDict
from dataclasses import dataclass, field
from typing import Any

#: At most so many run at once, and so many answers are remembered.
MOST_RUNNING, REMEMBERED = 2, 24


@dataclass(slots=True)
class Search:
    """One search: the share done, its answer (plain values as ``calc`` prints them) or what went wrong."""

    vehicle: int
    process: subprocess.Popen | None = None
    share: float = 0.0
    answer: dict[str, Any] | None = None
    fault: str = ""
    cancelled: bool = False
    done: threading.Event = field(default_factory=threading.Event)


_searches: OrderedDict[str, Search] = OrderedDict()
_lock = threading.Lock()


class TooMany(Exception):
    """Other searches are running."""


def start(vehicle: int, values: dict[str, Any]) -> str:
    """Begin a search unless the same one was begun before; its key. Raises: TooMany."""
    told = json.dumps(values, sort_keys=True)
    key = hashlib.sha256(f"{vehicle} {told}".encode()).hexdigest()[:24]
    with _lock:
        known = _searches.get(key)
        if known is not None and not known.cancelled and not known.fault:
            return key
        if sum(not search.done.is_set() for search in _searches.values()) >= MOST_RUNNING:
            raise TooMany
        search = _searches[key] = Search(vehicle=vehicle)
        while len(_searches) > REMEMBERED:
            old = next(iter(_searches))
            if not _searches[old].done.is_set():
                break
            _searches.pop(old)
        search.process = subprocess.Popen(
            [sys.executable, "-m", "yellow_sill.core.calc", "removal_order", "--progress"], stdin=subprocess.PIPE, stdout=subprocess.PIPE,
            stderr=subprocess.PIPE, text=True, env=os.environ | {"PYTHONPATH": os.pathsep.join(sys.path)},
        )  # fmt: skip
    threading.Thread(target=_follow, args=(search, told), daemon=True).start()
    return key


def _follow(search: Search, told: str) -> None:
    """Feed the process, read how far it is, take its answer."""
    process = search.process
    answer: list[str] = []
    reader = threading.Thread(target=lambda: answer.append(process.stdout.read()), daemon=True)
    reader.start()
    try:
        process.stdin.write(told)
        process.stdin.close()
        for line in process.stderr:
            if line.strip().replace(".", "").isdigit():
                search.share = float(line)
        reader.join()
        process.wait()
        told_back = json.loads(answer[0]) if answer and answer[0] else {}
        if search.cancelled:
            search.fault = "Stopped."
        elif "error" in told_back:
            search.fault = told_back["error"]["message"]
        elif not told_back:
            search.fault = "The search broke off. Start it again."
        else:
            search.answer = told_back
    except (OSError, ValueError):
        search.fault = "Stopped." if search.cancelled else "The search broke off. Start it again."
    finally:
        process.stdout.close()
        process.stderr.close()
        search.done.set()


def find(vehicle: int, key: str) -> Search | None:
    """A vehicle's search by its key; None where it is not known, as after a restart."""
    search = _searches.get(key)
    return search if search is not None and search.vehicle == vehicle else None


def cancel(vehicle: int, key: str) -> None:
    """Stop a search; nothing happens where it is done."""
    search = find(vehicle, key)
    if search is not None and not search.done.is_set():
        search.cancelled = True
        search.process.terminate()
