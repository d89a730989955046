"""The steps of one repair, in the order of the trade."""

import math
from collections.abc import Sequence

from ..repairs.ribbon import STATES
from ..repairs.sheets import SHEET_STATES, SheetIs, inside_out
from .work import (
    AWAY_MIN,
    BOOK_MIN,
    BRACE_MIN,
    CAME_MIN,
    CLOSING_MIN,
    CURE_H,
    INSIDE_MIN,
    LAMP_MIN,
    LOOK_MIN,
    MARK_MIN,
    MOST_MIN,
    OPEN_MIN,
    PART_MIN,
    ROUND_MIN,
    SAVE_MIN,
    SEAL_MIN,
    SIGN_MIN,
    TACKS,
    THUMB_MIN,
    TREAT_MIN,
    WAX_MIN,
    Coming,
    MadeStep,
    RepairWork,
    SheetWork,
    StepsRequest,
    late_of,
)

#: What a repair without a drawn cut takes out.
PIECE = "piece"


class Maker:
    """The steps of one repair."""

    def __init__(self, repair: RepairWork, request: StepsRequest) -> None:
        self.repair, self.request, self.steps, self.came = repair, request, list[MadeStep](), list[str]()
        self.place = STATES.index(repair.state)
        self.wider = math.sqrt(max(1.0, repair.grows_late / repair.grows))

    def made(self) -> list[MadeStep]:
        if self.repair.state == STATES[-1]:
            return []
        before, self.came = self._before(), self._coming()
        sheets = self.repair.sheets or [SheetWork(name=PIECE, state="planned")]
        order = inside_out([SheetIs(name=each.name, state=each.state, behind=each.behind) for each in sheets])
        work = {each.name: each for each in sheets}
        ends: list[str] = []
        for told in order:
            ends.append(self._sheet(work[told.name], before, list(sheets)))
        self._after(ends)
        return self.steps

    def sheet_alone(self) -> list[MadeStep]:
        """The steps of its first sheet and nothing before or after it."""
        self._sheet(self.repair.sheets[0], [], self.repair.sheets)
        return self.steps

    def coming_alone(self) -> list[MadeStep]:
        """The steps of what it waits for and nothing else."""
        self._coming()
        return self.steps

    def _add(
        self, what: str, name: str, kind: str, minutes: float, after: Sequence[str], **more: object
    ) -> str:
        """Add a step after others of this repair; its key. A kind's own pace is in."""
        pace = self.request.pace.get(kind)
        likely = max(1, min(MOST_MIN, round(minutes)))
        stands = self.repair.position if more.get("touches", True) else ""
        sheet = what.rpartition(":")[0]
        step = MadeStep(
            key=f"R{self.repair.number}:{what}", sheet="" if sheet == PIECE else sheet, name=name, repair=self.repair.number, kind=kind,
            minutes=likely, late_minutes=late_of(likely * self.wider, pace),
            after=[key for key in after if key], position=stands, **more,  # type: ignore[arg-type]
        )  # fmt: skip
        step.trade = list(step.after)
        self.steps.append(step)
        return step.key

    def _before(self) -> list[str]:
        """What comes before any metal goes; the keys that a cut waits for."""
        ends: list[str] = []
        if self.place < STATES.index("opened"):
            ends = [
                self._add(
                    "open",
                    "Open it up: strip, bag and label",
                    "strip",
                    OPEN_MIN,
                    [],
                    pauses=True,
                    to="opened",
                )
            ]
        if self.place < STATES.index("cut"):
            save = "Save what is on the metal that goes: nuts, clips, brackets"
            ends = [self._add("save", save, "strip", SAVE_MIN, ends, pauses=True)]
            ends = [
                self._add("mark", "Look behind, take transfer marks", "survey", MARK_MIN, ends, pauses=True)
            ]
            if self.repair.loose:
                ends = [
                    self._add(
                        "brace", "Brace it: the shell is loose without", "fit", BRACE_MIN, ends, sparks=True
                    )
                ]
            ends = [self._add("round", "Datum round before the cut", "survey", ROUND_MIN, ends)]
        return ends

    def _minutes(self, sheet: SheetWork, kind: str) -> tuple[float, bool]:
        """Minutes of a kind, and whether they are a guess; the pace is in what was worked out, and is put onto a rule of thumb here.

        What is not opened yet grows: seams and edges go with the square root of its area.
        """
        grown = math.sqrt(self.repair.grows)
        if sheet.minutes.get(kind):
            return sheet.minutes[kind] * grown, False
        pace = self.request.pace.get(kind)
        return THUMB_MIN[kind] * (pace.factor if pace else 1.0) * grown, True

    def _sheet(self, sheet: SheetWork, before: Sequence[str], sheets: Sequence[SheetWork]) -> str:
        """The steps of one sheet; the key of its last one."""
        at, name = (
            SHEET_STATES.index(sheet.state),
            "the piece" if sheet.name == PIECE else sheet.called or sheet.name,
        )
        if self.repair.sheets == [] and self.place >= STATES.index("cut"):
            at = SHEET_STATES.index({"fitted": "tacked"}.get(self.repair.state, self.repair.state))
        looked = treated = ""
        if at < SHEET_STATES.index("fitted"):
            looked, treated = self._taken_out(sheet, name, before, sheets, at)
        last = self._fitted(sheet, name, at, looked, treated)
        last = self._joined(sheet, name, at, last)
        if at < SHEET_STATES.index("protected"):
            last = self._add(f"{sheet.name}:lamp", f"Lamp test of {name}", "survey", LAMP_MIN, [last])
            minutes, guess = self._minutes(sheet, "protect")
            last = self._add(
                f"{sheet.name}:prime", f"Prime {name}, both faces", "protect", minutes, [last], cure_h=self._cure("prime"), to="protected",
                pauses=True, guess=guess,
            )  # fmt: skip
        return last

    def _taken_out(
        self, sheet: SheetWork, name: str, before: Sequence[str], sheets: Sequence[SheetWork], at: int
    ) -> tuple[str, str]:
        """A sheet is cut out, after what lies in front of it; the keys of the look behind it and of its treated edges, which stay until somebody
        says that they are done."""
        last = "" if at else self._cut(sheet, name, before, sheets)
        looked = self._add(f"{sheet.name}:look", f"Look again behind {name}", "survey", LOOK_MIN, [last])
        treated = self._add(
            f"{sheet.name}:treat", f"Clean and treat the edges of {name}", "protect", TREAT_MIN, [looked], cure_h=self._cure("treat"),
            within_h={looked: self.request.longest_bare_h}, pauses=True,
        )  # fmt: skip
        return looked, treated

    def _cut(self, sheet: SheetWork, name: str, before: Sequence[str], sheets: Sequence[SheetWork]) -> str:
        """The key of the last run of its cut."""
        fronts = [
            f"R{self.repair.number}:{each.name}:cut"
            for each in sheets
            if sheet.name in each.behind and each.state == "planned"
        ]
        return self._runs(sheet, "cut", f"Release and cut out {name}", [*before, *fronts], to="cut")

    def _fitted(self, sheet: SheetWork, name: str, at: int, looked: str, treated: str) -> str:
        """Its patch is made, which keeps the shell free, and offered up; the key of the last step."""
        made, last = "", treated
        if at < SHEET_STATES.index("made"):
            minutes, guess = self._minutes(sheet, "make")
            made = self._add(
                f"{sheet.name}:make", f"Make the patch for {name}", "make", minutes, [looked], pauses=True, touches=False, to="made", guess=guess,
            )  # fmt: skip
        if at < SHEET_STATES.index("fitted"):
            minutes, guess = self._minutes(sheet, "fit")
            last = self._add(
                f"{sheet.name}:fit", f"Offer up, trim and clamp {name}", "fit", minutes, [last, made, *self.came], pauses=True, to="fitted", guess=guess,
            )  # fmt: skip
        return last

    def _joined(self, sheet: SheetWork, name: str, at: int, last: str) -> str:
        """It is tacked with its check, once what lies behind is welded, then welded and dressed; the key of the last step."""
        if at < SHEET_STATES.index("tacked"):
            weld, guess = self._minutes(sheet, "weld")
            behind = [key for each in sheet.behind if (key := self._last_weld(each))]
            ready = self._closed(sheet, name, [last, *behind])
            checked = f"R{self.repair.number}:{sheet.name}:check"
            last = self._add(
                f"{sheet.name}:tack", f"Tack {name}", "weld", max(10.0, TACKS * weld), ready, sparks=True, until=checked, to="tacked",
                guess=guess,
            )  # fmt: skip
            ready = [last]
        elif at < SHEET_STATES.index("welded"):
            ready = self._closed(sheet, name, [last])
        if at < SHEET_STATES.index("welded"):
            last = self._add(f"{sheet.name}:check", f"Datum check, {name} tacked", "survey", ROUND_MIN, ready)
            last = self._runs(sheet, "weld", f"Weld {name}", [last], to="welded", share=1 - TACKS)
        if at < SHEET_STATES.index("dressed"):
            last = self._runs(sheet, "dress", f"Dress {name}", [last], to="dressed")
        return last

    def _last_weld(self, sheet: str) -> str:
        """The key of the last run of welding of a sheet, empty where it is welded."""
        begin = f"R{self.repair.number}:{sheet}:weld"
        return next((step.key for step in reversed(self.steps) if step.key.startswith(begin)), "")

    def _runs(
        self, sheet: SheetWork, kind: str, name: str, after: Sequence[str], *, to: str, share: float = 1.0
    ) -> str:
        """Work with sparks, in runs that an evening holds; the key of the last one."""
        minutes, guess = self._minutes(sheet, kind)
        minutes *= share
        runs = max(1, math.ceil(minutes / PART_MIN))
        last = list(after)
        for n in range(runs):
            said = name if runs == 1 else f"{name}, run {n + 1} of {runs}"
            key = f"{sheet.name}:{kind}" if n == runs - 1 else f"{sheet.name}:{kind}-{n + 1}"
            last = [
                self._add(
                    key,
                    said,
                    kind,
                    minutes / runs,
                    last,
                    sparks=True,
                    to=to if n == runs - 1 else "",
                    guess=guess,
                )
            ]
        return last[0]

    def _closed(self, sheet: SheetWork, name: str, after: Sequence[str]) -> list[str]:
        """What is done inside a box while it can be reached, and the look before it closes; the keys that what closes it waits for."""
        if not sheet.closes:
            return list(after)
        inside = self._add(
            f"{sheet.name}:inside", f"Paint inside, behind {name}", "protect", INSIDE_MIN, after, cure_h=self._cure("prime"), pauses=True
        )  # fmt: skip
        words = f"Before {name} closes the box: faces, drains, tools"
        return [self._add(f"{sheet.name}:closing", words, "survey", CLOSING_MIN, [inside])]

    def _coming(self) -> list[str]:
        """What is to come is looked over, work that others do is booked, brought and fetched; the keys that the fit waits for."""
        return [self._comes(wait, f"-{wait.number or n + 1}") for n, wait in enumerate(self.repair.waits)]

    def _comes(self, wait: Coming, which: str) -> str:
        apart: dict[str, object] = {"pauses": True, "touches": False, "apart": True}
        away: dict[str, object] = apart | {"cure_h": wait.away_h or 0.0}
        there: dict[str, object] = apart if wait.here else apart | {
            "not_before": wait.there, "there_late": wait.there_late or wait.there, "waits": wait.name, "never": wait.there is None,
        }  # fmt: skip
        last, begun = "", wait.here or wait.ordered
        if wait.outside and not wait.here:
            if not begun:
                last = self._add(
                    f"book{which}", f"Book others' work: {wait.name}", "fetch", BOOK_MIN, [], **apart
                )
                last = self._add(
                    f"deliver{which}",
                    f"Bring what they work on: {wait.name}",
                    "fetch",
                    AWAY_MIN,
                    [last],
                    **away,
                )
            return self._add(
                f"collect{which}", f"Fetch and look over: {wait.name}", "fetch", AWAY_MIN, [last], **there
            )
        if not begun:
            last = self._add(f"order{which}", f"Order it: {wait.name}", "fetch", BOOK_MIN, [], **away)
        return self._add(
            f"came{which}", f"Look over what came: {wait.name}", "survey", CAME_MIN, [last], **there
        )

    def _after(self, ends: Sequence[str]) -> None:
        """What a repair as a whole still wants."""
        last = [key for key in ends if key]
        last = [
            self._add(
                "seal", "Seal the seams", "protect", SEAL_MIN, last, cure_h=self._cure("seal"), pauses=True
            )
        ]
        last = [self._add("wax", "Wax the cavities, drains open", "protect", WAX_MIN, last, pauses=True)]
        self._add("sign", "Look it over, sign it off", "survey", SIGN_MIN, last, to="signed off", pauses=True)

    def _cure(self, what: str) -> float:
        return self.request.cure_h.get(what, CURE_H[what])  # type: ignore[call-overload]
