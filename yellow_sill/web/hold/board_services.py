"""The hold board's data: everything the drawing shows, as plain values for the page."""

from collections.abc import Collection, Sequence
from typing import Any

import numpy as np

from yellow_sill.core.hold.bodies import panels_of
from yellow_sill.core.hold.condition import Opening, carried
from yellow_sill.core.hold.order import Order, OrderPlan
from yellow_sill.core.hold.structure import HoldRequest
from yellow_sill.core.hold.verdict import HELD_BELOW, SOFT_BELOW, Held
from yellow_sill.core.hold.words import node_name, part_name

from .services import Setup

#: How much movements are drawn larger than they are, and how far the softest movement swings on the drawing, mm.
EXAGGERATION, SWING_MM = 50, 140


def board_data(request: HoldRequest, held: Held, kept: Collection[tuple[str, str]], body: list) -> dict[str, Any]:
    """Nodes, members, braces (which of them are ``kept``) and stands in space, with what each is worth now."""
    share = carried(request)
    shape = held.softest.shape if held.softest else {}
    most = max((float(np.linalg.norm(v)) for v in shape.values()), default=0.0)
    return {
        "nodes": {
            name: {
                "at": at,
                "name": node_name(name),
                "give": held.nodes[name].give_mm if name in held.nodes else None,
                "swing": [v / most * SWING_MM for v in shape[name]] if name in shape and most else [0, 0, 0],
            }
            for name, at in request.nodes.items()
        },
        "members": [
            {
                "ends": [frame.start, frame.end],
                "share": share[frame.id],
                "size": _size(frame.strips),
                "idle": frame.id in held.idle,
                "told": f"{', '.join(dict.fromkeys(part_name(strip[4]) for strip in frame.strips))}: {share[frame.id] * 100:.0f} % of its metal",
            }
            for frame in request.frames
        ],
        "braces": [[brace.start, brace.end, (brace.start, brace.end) in kept] for brace in request.braces],
        "stands": {name: held.reactions_n.get(name) for name in request.stands},
        "worst": held.worst_node,
        "verdict": held.verdict,
        "body": body,
    }


def _size(strips: Sequence[Sequence]) -> float:
    """The lesser of width and height of a member, mm: how thick it is drawn."""
    ys, zs = [v for s in strips for v in (s[0], s[2])], [v for s in strips for v in (s[1], s[3])]
    return min(max(ys) - min(ys), max(zs) - min(zs)) or 20.0


def part_rows(request: HoldRequest, setup: Setup, openings: Sequence[Opening]) -> list[dict[str, Any]]:
    """Every part by name: whether it is out, what rust has taken, and which repair has a piece of it out."""
    rows = []
    for name, part in request.parts.items():
        why = sorted({opening.why for opening in openings if opening.panel in panels_of(name)})
        rows.append({"code": name, "name": part_name(name), "out": name in setup.out, "loss": part.loss * 100, "remain": part.remain * 100, "repairs": why})
    return sorted(rows, key=lambda row: (not row["out"], not row["repairs"], row["name"]))


def brace_rows(request: HoldRequest, setup: Setup) -> list[tuple[str, str, float]]:
    """Each brace: its code, its two places in words, its length."""
    rows = []
    for a, b in setup.braces:
        known = a in request.nodes and b in request.nodes
        length = float(np.linalg.norm(np.subtract(request.nodes[a], request.nodes[b]))) if known else 0.0
        rows.append((f"{a}-{b}", f"{node_name(a)} to {node_name(b)}" if known else f"{a} to {b}", length))
    return rows


#: The chart of an order: width and height in px, J at its foot and top (logarithmic), room left for words.
CHART, CHART_J, CHART_LEFT = (760, 225), (0.3, 30.0), 64


def order_chart(plan: OrderPlan) -> dict[str, Any]:
    """J step by step of the order found and of everything out first, as lines in px, with the limits of HELD and SOFT."""
    steps = max(len(order.steps) for order in (plan.found, plan.own) if order)
    low, high = np.log(CHART_J)
    up = lambda j: round(float(CHART[1] * (1 - (np.clip(np.log(max(j, 1e-6)), low, high) - low) / (high - low))), 1)  # noqa: E731
    along = lambda i: round(CHART_LEFT + (CHART[0] - CHART_LEFT) * i / max(1, steps), 1)  # noqa: E731
    line = lambda order: [(along(i), up(j)) for i, j in enumerate([plan.start_j, *(step.j for step in order.steps)])]  # noqa: E731
    return {
        "found": line(plan.found),
        "own": line(plan.own) if plan.own else [],
        "held": up(HELD_BELOW),
        "height_held": round(CHART[1] - up(HELD_BELOW), 1),
        "soft_words": round((up(HELD_BELOW) + up(SOFT_BELOW)) / 2 + 5, 1),
        "soft": up(SOFT_BELOW),
        "width": CHART[0],
        "inner": CHART[0] - CHART_LEFT,
        "height": CHART[1],
        "left": CHART_LEFT,
    }


def order_rows(order: Order) -> list[dict[str, Any]]:
    """Each step in words with its verdict."""
    return [
        {"out": step.action[0] == "-", "words": f"{'Take out' if step.action[0] == '-' else 'New in'}: {part_name(step.action[1:])}", "verdict": step.verdict}
        for step in order.steps
    ]


def places(request: HoldRequest) -> list[tuple[str, str]]:
    """The places a brace can join, by name."""
    return sorted(((name, node_name(name)) for name in request.nodes), key=lambda each: each[1])
