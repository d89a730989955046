"""How fast the core and the pages are, on this machine: medians of warm runs against the speeds we hold ourselves to."""

import math
import os
import random
import statistics
import tempfile
import time
from collections.abc import Callable
from datetime import date, timedelta
from decimal import Decimal
from pathlib import Path
from typing import Any, NamedTuple

from .bench_dossier import dossier_work, lay_down_photos
from .bench_locks import locks
from .bench_money import money_work
from .bench_order import order_work
from .bench_record import record_work
from .bench_weld import weld_work
from .bench_work import USUAL_REPAIR, blob, core_work

RUNS = 9


class Row(NamedTuple):
    """A speed (or another amount) beside what it is to be under."""

    name: str
    took: float
    limit: float
    unit: str = "ms"
    queries: int | None = None

    @property
    def late(self) -> bool:
        return self.took > self.limit

    def __str__(self) -> str:
        asked = "" if self.queries is None else f"   {self.queries} queries"
        limit = f"(to be under {self.limit:g} {self.unit})"
        return (
            f"{self.name:<46}{self.took:8.1f} {self.unit}   {limit}{'   MISSED' if self.late else ''}{asked}"
        )


def main() -> int:
    """Print a table; the exit code is 1 where a speed is missed."""
    rows = [
        Row(name, median_ms(work), limit)
        for name, work, limit in [*core_work(), *weld_work(), *money_work(), *order_work(), *record_work()]
    ]
    rows += pages()
    rows.append(Row(*board()))
    missed = 0
    for row in rows:
        missed += row.late
        print(row)
    return 1 if missed else 0


def median_ms(work: Callable[[], object]) -> float:
    work()
    times = []
    for _ in range(RUNS):
        start = time.perf_counter()
        work()
        times.append((time.perf_counter() - start) * 1000)
    return statistics.median(times)


def pages() -> list[Row]:
    """Server time and number of queries of each page with 300 findings, 60 repairs, 2,000 cost lines."""
    with tempfile.TemporaryDirectory() as home:
        os.environ["YELLOW_SILL_DEMO_HOME"] = str(Path(home) / "demo")
        os.environ["DJANGO_SETTINGS_MODULE"] = "yellow_sill.settings.demo"
        import django

        django.setup()
        from django.conf import settings
        from django.db import connections
        from django.test import Client
        from django.test.utils import CaptureQueriesContext

        from yellow_sill.__main__ import build_demo

        settings.ALLOWED_HOSTS = ["testserver"]
        build_demo()
        fill()
        client, rows = Client(), []
        for name in PAGES:
            client.get(name)
            with CaptureQueriesContext(connections["default"]) as queries:
                answer = client.get(name)
            asked = len(queries)
            if answer.status_code != 200:
                raise SystemExit(f"{name} answered {answer.status_code}")
            rows.append(Row(name, median_ms(lambda name=name: client.get(name)), 100, queries=asked))
        rows.append(Row("saving one reading of a round", median_ms(lambda: saved(client)), 50))
        rows += [Row(*each) for each in locks()]
        return [*rows, *(Row(*each) for each in dossier(settings.DATA))]


def dossier(home: Path) -> list[tuple[str, float, float, str]]:
    """The dossier of all repairs of the vehicle of the benches, its photos given files first."""
    from yellow_sill.web.shells.models import Vehicle

    lay_down_photos(Vehicle.objects.earliest("pk"), home / "photos")
    return dossier_work(str(home))


def saved(client) -> None:
    """One reading typed into the last round."""
    values = {"kind": "distance", "points": ["2L", "9R"], "value": "2805.5"}
    answer = client.post(
        "/v/1/datums/round/3/save/",
        values,
        content_type="application/json",
        headers={"Accept": "application/json"},
    )
    if answer.status_code != 200:
        raise SystemExit(f"saving a reading answered {answer.status_code}")


def board(findings: int = 500, seconds: float = 3.0) -> tuple[str, float, float]:
    """Time between frames while the board with hundreds of findings is panned, from the browser's own trace.

    Returns: name, median ms between drawn frames, and the most it may be for 30 frames a second.
    """
    import json
    import threading

    from django.core.wsgi import get_wsgi_application
    from django.db import connections
    from playwright.sync_api import sync_playwright
    from waitress import create_server

    from yellow_sill.__main__ import build_demo

    from .shots import BROWSER_ARGUMENTS, chromium_path

    with tempfile.TemporaryDirectory() as home:
        from django.conf import settings

        settings.DATA = Path(home) / "board"
        settings.ALLOWED_HOSTS = ["127.0.0.1"]
        connections.close_all()
        settings.DATABASES["default"]["NAME"] = connections["default"].settings_dict["NAME"] = (
            settings.DATA / "demo.sqlite3"
        )
        build_demo()
        fill(findings=findings, repairs=10, costs=20, hours=0, photos=0)
        server = create_server(get_wsgi_application(), host="127.0.0.1", port=0, threads=4)
        threading.Thread(target=server.run, daemon=True).start()
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=chromium_path(), args=BROWSER_ARGUMENTS)
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            page.goto(f"http://127.0.0.1:{server.effective_port}/v/1/survey/left/", wait_until="networkidle")
            box = page.locator("[data-shell-board]").bounding_box()
            x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
            page.mouse.move(x, y)
            page.mouse.wheel(0, -600)
            page.wait_for_timeout(300)
            browser.start_tracing(
                page=page, categories=["devtools.timeline", "disabled-by-default-devtools.timeline.frame"]
            )
            page.mouse.down()
            end = time.perf_counter() + seconds
            step = 0
            while time.perf_counter() < end:
                step += 1
                page.mouse.move(x + 160 * math.sin(step / 9), y + 60 * math.sin(step / 7))
            page.mouse.up()
            events = json.loads(browser.stop_tracing())["traceEvents"]
            browser.close()
        server.close()
        connections.close_all()
    drawn = sorted(event["ts"] for event in events if event["name"] == "DrawFrame")
    gaps = [(b - a) / 1000 for a, b in zip(drawn, drawn[1:], strict=False)]
    return f"board, {findings} findings, panned, ms a frame", statistics.median(gaps), 1000 / 30


PAGES = [
    "/v/1/", "/v/1/survey/left/", "/v/1/survey/underside/", "/v/1/survey/left/new/", "/v/1/survey/top/", "/v/1/survey/door-left/", "/v/1/survey/finding/3/", "/v/1/survey/finding/3/?edit",
    "/v/1/repairs/", "/v/1/repairs/new/?finding=3", "/v/1/repairs/2/cut/", "/v/1/repairs/2/patch/", "/v/1/repairs/2/weld/",
    "/v/1/repairs/2/weld/1/heat/?seam=0&step=40", "/v/1/repairs/2/log/", "/v/1/repairs/2/record/", "/v/1/logbook/", "/v/1/survey/front/", "/v/1/survey/list/",
    "/v/1/survey/compare/", "/v/1/survey/report/", "/v/1/survey/panel/4/", "/v/1/survey/finding/4/grid/", "/v/1/shell/left/?panel=L-SILL", "/vehicles/", "/vehicles/new/",
    "/v/1/datums/underside/", "/v/1/datums/turntable/", "/v/1/datums/underside/?round=3&against=1", "/v/1/datums/rounds/", "/v/1/datums/round/1/",
    "/v/1/datums/book/", "/v/1/datums/book/2L/", "/v/1/datums/stands/", "/v/1/repairs/2/marks/?cut=2", "/v/1/repairs/2/options/", "/v/1/repairs/2/release/", "/v/1/hold/", "/v/1/hold/?view=left",
    "/v/1/hold/?try=1&out=floor_L&out=sill_inner_L&brace=ATR-BBL&stand=RBL&stand=RBR&stand=RHL&stand=RHR", "/v/1/hold/ways/", "/v/1/hold/order/",
    "/v/1/hold/order/?job=floor_L&job=sill_inner_L&job=sill_outer_L", "/v/1/hold/braces/", "/v/1/hold/measured/",
    "/v/1/section/?at=1300", "/v/1/apart/left/", "/v/1/sheet/left/L-SILL/", "/v/1/cavities/", "/v/1/gaps/", "/v/1/survey/inside-left/", "/v/2/survey/chassis/", "/v/2/cavities/",
    "/v/1/repairs/2/joints/", "/v/1/repairs/3/weld/pull/", "/v/1/repairs/2/weld/checks/", "/v/1/settings-book/", "/v/1/consumables/", "/v/1/hot-work/", "/v/1/products/", "/v/1/parts/", "/v/1/parts/1/", "/v/1/parts/2/arrival/", "/v/1/parts/orders/", "/v/1/parts/money/",
    "/v/1/parts/money/?kind=tool&by=month", "/v/1/parts/receipts/15/", "/v/1/parts/receipts/new/", "/v/1/parts/bank/", "/v/1/parts/customer/", "/v/1/parts/surplus/", "/v/1/strip/", "/v/1/strip/boxes/", "/v/1/strip/refit/",
    "/v/1/repairs/2/protect/", "/v/1/repairs/2/protect/closing/", "/v/1/plan/", "/v/1/find/?q=sill+left", "/v/1/time-line/", "/v/1/metal/", "/v/1/photos/", "/v/1/photos/?photo=4", "/v/1/time-line/?view=left&at=2900+650", "/v/1/bring-in/", "/v/1/donors/", "/v/1/before-and-after/", "/v/1/time-line/at/?day=2026-06-01&view=left", "/v/1/plan/?step=R2:L-SILL:fit", "/v/1/plan/calendars/",
    "/v/1/plan/now/?minutes=40&hands=1&sparks=no&off_the_shell=no",
]  # fmt: skip


def fill(
    findings: int = 500, repairs: int = 60, costs: int = 2000, hours: int = 4000, photos: int = 5000
) -> None:
    """Add to the demo vehicle until it has as much as ten years of work."""
    from yellow_sill.web.logbook.models import Photo, WorkEntry
    from yellow_sill.web.parts.models import CostLine
    from yellow_sill.web.repairs.services import open_repair
    from yellow_sill.web.shells.models import Vehicle

    rng, today = random.Random(11), date.today()  # noqa: DTZ011
    vehicle = Vehicle.objects.earliest("pk")
    made = _findings(vehicle, findings, rng, today)
    for finding in made[: repairs - vehicle.repairs.count()]:
        open_repair(vehicle, [finding], opened_on=today, **USUAL_REPAIR)
    every = list(vehicle.repairs.all())
    for i in range(costs - vehicle.cost_lines.count()):
        CostLine.objects.create(
            vehicle=vehicle, repair=rng.choice([None, *every]), bought_on=today - timedelta(i % 700), supplier=f"Supplier {i % 40}", item=f"Item {i}",
            kind=rng.choice(["steel", "part", "consumable", "coating"]), quantity=Decimal(rng.randint(1, 9)), unit_price=Decimal(rng.randint(100, 9000)) / 100,
            tax_rate=Decimal(20), tax_included=bool(i % 2), by="bench",
        )  # fmt: skip
    for i in range(hours):
        WorkEntry.objects.create(
            vehicle=vehicle,
            repair=rng.choice(every),
            worked_on=today - timedelta(i % 3650),
            kind="weld",
            minutes=45,
            typed="0:45",
            by="bench",
        )
    photos_of = [
        Photo(
            vehicle=vehicle, repair=rng.choice(every), file=f"{i:032x}.jpg", width=2400, height=1800, caption=f"Photo {i}", taken_on=today - timedelta(i % 3650),
            view_id=vehicle.views.first().pk if not i else None, at=[2900.0, 650.0] if not i else [], by="bench",
        )
        for i in range(photos - vehicle.photos.count())
    ]  # fmt: skip
    Photo.objects.bulk_create(photos_of)


def _findings(vehicle: Any, findings: int, rng: random.Random, today: date) -> list:
    """More findings until there are so many."""
    from yellow_sill.web.shells.models import Panel
    from yellow_sill.web.survey.services import create_finding

    panels = {
        code: Panel.objects.get(view__vehicle=vehicle, view__name=view, code=code)
        for view, code in (("left", "L-QTR"), ("right", "R-WING"), ("underside", "BOOT"))
    }
    places = {
        "L-QTR": (2800, 3200, 560, 780),
        "R-WING": (-300, 100, 720, 780),
        "BOOT": (2720, 3200, -500, 500),
    }
    made = []
    while vehicle.findings.count() < findings:
        code = rng.choice(list(panels))
        u0, u1, v0, v1 = places[code]
        looks = [{"method": "probe", "result": rng.choice(["holds", "dents", "through"]), "made_on": today}]
        outline = blob(rng, rng.uniform(u0, u1), rng.uniform(v0, v1), rng.uniform(6, 25))
        made.append(
            create_finding(
                vehicle,
                panels[code],
                corners=outline,
                evidence=looks,
                found_on=today - timedelta(rng.randint(1, 400)),
                by="bench",
            )
        )
    return made
