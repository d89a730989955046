"""Sheets behind one another: which are reached through the same hole, and what of one lies over against another."""

from collections.abc import Sequence
from dataclasses import dataclass

from shapely import Polygon, unary_union

from ..outlines import Outline


@dataclass(frozen=True, slots=True, kw_only=True)
class RustySheet:
    """A panel with rust that a repair mends: the view it is drawn in, its layer (None in a view without layers), its rust's outlines."""

    view: int
    layer: int | None
    rust: Sequence[Outline]


def stacked(sheets: Sequence[RustySheet], margin_mm: float, web_mm: float) -> list[list[int]]:
    """The sheets whose rust lies behind another's taken together, outermost first.

    Rust of a deeper layer lies behind a sheet where it is within two margins and a web of that sheet's own rust, seen in the same
    view: then it is reached through the same hole.

    Args: sheets: from the outermost layer inwards; margin_mm, web_mm: of the repair.
    Returns: indices, one list for each stack.

    >>> rust = lambda x: [[(x, 0), (x + 20, 0), (x + 20, 20), (x, 20)]]
    >>> stacked([RustySheet(view=1, layer=1, rust=rust(0)), RustySheet(view=1, layer=2, rust=rust(30)), RustySheet(view=1, layer=3, rust=rust(400))], 12, 40)
    [[0, 1], [2]]
    """
    reach = 2 * margin_mm + web_mm
    shapes = [unary_union([Polygon(outline) for outline in sheet.rust]) for sheet in sheets]
    left, stacks = list(range(len(sheets))), []
    while left:
        together = [left.pop(0)]
        rust, first = shapes[together[0]], sheets[together[0]]
        for i in list(left):
            sheet, last = sheets[i], sheets[together[-1]]
            if sheet.view != first.view or sheet.layer is None or last.layer is None:
                continue
            if sheet.layer > last.layer and shapes[i].distance(rust) <= reach:
                together.append(i)
                left.remove(i)
                rust = unary_union([rust, shapes[i]])
        stacks.append(together)
    return stacks


def next_behind(mine: Outline, deeper: Sequence[tuple[int, Outline]]) -> list[int]:
    """Cuts in the next sheets behind a cut that lie over against it.

    Args: mine: the cut; deeper: layer and outline of each cut in a deeper sheet of the same view.
    Returns: indices of those in the nearest layer that has any.
    """
    shape = Polygon(mine)
    over = [i for i, (_, outline) in enumerate(deeper) if Polygon(outline).intersects(shape)]
    nearest = min((deeper[i][0] for i in over), default=0)
    return [i for i in over if deeper[i][0] == nearest]


def holes_on(panel: Outline, drawn: Sequence[Outline]) -> list[Outline]:
    """Of the holes that a drawing shows, those on a panel."""
    metal = Polygon(panel)
    return [hole for hole in drawn if len(hole) > 2 and metal.contains(Polygon(hole).representative_point())]
