"""How the patches of the demo are made, and what was done of them on the bench."""

from typing import Any

from yellow_sill.core.patch.opening import EdgeSaid
from yellow_sill.core.patch.seen import LEAST_EDGE_MM
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.patch.card_services import card_of, keep_sizes, tick_step
from yellow_sill.web.patch.services import edges_of, patch_of, save_patch, stored_values

from .made_up import OWNER, PATCHES

#: So many steps of the membrane's bench card are done.
BENCH_STEPS = 6


def _how_made(cut: Cut) -> dict[str, Any]:
    """How the patch of a cut of the demo is made, by where its edges lie: what is not named is as usual."""
    told = PATCHES.get((cut.repair.number, cut.panel.code))
    if told is None:
        return {}
    seen, made = edges_of(cut), []
    for where, how in told.items():
        ends = {"lowest": (1, min), "highest": (1, max), "foremost": (0, min), "rearmost": (0, max)}
        axis, end = ends.get(where, (1, min))
        some = [edge for edge in seen if edge.length_mm > LEAST_EDGE_MM and (edge.curved or where != "lip")]
        edge = end(some, key=lambda each, axis=axis: each.middle[axis])
        made.append({"at": edge.middle, **how})
    return {
        "gap_mm": 0.8,
        "made": [EdgeSaid.read(each).model_dump(mode="json") for each in made],
        "sides": {},
    }


def made(cut: Cut) -> None:
    patch = patch_of(cut)
    save_patch(patch, stored_values(patch) | _how_made(cut), version=None, by=OWNER)


def on_the_bench(cut: Cut) -> None:
    """The membrane's card: every size measured again, and ticked as far as its first bends."""
    sizes = {size.key: size.should_mm for size in card_of(cut).card.sizes}
    keep_sizes(cut, sizes, {key: f"{size:g}" for key, size in sizes.items()}, by=OWNER)
    for row in card_of(cut).rows[:BENCH_STEPS]:
        tick_step(cut, row.step.key, done=True, by=OWNER)
