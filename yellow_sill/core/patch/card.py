"""The bench card of a patch: what to do in order, and the sizes that are measured a second time before the first bend."""

import hashlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..said import Listed, Mm, Said
from .faces import Face
from .fold_order import FoldOrder
from .layout import laid_out
from .part import PartRequest, shown
from .pattern import FlatPart
from .rim_marks import CurvedRim

#: A size on the sheet is right within this, mm; what is cut outside the line to be filed to it, mm (rules of thumb).
RIGHT_MM, OVERSIZE_MM = 0.5, 2.0


@dataclass(frozen=True, slots=True, kw_only=True)
class CardSize:
    """A size to be measured on the sheet before it is bent: its key, its words, what it should be, mm."""

    key: str
    words: str
    should_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class CardStep:
    """One thing to do: its key, its words; ``bends``: whether the sheet is changed for good, so that every size must be right before it."""

    key: str
    words: str
    bends: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class BenchCard:
    """The card: sizes, steps, and a mark of the pattern that they are of."""

    sizes: list[CardSize]
    steps: list[CardStep]
    of: str


@dataclass(frozen=True, slots=True, kw_only=True)
class SizeJudged:
    """A size with what was measured: off_mm above 0 where the sheet is larger; right None where nobody has measured."""

    size: CardSize
    measured_mm: float | None
    off_mm: float | None
    right: bool | None


def bench_card(
    request: PartRequest,
    flat: FlatPart,
    order: FoldOrder,
    rims: Sequence[CurvedRim],
    gap_mm: float,
    trim_mm: float,
) -> BenchCard:
    """What to do with a pattern on the bench, in order.

    Args: request, flat: the part and its pattern; order: of folding; rims: its curved flanges; gap_mm: at its butted edges; trim_mm: left on to be trimmed.
    """
    sizes = _sizes(request, flat)
    steps = [*_before(flat, trim_mm), *_bends(request, order, rims)]
    if trim_mm:
        steps.append(CardStep(key="trim", words=Said("Offer it up and trim a little at a time.")))
    fit = "Offer it up: {gap} of gap along the butted edges, flanges flat on their neighbours."
    steps.append(CardStep(key="offer", words=Said(fit, gap=Mm(gap_mm))))
    said = "|".join([*(f"{size.key}={size.should_mm:.2f}" for size in sizes), *(step.key for step in steps)])
    return BenchCard(sizes=sizes, steps=steps, of=hashlib.sha256(said.encode()).hexdigest()[:16])


def _before(flat: FlatPart, trim_mm: float) -> list[CardStep]:
    """What comes before the first bend."""
    template = "Card template from the pattern, at full size: offer it to the car, mark where it differs, and change the pattern before the steel."
    left = "Cut the sheet on the line: {trim} are left on all round to be trimmed."
    over = "Cut the sheet {over} outside the line, then file to it."
    marks = "Mark the bend lines, the marks along curved rims, and the holes, on the side that comes inside."
    steps = [
        CardStep(key="template", words=Said(template)),
        CardStep(
            key="cut", words=Said(left, trim=Mm(trim_mm)) if trim_mm else Said(over, over=Mm(OVERSIZE_MM))
        ),
        CardStep(key="deburr", words=Said("Deburr every edge. Gloves.")),
        CardStep(key="mark", words=Said(marks)),
    ]
    if flat.holes:
        holes = Listed(tuple(_hole_words(hole) for hole in flat.holes))
        steps.append(CardStep(key="holes", words=Said("Drill and deburr: {holes}.", holes=holes)))
    return steps


def _bends(request: PartRequest, order: FoldOrder, rims: Sequence[CurvedRim]) -> list[CardStep]:
    """Joggles first, the bends in their order, curved rims, and what cannot be made."""
    faces = {face.name: face for face in laid_out(request).faces}
    steps = []
    for name in order.otherwise:
        if faces[name].spec.kind == "joggle" and "." not in name:
            steps.append(CardStep(key=f"by hand {name}", words=_step_words(faces[name]), bends=True))
    steps += [CardStep(key=f"bend {step.bend}", words=step.words, bends=True) for step in order.steps]
    steps += [CardStep(key=f"rim {rim.name}", words=_rim_words(rim), bends=True) for rim in rims]
    for each in order.blocked:
        words = Said("{bend} cannot be folded: {why}", bend=each.bend, why=each.why)
        steps.append(CardStep(key=f"blocked {each.bend}", words=words, bends=True))
    return steps


def _sizes(request: PartRequest, flat: FlatPart) -> list[CardSize]:
    x0, y0, x1, y1 = flat.bounding_box_mm
    found = [
        CardSize(key="wide", words=Said("The sheet over all, along"), should_mm=round(x1 - x0, 1)),
        CardSize(key="high", words=Said("The sheet over all, across"), should_mm=round(y1 - y0, 1)),
    ]
    seen: set[str] = set()
    for face in laid_out(request).faces:
        name = shown(face.name)
        if face.spec.kind in ("joggle", "tab") or name in seen:
            continue
        seen.add(name)
        child = next((each for each in face.children if each.side == "tip"), None)
        reach = face.allowance / 2 + face.flat + (child.allowance / 2 if child else 0.0)
        words = (
            "From the bend line {name} to the bend line {child}"
            if child
            else "From the bend line {name} to the edge"
        )
        found.append(
            CardSize(
                key=name,
                words=Said(words, name=name, child=shown(child.name) if child else ""),
                should_mm=round(reach, 1),
            )
        )
    return found


def _hole_words(hole) -> str:
    return Said("{kind} of {size}", kind=Said(hole.kind), size=Mm(hole.diameter_mm))


def _step_words(face: Face) -> str:
    return Said("{name}: the step, with the joggling tool.", name=shown(face.name))


def _rim_words(rim: CurvedRim) -> str:
    gain = rim.flange.after_mm - rim.flange.before_mm
    passes = max((zone.passes for zone in rim.flange.zones), default=0)
    return Said(
        "{name}1: turn it up a little at a time; {deed} its rim by {gain} over all, so much at each mark, in about {passes} passes.", name=rim.name,
        deed=Said("stretch" if gain > 0 else "shrink"), gain=Mm(abs(gain), 1), passes=passes,
    )  # fmt: skip


def sizes_judged(card: BenchCard, measured: Mapping[str, float]) -> list[SizeJudged]:
    """Each size beside what was measured, by key, mm."""
    found = []
    for size in card.sizes:
        read = measured.get(size.key)
        off = None if read is None else round(read - size.should_mm, 2)
        found.append(
            SizeJudged(
                size=size, measured_mm=read, off_mm=off, right=None if off is None else abs(off) <= RIGHT_MM
            )
        )
    return found


def may_bend(judged: Sequence[SizeJudged]) -> str:
    """Why the first bend must wait; "" where every size was measured and is right."""
    wrong = [each for each in judged if each.right is False]
    if wrong:
        told = Listed(
            tuple(
                Said("{words} is off by {off}", words=each.size.words, off=Mm(each.off_mm or 0.0, 1))
                for each in wrong
            )
        )
        return Said("Stop: {sizes}. Mark again, cut again or change the pattern; bend nothing.", sizes=told)
    missing = sum(each.right is None for each in judged)
    if missing:
        return Said(
            "{missing} size(s) are not measured: measure each a second time before the first bend.",
            missing=missing,
        )
    return ""
