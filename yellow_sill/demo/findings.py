"""Made-up findings as they stand in the demo's tables, stored as a survey stores them."""

from datetime import date, timedelta

from yellow_sill.web.shells.models import Panel, Vehicle
from yellow_sill.web.survey.models import Finding
from yellow_sill.web.survey.services import create_finding


def stored_finding(
    vehicle: Vehicle, row: tuple, today: date, by: str, old: dict[str, str] | None = None
) -> Finding:
    """One finding. Args: row: view, code, name, corners, evidence as (method, result, hits, tries, mm), days ago; old: what was mended there before."""
    view, code, title, corners, evidence, ago = row
    panel = Panel.objects.get(view__vehicle=vehicle, view__name=view, code=code)
    day = today - timedelta(ago)
    looks = [
        {"method": m, "result": r, "hits": h, "tries": t, "thickness_mm": mm, "made_on": day}
        for m, r, h, t, mm in evidence
    ]
    return create_finding(
        vehicle, panel, corners=corners, evidence=looks, title=title, found_on=day, by=by, old=old
    )
