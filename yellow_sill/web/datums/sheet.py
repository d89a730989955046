"""The measuring sheet of a round, drawn from its plan."""

from yellow_sill.core.days import day_words
from yellow_sill.core.formats.measuring_sheet import SheetRow, measuring_sheet_pdf
from yellow_sill.core.formats.sketch import Disc, Label, Sketch, Stroke
from yellow_sill.web.frame.units import said
from yellow_sill.web.shells.models import ShellView

from .board_services import shown_points
from .models import Round
from .walk import Step

#: Views on the sheet, and how far a label stands off its point, mm on the shell.
VIEWS, LABEL_OFF_MM, LABEL_MM, DOT_MM = ("underside", "left"), 62.0, 46.0, 14.0


def measuring_sheet(round_: Round, steps: list[Step]) -> bytes:
    points = list(round_.vehicle.datum_points.all())
    drawings = []
    for view in (
        ShellView.objects.filter(vehicle=round_.vehicle, name__in=VIEWS)
        .prefetch_related("panels")
        .order_by("-name")
    ):
        sketch = Sketch()
        panels = [panel for panel in view.panels.all() if not view.layered or panel.layer == 1]
        for panel in sorted(panels, key=lambda panel: panel.tone or 0.5):
            sketch.items.append(Stroke("panel", tuple((u, v) for u, v in panel.outline), True))
        middle = (view.bounds[1] + view.bounds[3]) / 2
        for point in shown_points(view, points):
            u, v = view.plane.drawn(point.nominal)
            sketch.items.append(Disc("tack", (u, v), DOT_MM))
            sketch.items.append(
                Label(point.code, (u, v + (LABEL_OFF_MM if v >= middle else -LABEL_OFF_MM)), LABEL_MM)
            )
        drawings.append((said(view.title), sketch))
    rows = [
        SheetRow(
            number=i,
            word=said(step.word),
            points=" - ".join(step.points),
            hint="; ".join(said(name) for name in step.names),
        )
        for i, step in enumerate(steps, 1)
    ]
    cells = [
        ("Vehicle", str(round_.vehicle)), ("Body no.", round_.vehicle.body_no or "–"), ("Stage", round_.get_stage_display()),
        ("Day", day_words(round_.taken_on)), ("Read by", ""), ("Units", "mm"),
    ]  # fmt: skip
    about = f" for {round_.about}" if round_.about else ""
    return measuring_sheet_pdf(f"Measuring sheet, round {round_.number}{about}", cells, drawings, rows)
