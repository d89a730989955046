"""What the record tells of a welded sheet: its steps, its tacks, its joints, what was looked at."""

from datetime import date

from yellow_sill.core.days import day_words
from yellow_sill.core.errors import CoreError
from yellow_sill.core.said import Count, Day, Quoted, Said, joined
from yellow_sill.web.cut.models import Cut

from .check_services import check_of, checks_told


def weld_rows(cut: Cut) -> list[tuple[str, str]]:
    """Label and words, only what was said by somebody."""
    rows: list[tuple[str, str]] = []
    steps = [
        Said("{state} {day}, {by}{note}", state=Said(step.state), day=Day(step.made_on), by=Quoted(step.by), note=Quoted(_note(step)))
        for step in cut.sheet_steps.all()
    ]  # fmt: skip
    if steps:
        rows.append(("Sheet", joined(steps, "; ")))
    if tacks := _tacks(cut):
        rows.append(("Tacks made", tacks))
    joints = [
        Said("{day}, {by}{how}", day=Day(word.made_on), by=Quoted(word.made_by), how=Quoted(f": {word.how}" if word.how else ""))
        for word in cut.joint_words.exclude(made_on=None)
    ]  # fmt: skip
    if joints:
        rows.append(("Joints made", joined(joints, "; ")))
    if check_of(cut).pk:
        try:
            lines = [
                Said("{what}: {words}", what=Said(line.what), words=joined([line.words]))
                for line in checks_told(cut).lines
            ]
            rows.append(("Looked through", joined(lines, " ")))
        except CoreError:
            pass
    return rows


def _note(step) -> str:
    said = f": {step.note}" if step.note else ""
    return said + (f" (before what lies behind: {step.despite})" if step.despite else "")


def _tacks(cut: Cut) -> Said | None:
    """What became of the tacks, in a line."""
    weld = getattr(cut, "weld", None)
    if weld is None or not weld.events:
        return None
    events = weld.events
    count = lambda what: len([each for each in events if each["what"] == what])  # noqa: E731
    planned = sum(len(plan["tacks"]) for plan in weld.tack_plans)
    at = sorted(each["when"][:10] for each in events)
    return Said(
        "{made} of {planned}, {first} to {last}; {blown}, {missed}, {again} put right",
        made=count("done") + count("blown"), planned=planned, first=Quoted(_day(at[0])), last=Quoted(_day(at[-1])),
        blown=Count(count("blown"), "blown through", "blown through"), missed=Count(count("missed"), "missed", "missed"), again=count("again"),
    )  # fmt: skip


def _day(text: str) -> str:
    return day_words(date.fromisoformat(text))
