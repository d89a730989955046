"""The usual ways to renew sills and floors, worked out for this shell as it is today."""

from dataclasses import dataclass, replace
from urllib.parse import urlencode

from django.http import HttpRequest, HttpResponse
from django.urls import reverse
from django.views.decorators.http import require_GET

from yellow_sill.core.errors import CoreError
from yellow_sill.core.hold.ordered import Order
from yellow_sill.core.hold.verdict import Held
from yellow_sill.core.hold.ways import Way, WayOrder, usual_orders, usual_ways
from yellow_sill.core.hold.words import reason
from yellow_sill.web.frame.page import Page, show
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.models import Vehicle

from ..charts import WaysChart, way_bar, ways_chart
from ..order_services import own_order
from ..services import Facts, facts_of, has_structure, held_of, request_of, stands_of
from ..setups import Fitted, Setup, setup_of
from .common import cells, none_yet


@require_GET
@with_vehicle
def ways(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """Each way with its verdict; the engine may be in or out."""
    if not has_structure(vehicle):
        return none_yet(request)
    engine, cut = "engine" in request.GET, "cut" in request.GET
    setup = replace(
        Setup.of(setup_of(vehicle)),
        out=(),
        new=(),
        cuts=(),
        braces=(),
        engine_in=engine,
        doors_on=engine,
        tube="25x2",
        ends="welded",
    )
    try:
        facts = facts_of(vehicle, setup)
        codes = sorted({opening.why for opening in facts.openings})
        facts = facts if cut else replace(facts, openings=())
        asked = request_of(facts)
        states = usual_ways(asked.nodes, asked.parts)
        rows = [_row(vehicle, facts, way) for way in states]
        orders = (
            [_order(vehicle, facts, each) for each in usual_orders(asked.nodes, asked.parts)]
            if "orders" in request.GET
            else []
        )
        whole = held_of(facts)
    except CoreError as error:
        return none_yet(request, error)
    page = WaysPage(
        current_stage="hold",
        cells=cells(vehicle, ("Ways", len(rows)), ("Engine", "in" if engine else "out")),
        rows=rows,
        orders=orders,
        whole=whole,
        engine=engine,
        cut=cut,
        open_codes=codes,
        setup=setup,
        chart=ways_chart(),
    )
    return show(request, "hold/ways.html", page)


def _fitted(setup: Setup, pairs) -> tuple[Fitted, ...]:
    return tuple(Fitted(start=a, end=b, tube=setup.tube, ends=setup.ends) for a, b in pairs)


@dataclass(frozen=True, slots=True, kw_only=True)
class WayRow:
    """A way: what is out and which braces are in, how it holds, why, its bar (px), and where it is tried."""

    way: Way
    held: Held
    why: str
    bar: float
    url: str


@dataclass(frozen=True, slots=True, kw_only=True)
class OrderTried:
    """An order of work gone through from the whole shell, and where it is tried."""

    told: WayOrder
    order: Order
    url: str


@dataclass(frozen=True, slots=True, kw_only=True)
class WaysPage(Page):
    """``whole``: the shell as surveyed; ``cut``: whether what repairs have out counts; ``open_codes``: those repairs."""

    rows: list[WayRow]
    orders: list[OrderTried]
    whole: Held
    engine: bool
    cut: bool
    open_codes: list[str]
    setup: Setup
    chart: WaysChart


def _row(vehicle: Vehicle, facts: Facts, way: Way) -> WayRow:
    setup = replace(facts.setup, out=way.out, braces=_fitted(facts.setup, way.braces))
    held = held_of(replace(facts, setup=setup))
    query = [
        ("try", "1"),
        *(("out", part) for part in way.out),
        *(("brace", f"{a}-{b}") for a, b in way.braces),
        *(("stand", name) for name in stands_of(facts)),
    ]
    query += [("engine", "1"), ("doors", "1")] if setup.engine_in else []
    url = f"{reverse('hold:hold', args=[vehicle.pk])}?{urlencode(query)}"
    return WayRow(way=way, held=held, why=reason(held), bar=way_bar(held.j), url=url)


def _order(vehicle: Vehicle, facts: Facts, told: WayOrder) -> OrderTried:
    setup = replace(facts.setup, braces=_fitted(facts.setup, told.braces))
    parts = tuple(dict.fromkeys(step[1:] for step in told.steps))
    gone = own_order(replace(facts, setup=setup), parts, told.steps)
    query = urlencode([*(("job", part) for part in parts), *(("step", step) for step in told.steps)])
    url = f"{reverse('hold:order', args=[vehicle.pk])}?{query}"
    return OrderTried(told=told, order=gone.order, url=url)
