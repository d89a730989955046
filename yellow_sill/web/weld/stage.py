from collections.abc import Iterable
from datetime import datetime

from django.urls import reverse
from django.utils import timezone

from yellow_sill.web.frame.stages import Alert, Stage, Tab

from .bundle import SECTION
from .hot_services import running, watched_until
from .services import hot_work_open
from .shop_services import short


def _alerts(vehicle, now: datetime) -> Iterable[Alert]:
    """The fire watch shows on every page until somebody has said that it is over."""
    work = running(vehicle, now)
    if work is None:
        return
    page, until = reverse("weld:hot", args=[vehicle.pk]), watched_until(work)
    if until is None:
        yield Alert(
            words=f"Hot work since {timezone.localtime(work.begun_at):%H:%M}: say the last spark.", url=page
        )
    elif until > now:
        yield Alert(
            words=f"Fire watch until {timezone.localtime(until):%H:%M}", url=page, until=until, urgent=True
        )
    else:
        yield Alert(words="The fire watch is over: look once more, say who watched.", url=page, urgent=True)


STAGE = Stage(
    place=46,
    key="weld",
    tabs=(
        Tab(place=68, key="joints", label="Joints", url_name="weld:joints", board=True),
        Tab(place=70, key="weld", label="Weld", url_name="weld:weld", of_cut=True, cuts=True, board=True),
    ),
    benches=(("settings book", "weld:book"), ("stock and bottles", "weld:shop"), ("hot work", "weld:hot")),
    facts=lambda repair, day: {"hot_work": hot_work_open(repair, day)},
    alerts=_alerts,
    lacks=short,
    bundle=SECTION,
)
