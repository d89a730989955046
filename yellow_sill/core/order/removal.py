"""The accepted order of removal and the steps of the repairs are the same work, seen from two sides: a part is taken out where a repair cuts its
sheet, and is in again where that is welded; a part that no repair has gets steps of its own."""

from collections.abc import Iterable, Mapping

from ..hold.bodies import panels_of
from ..repairs.sheets import SHEET_STATES
from ..said import Quoted, Said
from .maker import Maker
from .work import BRACE_MIN, MadeStep, RemovalStep, RepairWork, SheetWork, StepsRequest, late_of

#: From which state on a sheet's old metal is out, and its new metal is in.
OUT_FROM, IN_FROM = SHEET_STATES.index("cut"), SHEET_STATES.index("welded")
#: The number under which the keys of parts stand that no repair has.
NO_REPAIR = 0


def is_done(out: bool, states: Iterable[str]) -> bool:
    """Whether a part is out, or new in, by the states of the sheets that are on it; never where there are none.

    >>> is_done(True, ["cut", "planned"]), is_done(True, ["cut", "made"]), is_done(False, ["welded"]), is_done(True, [])
    (False, True, True, False)
    """
    at = [SHEET_STATES.index(state) for state in states]
    return bool(at) and min(at) >= (OUT_FROM if out else IN_FROM)


def parts_steps(request: StepsRequest, removal: Iterable[RemovalStep]) -> list[MadeStep]:
    """The steps of parts that no repair has: taken out, a new one made, fitted, tacked with its check, welded, dressed, primed.

    Args: removal: the whole order. Returns: of a part that is new already what comes after, until somebody says that it is done.
    """
    by_part: dict[str, dict[bool, RemovalStep]] = {}
    for step in removal:
        if not step.sheets:
            by_part.setdefault(step.part, {})[step.out] = step
    found: list[MadeStep] = []
    for part, ways in by_part.items():
        out, into = ways.get(True), ways.get(False)
        if into is None:
            continue
        gone = out is None or out.done
        state = "welded" if into.done else "cut" if gone else "planned"
        sheet = SheetWork(name=part, called=into.called, state=state)
        made = Maker(RepairWork(number=NO_REPAIR, state="opened", sheets=[sheet]), request).sheet_alone()
        for each in made:
            each.panel = next(iter(panels_of(part)), "")
        if out is not None and out.loose and not gone:
            made = [_brace(made[0], part, out.called, request), *made]
        found += made
    return found


def _brace(first: MadeStep, part: str, called: str, request: StepsRequest) -> MadeStep:
    """The brace without which taking a part out leaves the shell loose; its first step waits for it."""
    key = f"R{NO_REPAIR}:{part}:brace"
    first.after.append(key)
    first.trade.append(key)
    return MadeStep(
        key=key, name=f"Brace it before {called} is out: the shell is loose without", repair=NO_REPAIR, kind="fit", minutes=BRACE_MIN,
        late_minutes=late_of(BRACE_MIN, request.pace.get("fit")), sparks=True, guess=True,
    )  # fmt: skip


def put_in_order(steps: Mapping[str, MadeStep], removal: Iterable[RemovalStep]) -> list[Said]:
    """Tie the steps as the accepted order has them: what it does next begins when what it does before has ended.

    Args: steps: all steps by key, changed in place. Returns: where the order is not kept, in words.
    """
    told: list[Said] = []
    before: list[str] = []
    open_before: RemovalStep | None = None
    for each in removal:
        first, last = _ends_of(each, steps)
        if each.done or not first:
            if each.done and open_before is not None:
                told.append(_overtaken(each, open_before))
                open_before = None
            continue
        for key in first:
            for earlier in before:
                if _waits(steps, earlier, key):
                    told.append(Said("{name} cannot wait for {other}, as the order of removal has it: it is the other way round in their repair.",
                                     name=Quoted(steps[key].said), other=Quoted(steps[earlier].said)))  # fmt: skip
                elif not _waits(steps, key, earlier):
                    steps[key].after.append(earlier)
                    steps[key].trade.append(earlier)
        before, open_before = last or before, each
    return list(dict.fromkeys(told))


def _overtaken(done: RemovalStep, still: RemovalStep) -> Said:
    words = (
        Said("{part} is out", part=done.called) if done.out else Said("{part} is new in", part=done.called)
    )
    what = (
        Said("{part} is taken out", part=still.called)
        if still.out
        else Said("{part} is new in", part=still.called)
    )
    return Said("{done} already; the accepted order of removal has it after {still}.", done=words, still=what)


def _ends_of(removal: RemovalStep, steps: Mapping[str, MadeStep]) -> tuple[list[str], list[str]]:
    """The keys with which a step of the order begins, and with which it has ended: cutting, or tacking to the last weld, of each of its sheets."""
    first, last = [], []
    for head in _heads(removal):
        keys = [
            key
            for key in steps
            if key.startswith(head) and key.removeprefix(head).partition("-")[0] in _WORK[removal.out]
        ]
        if keys:
            first.append(keys[0])
            last.append(keys[-1])
    return first, last


#: What of a sheet's steps takes the old metal out, and brings the new in.
_WORK = {True: ("brace", "cut"), False: ("tack", "check", "weld")}


def _heads(removal: RemovalStep) -> list[str]:
    if removal.sheets:
        return [f"R{each.repair}:{each.sheet}:" for each in removal.sheets]
    return [f"R{NO_REPAIR}:{removal.part}:"]


def _waits(steps: Mapping[str, MadeStep], step: str, other: str) -> bool:
    """Whether a step waits for another, at once or through others."""
    seen, todo = set(), [step]
    while todo:
        key = todo.pop()
        if key == other:
            return True
        if key not in seen and key in steps:
            seen.add(key)
            todo += steps[key].after
    return False
