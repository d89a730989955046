"""What the record tells of the protection of a sheet: every coat on every face, and which rules were overruled."""

from django.utils import timezone

from yellow_sill.core.days import day_words
from yellow_sill.core.said import Quoted, Said, joined
from yellow_sill.web.cut.models import Cut

from .clock_services import SIDES


def protect_rows(cut: Cut) -> list[tuple[str, str]]:
    """Label and words, face by face; only what was said by somebody."""
    rows: list[tuple[str, str]] = []
    for face in cut.faces.prefetch_related("coats"):
        coats = [
            Said(
                "{product} {day}, {by}{note}", product=Quoted(str(coat.product.get("name", ""))), day=Quoted(day_words(timezone.localtime(coat.put_on).date())),
                by=Quoted(coat.by), note=Quoted(f": {coat.note}" if coat.note else ""),
            )
            for coat in face.coats.all()
        ]  # fmt: skip
        bare = [Said("bared {day}", day=Quoted(day_words(face.bared_on)))] if face.bared_on else []
        why = [
            Said("{code} not kept: {why}", code=Quoted(code), why=Quoted(reason))
            for code, reason in face.overruled.items()
        ]
        if parts := [*bare, *coats, *why]:
            rows.append((str(SIDES.get(face.key, face.key)).capitalize(), joined(parts, "; ")))
    return rows
