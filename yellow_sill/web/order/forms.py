"""Forms of the plan: a rhythm of slots, one slot, what is said of a step, the limits."""

from django import forms

from yellow_sill.core.order.asked import POSITIONS
from yellow_sill.core.order.work import LATEST_SPARK, LONGEST_BARE_H, OPEN_AREAS
from yellow_sill.core.repairs.hours import KIND_WORDS
from yellow_sill.web.frame.fields import DateField, QuickSelect, QuickSelectMany, YesNoField

from .models import OrderLimits, WorkSlot
from .slot_services import MOST_WEEKS

WEEKDAYS = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"]
#: How the shell is said to stand as it is, whatever was made.
AS_IT_IS = "any"
HANDS = [(1, "alone"), (2, "with a helper")]


class ClockField(forms.TimeField):
    """A time of day, as 9, 9:30 or 18.30."""

    def __init__(self, **kwargs) -> None:
        super().__init__(
            input_formats=["%H:%M", "%H.%M", "%H", "%H:%M:%S"],
            widget=forms.TimeInput(attrs={"class": "mm", "autocomplete": "off", "placeholder": "9:00"}, format="%H:%M"),
            error_messages={"invalid": "Type a time like 9:30."}, **kwargs,
        )  # fmt: skip


class RhythmForm(forms.Form):
    """The same slot on a weekday for some weeks."""

    weekday = forms.TypedChoiceField(
        choices=list(enumerate(WEEKDAYS)), coerce=int, label="Every", widget=QuickSelect
    )
    begins = ClockField(label="From")
    ends = ClockField(label="To")
    weeks = forms.IntegerField(min_value=1, max_value=MOST_WEEKS, label="For so many weeks", initial=12)
    hands = forms.TypedChoiceField(choices=HANDS, coerce=int, label="Hands", widget=QuickSelect)


class SlotForm(forms.Form):
    """One slot."""

    NAMES = ("day", "begins", "ends", "hands", "note")
    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    day = DateField(label="Day", to_come=True)
    begins = ClockField(label="From")
    ends = ClockField(label="To")
    hands = forms.TypedChoiceField(choices=HANDS, coerce=int, label="Hands", widget=QuickSelect)
    note = forms.CharField(max_length=120, required=False, label="A word on it")

    @classmethod
    def of(cls, slot: WorkSlot) -> dict:
        return {name: getattr(slot, name) for name in (*cls.NAMES, "version")}

    def values(self) -> dict:
        return {name: self.cleaned_data[name] for name in self.NAMES}


class StepForm(forms.Form):
    """What differs of a step from how it was made; nothing typed leaves it as it was made."""

    name = forms.CharField(max_length=120, required=False, label="What is to be done")
    minutes = forms.IntegerField(min_value=1, max_value=6000, required=False, label="Minutes, likely")
    late_minutes = forms.IntegerField(
        min_value=1, max_value=6000, required=False, label="Minutes, one time in five longer than"
    )
    hands = forms.TypedChoiceField(
        choices=[("", "as made"), *HANDS], coerce=int, empty_value=None, required=False, label="Hands", widget=QuickSelect
    )  # fmt: skip
    sparks = YesNoField(label="Sparks fly")
    pauses = YesNoField(label="It may pause")
    position = forms.ChoiceField(
        choices=[("", "as made"), (AS_IT_IS, POSITIONS[""]), *list(POSITIONS.items())[1:]], required=False, label="The shell stands",
        widget=QuickSelect,
    )  # fmt: skip
    whole = forms.BooleanField(
        required=False, label="and so for all that is done at the shell for this repair"
    )
    not_before = DateField(required=False, label="Not before", to_come=True)
    parts = forms.IntegerField(min_value=1, max_value=12, required=False, label="Split into so many parts")
    panel = forms.ChoiceField(required=False, label="Where on the shell", widget=QuickSelect)
    after = forms.MultipleChoiceField(required=False, label="It also waits for", widget=QuickSelectMany)
    untied = forms.ChoiceField(required=False, label="It does not wait for", widget=QuickSelect)
    why = forms.CharField(max_length=300, required=False, label="Because")

    def __init__(self, *args, others=(), ties=(), panels=(), own=False, repair=0, **kwargs) -> None:
        """Args: others, ties: (key, name) of the other steps, and of those that it waits for; panels: (code, name); own: a step of their own; repair:
        its number, 0: none."""
        super().__init__(*args, **kwargs)
        self.repair = repair
        if not repair:
            del self.fields["whole"]
        self.fields["name"].required = own
        self.fields["panel"].choices = [("", "nowhere" if own else "where its repair is"), *panels]
        self.fields["after"].choices = list(others)
        self.fields["untied"].choices = [("", "nothing"), *ties]

    @classmethod
    def of(cls, said: dict) -> dict:
        untied = (said.get("untied") or [{}])[0]
        return said | {
            "not_before": (said.get("not_before") or "")[:10],
            "untied": untied.get("key", ""),
            "why": untied.get("why", ""),
            "position": said.get("position", "") or (AS_IT_IS if "position" in said else ""),
        }

    def stands(self) -> str | None:
        """How the shell is to stand; None: as made."""
        told = self.cleaned_data["position"]
        return "" if told == AS_IT_IS else told or None

    @property
    def for_whole(self) -> bool:
        """Whether that is said of all of the repair."""
        return bool(self.cleaned_data.get("whole"))

    def said(self) -> dict:
        """What is said of the step; None where it stays as it was made."""
        told = self.cleaned_data
        return {
            "name": told["name"] or None, "panel": told["panel"] or None, "minutes": told["minutes"],
            "late_minutes": told["late_minutes"], "hands": told["hands"], "sparks": told["sparks"], "pauses": told["pauses"],
            "position": None if self.for_whole else self.stands(), "not_before": f"{told['not_before'].isoformat()}T00:00:00" if told["not_before"] else None,
            "parts": told["parts"] if (told["parts"] or 1) > 1 else None, "after": told["after"] or None,
            "untied": [{"key": told["untied"], "why": told["why"]}] if told["untied"] else None,
        }  # fmt: skip


class OwnStepForm(forms.Form):
    """A step of a person's own."""

    name = forms.CharField(max_length=120, label="What is to be done")
    kind = forms.ChoiceField(choices=list(KIND_WORDS.items()), label="Kind", widget=QuickSelect)
    minutes = forms.IntegerField(min_value=1, max_value=6000, label="Minutes")
    repair = forms.TypedChoiceField(
        coerce=int, empty_value=0, required=False, label="For", widget=QuickSelect
    )
    panel = forms.ChoiceField(required=False, label="Where on the shell", widget=QuickSelect)
    after = forms.MultipleChoiceField(required=False, label="It waits for", widget=QuickSelectMany)

    def __init__(self, *args, others=(), repairs=(), panels=(), **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.fields["panel"].choices = [("", "nowhere"), *panels]
        self.fields["after"].choices = list(others)
        self.fields["repair"].choices = [
            ("", "the vehicle"),
            *((each.number, f"{each.code} {each.title}") for each in repairs),
        ]

    def said(self) -> dict:
        told = self.cleaned_data
        return {
            "name": told["name"], "kind": told["kind"], "minutes": told["minutes"], "repair": told["repair"] or 0, "panel": told["panel"] or None,
            "after": told["after"] or None, "pauses": True,
        }  # fmt: skip


class LimitsForm(forms.Form):
    """The limits of the plan."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    open_areas = forms.IntegerField(
        min_value=1, max_value=50, label=f"Open areas at most (rule: {OPEN_AREAS})"
    )
    bare_days = forms.FloatField(
        min_value=0.1,
        max_value=80,
        label=f"Metal bare for so many days at most (rule: {LONGEST_BARE_H / 24:g})",
    )
    latest_spark = ClockField(label=f"No sparks after (rule: {LATEST_SPARK:%H:%M})")
    why = forms.CharField(max_length=300, required=False, label="Why more than the rule")

    @classmethod
    def of(cls, limits: OrderLimits) -> dict:
        return {
            "open_areas": limits.open_areas,
            "bare_days": round(limits.longest_bare_h / 24, 1),
            "latest_spark": limits.latest_spark,
            "why": limits.why,
            "version": limits.version,
        }

    def values(self) -> dict:
        told = self.cleaned_data
        return {
            "open_areas": told["open_areas"],
            "longest_bare_h": 24 * told["bare_days"],
            "latest_spark": told["latest_spark"],
            "why": told["why"],
        }


class CalendarForm(forms.Form):
    """Somebody's own calendar."""

    file = forms.FileField(
        label="Calendar file (.ics)", widget=forms.FileInput(attrs={"accept": ".ics,text/calendar"})
    )
    weeks = forms.IntegerField(min_value=1, max_value=52, initial=12, label="The weeks ahead")
