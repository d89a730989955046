"""How long each way of storing keeps the others waiting: from the first word that SQLite writes to the commit."""

import random
import time
from collections.abc import Callable
from datetime import date
from typing import Any

from .bench_work import USUAL_REPAIR

#: The longest that others wait for one deed, ms; a table of 2,000 rows, all or none, may take longer.
MOST_MS, MOST_TABLE_MS = 200.0, 2500.0
WRITES = ("INSERT", "UPDATE", "DELETE", "REPLACE")


def longest_lock_ms(work: Callable[[], object]) -> float:
    """The longest time, within a deed, that its connection held SQLite's lock for writing."""
    from django.db import connection

    connection.ensure_connection()
    longest, begun = 0.0, None

    def told(statement: str) -> None:
        nonlocal longest, begun
        now, word = time.perf_counter(), statement.lstrip().upper()
        if begun is None and (word.startswith(WRITES) or word.startswith("BEGIN IMMEDIATE")):
            begun = now
        elif begun is not None and word.startswith(("COMMIT", "ROLLBACK")) and "SAVEPOINT" not in word:
            longest, begun = max(longest, (now - begun) * 1000), None

    raw: Any = connection.connection
    raw.set_trace_callback(told)
    try:
        work()
    finally:
        raw.set_trace_callback(None)
    return longest


def locks() -> list[tuple[str, float, float]]:
    """The deeds that store most, on the vehicle of the benches: name, longest lock, limit."""
    from yellow_sill.web.cut.services import move_cut
    from yellow_sill.web.repairs.services import open_repair
    from yellow_sill.web.shells.models import Vehicle
    from yellow_sill.web.survey.coverage_services import mark_looked
    from yellow_sill.web.survey.table_services import import_findings, undo_import

    vehicle, today = Vehicle.objects.earliest("pk"), date.today()  # noqa: DTZ011 - the garage's own day
    finding = vehicle.findings.filter(repairs=None).first()
    cut = vehicle.repairs.get(number=3).cuts.first()
    view = vehicle.views.get(name="left")
    region = [[600, 200], [2000, 400]]
    made: list = []
    return [
        ("lock: opening a repair", longest_lock_ms(lambda: open_repair(vehicle, [finding], opened_on=today, **USUAL_REPAIR)), MOST_MS),
        ("lock: moving a cut", longest_lock_ms(lambda: move_cut(cut, cut.corners, version=None, by="bench")), MOST_MS),
        ("lock: a region looked at", longest_lock_ms(lambda: mark_looked(view, 1, region, method="probe", made_on=today, by="bench")), MOST_MS),
        (
            "lock: a table of 2,000 findings",
            longest_lock_ms(lambda: made.append(import_findings(vehicle, table(), by="bench", today=today))),
            MOST_TABLE_MS,
        ),
        ("lock: that table taken back", longest_lock_ms(lambda: undo_import(made[0].stored, by="bench")), MOST_TABLE_MS),
    ]  # fmt: skip


def table(rows: int = 2000) -> str:
    rng, lines = random.Random(1), ["view,panel,name,corners"]
    for i in range(rows):
        u, v = rng.uniform(2850, 3150), rng.uniform(600, 760)
        lines.append(
            f'left,L-QTR,spot {i},"{u:.1f} {v:.1f} | {u + 9:.1f} {v:.1f} | {u + 9:.1f} {v + 9:.1f} | {u:.1f} {v + 9:.1f}"'
        )
    return "\n".join(lines)
