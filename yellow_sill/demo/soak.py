"""A working day of a large garage in short: 20 people at once on the big vehicle, for minutes or an hour; times, faults, memory."""

import http.cookiejar
import json
import os
import random
import statistics
import subprocess
import sys
import tempfile
import threading
import time
import urllib.error
import urllib.request
from dataclasses import dataclass, field
from pathlib import Path

PEOPLE, THINK_S = 20, (2.0, 8.0)
#: How often somebody stores something instead of looking at a page.
WRITES = 0.15
#: Until the pages have been built once nothing counts, seconds.
WARM_S = 25.0
#: Goals, ms: reading and writing, 95 and 99 of 100; and how much more memory than after warming up, MB.
READ_95_MS, READ_99_MS, WRITE_95_MS, GROWN_MB = 250, 500, 250, 40
PAGES = (
    "", "survey/left/", "survey/underside/", "survey/list/", "survey/finding/3/", "repairs/", "repairs/2/cut/", "repairs/2/patch/", "repairs/2/weld/",
    "repairs/2/log/", "logbook/", "datums/underside/", "datums/rounds/", "hold/", "hold/ways/", "repairs/2/record/",
)  # fmt: skip


@dataclass(slots=True)
class Seen:
    """What the people saw: ms of every page and of every reading stored, what went wrong."""

    reads: dict[str, list[float]] = field(default_factory=dict)
    writes: list[float] = field(default_factory=list)
    faults: list[str] = field(default_factory=list)


def _prepared(home: str) -> dict[str, str]:
    """A demo with the big vehicle of the bench, and the surroundings that its server runs in."""
    around = os.environ | {
        "YELLOW_SILL_DEMO_HOME": str(Path(home) / "demo"),
        "DJANGO_SETTINGS_MODULE": "yellow_sill.settings.demo",
    }
    subprocess.run([sys.executable, "-c", BUILD], check=True, env=around)  # noqa: S603 - our own words
    return around


BUILD = """
import django; django.setup()
from yellow_sill.__main__ import build_demo
from yellow_sill.demo.bench import fill
build_demo()
fill()
"""
SERVE = """
import django; django.setup()
from django.core.wsgi import get_wsgi_application
from waitress import create_server
from yellow_sill.serving import THREADS, settle_memory
app = get_wsgi_application()
settle_memory()
server = create_server(app, host="127.0.0.1", port=0, threads=THREADS, ident=None)
print(server.effective_port, flush=True)
server.run()
"""


def _person(number: int, base: str, until: float, warm: float, seen: Seen) -> None:
    rng, jar = random.Random(number), http.cookiejar.CookieJar()
    browser = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(jar))
    browser.addheaders = [("Accept-Encoding", "gzip")]
    time.sleep(rng.uniform(0, THINK_S[0]))
    browser.open(f"{base}/vehicles/new/", timeout=60).read()
    token = next(cookie.value for cookie in jar if cookie.name == "csrftoken")
    while time.monotonic() < until:
        page, writes = rng.choice(PAGES), rng.random() < WRITES
        reading = {"kind": "distance", "points": ["2L", "9R"], "value": str(round(2805 + rng.random(), 1))}
        headers = {
            "Content-Type": "application/json",
            "Accept": "application/json",
            "X-CSRFToken": token or "",
        }
        url = f"{base}/v/1/{'datums/round/3/save/' if writes else page}"
        asked = urllib.request.Request(url, headers=headers if writes else {})  # noqa: S310 - our own server
        began = time.perf_counter()
        try:
            browser.open(asked, json.dumps(reading).encode() if writes else None, timeout=60).read()
        except (OSError, urllib.error.URLError) as fault:
            seen.faults.append(f"{asked.full_url}: {fault}")
        took = (time.perf_counter() - began) * 1000
        if time.monotonic() > warm:
            (seen.writes if writes else seen.reads.setdefault(page, [])).append(took)
        time.sleep(rng.uniform(*THINK_S))


def _memory_mb(process: int) -> float:
    told = Path(f"/proc/{process}/status").read_text(encoding="utf-8")
    return int(told.split("VmRSS:")[1].split()[0]) / 1024


def _share(times: list[float], share: float) -> float:
    return sorted(times)[min(len(times) - 1, int(len(times) * share))] if times else 0.0


def main(minutes: float) -> int:
    """Print what was seen; the exit code is 1 where a goal is missed."""
    with tempfile.TemporaryDirectory() as home:
        around = _prepared(home)
        asked = [sys.executable, "-c", SERVE]
        server = subprocess.Popen(asked, env=around, stdout=subprocess.PIPE, text=True)  # noqa: S603 - our own words
        try:
            port = int(server.stdout.readline()) if server.stdout else 0
            seen, began = Seen(), time.monotonic()
            until, warm = began + WARM_S + 60 * minutes, began + WARM_S
            people = [
                threading.Thread(
                    target=_person, args=(number, f"http://127.0.0.1:{port}", until, warm, seen), daemon=True
                )
                for number in range(PEOPLE)
            ]
            for person in people:
                person.start()
            memory = []
            while any(person.is_alive() for person in people):
                time.sleep(5)
                if time.monotonic() > warm:
                    memory.append(_memory_mb(server.pid))
        finally:
            server.terminate()
            server.wait(20)
    return _told(seen, memory)


def _told(seen: Seen, memory: list[float]) -> int:
    reads = [took for times in seen.reads.values() for took in times]
    for page, times in sorted(seen.reads.items(), key=lambda each: -_share(each[1], 0.95)):
        print(
            f"{page or 'today':<24}{statistics.median(times):7.0f} ms, 95 of 100 under {_share(times, 0.95):.0f} ms, of {len(times)}"
        )
    early, late = (
        statistics.median(memory[: max(1, len(memory) // 5)]),
        statistics.median(memory[-max(1, len(memory) // 5) :]),
    )
    rows = [
        ("reading, 95 of 100, ms", _share(reads, 0.95), READ_95_MS),
        ("reading, 99 of 100, ms", _share(reads, 0.99), READ_99_MS),
        ("writing, 95 of 100, ms", _share(seen.writes, 0.95), WRITE_95_MS),
        ("memory more at the end, MB", late - early, GROWN_MB),
        ("faults", len(seen.faults), 0),
    ]
    print(
        f"{len(reads)} pages (median {statistics.median(reads):.0f} ms), {len(seen.writes)} readings, memory {early:.0f} to {late:.0f} MB"
    )
    for name, found, limit in rows:
        print(f"{name:<30}{found:8.0f}   (at most {limit}){'   MISSED' if found > limit else ''}")
    for fault in seen.faults[:5]:
        print(fault)
    return int(any(found > limit for _, found, limit in rows))
