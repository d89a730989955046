from collections import Counter
from datetime import date

from django import forms
from django.utils.translation import gettext_lazy

from yellow_sill.core.errors import CoreError
from yellow_sill.core.survey.grading import METHOD_WORDS, METHODS, RESULTS, SIGN, Grade, doubt_of
from yellow_sill.core.survey.growth import STAGE_WORDS
from yellow_sill.core.survey.old_repairs import KINDS, TESTS
from yellow_sill.web.frame import days
from yellow_sill.web.frame.fields import DateField, length_typed
from yellow_sill.web.frame.units import corners_text, corners_typed, said
from yellow_sill.web.shells.models import ShellView

from .models import EvidenceItem, Finding, Inspection, PanelItem
from .services import read_evidence

RESULT_WORDS = {
    "sound": "sound", "bubbling": "paint bubbles", "stain": "stained", "pitted": "pits show", "hole": "a hole shows", "filler": "filler or over-plate",
    "dark": "no light", "light": "light shows", "rings": "rings", "dull": "dull", "holds": "holds", "dents": "dents", "through": "goes through",
    "survived": "survived", "broke": "broke through", "reading": "least reading",
}  # fmt: skip
#: What may show by itself, as its box says it.
SIGN_WORDS = {
    "crack": "crack", "apart": "sheets forced apart by rust", "welds": "broken spot welds", "edge": "paper-thin edge", "bulge": "bulge", "bend": "bend",
    "lead": "lead", "brazed": "brazing", "screwed": "screws or rivets", "mark": "date or maker's mark",
}  # fmt: skip
COUNTED = ("probe", "tap", "lamp", "scaler")


class FindingForm(forms.Form):
    """A finding as drawn and typed. Evidence fields are named after their method."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    panel = forms.ModelChoiceField(
        queryset=None,
        to_field_name="code",
        label="Panel",
        empty_label="the first corner chooses it",
        error_messages={"required": "Choose the panel it lies on, or tap it on the board."},
    )
    title = forms.CharField(
        max_length=80,
        required=False,
        label="Name",
        widget=forms.TextInput(
            attrs={"placeholder": gettext_lazy("such as Sill end, front"), "autocomplete": "off"}
        ),
    )
    corners = forms.CharField(
        max_length=60_000,
        label="Corners, mm",
        widget=forms.Textarea(
            attrs={
                "rows": 4,
                "spellcheck": "false",
                "placeholder": "684, 292\n700, 264\n742, 256",
                "class": "mm",
            }
        ),
        error_messages={"required": "Draw the outline on the board or type its corners here, one a line."},
    )
    found_on = DateField(label="Day")
    stage = forms.ChoiceField(choices=list(STAGE_WORDS.items()), required=False, label="Drawn")
    signs = forms.MultipleChoiceField(
        choices=list(SIGN_WORDS.items()),
        required=False,
        label="It shows",
        widget=forms.CheckboxSelectMultiple,
    )
    old_kind = forms.ChoiceField(
        choices=[("", "no"), *KINDS.items()], required=False, label="Previous repair here"
    )
    old_test = forms.ChoiceField(choices=list(TESTS.items()), required=False, label="Its test")
    old_verdict = forms.ChoiceField(
        choices=[("", "undo it"), ("keep", "keep it")], required=False, label="Verdict"
    )
    note = forms.CharField(max_length=4000, required=False, widget=forms.Textarea(attrs={"rows": 2}))

    def __init__(
        self, *args, view: ShellView, panels, finding: Finding | None = None, again: bool = False, **kwargs
    ) -> None:
        """``again``: a further look at the finding, dated today, with no evidence yet; else a correction of the latest look."""
        super().__init__(*args, **kwargs)
        self.view = view
        self.fields["panel"].queryset = panels
        self.fields["panel"].label_from_instance = lambda panel: (
            f"{panel.code}: {said(panel.name)}, {panel.thickness_mm:g} mm"
        )
        self.fields["found_on"].initial = date.today
        for method in METHODS:
            choices = [("", "not done"), *((result, RESULT_WORDS[result]) for result in RESULTS[method])]
            self.fields[f"{method}_result"] = forms.ChoiceField(
                choices=choices, required=False, label=METHOD_WORDS[method]
            )
            if method in COUNTED:
                self.fields[f"{method}_hits"] = forms.IntegerField(
                    min_value=1, max_value=999, required=False, label=f"{METHOD_WORDS[method]}: at places"
                )
                self.fields[f"{method}_tries"] = forms.IntegerField(
                    min_value=1,
                    max_value=999,
                    required=False,
                    label=f"{METHOD_WORDS[method]}: of places tried",
                )
                self.fields[f"{method}_also_result"] = forms.ChoiceField(
                    choices=choices, required=False, label=f"{METHOD_WORDS[method]}, elsewhere"
                )
                self.fields[f"{method}_also_hits"] = forms.IntegerField(
                    min_value=1,
                    max_value=999,
                    required=False,
                    label=f"{METHOD_WORDS[method]}, elsewhere: at places",
                )
        self.fields["gauge_mm"] = forms.CharField(
            max_length=12,
            required=False,
            label="Least thickness, mm",
            widget=forms.TextInput(attrs={"inputmode": "decimal"}),
        )
        self.fields["gauge_sure"] = forms.BooleanField(
            required=False, label="It is right: that is what it reads"
        )
        for name, field in self.fields.items():
            if name.endswith(("_hits", "_tries", "_mm")):
                field.widget.attrs["aria-label"] = field.label
        self.beyond = [] if finding is None or again else _beyond(finding.inspections.last())
        if finding is not None:
            self.initial = {**_initial(finding, view, again), **self.initial}

    def rows(self):
        """Evidence rows for the template: method, its fields."""
        for method in METHODS:
            yield {
                "method": method,
                "result": self[f"{method}_result"],
                "hits": self[f"{method}_hits"] if method in COUNTED else None,
                "tries": self[f"{method}_tries"] if method in COUNTED else None,
                "mm": self["gauge_mm"] if method == "gauge" else None,
                "also": self[f"{method}_also_result"] if method in COUNTED else None,
                "also_hits": self[f"{method}_also_hits"] if method in COUNTED else None,
                "sure": self["gauge_sure"] if method == "gauge" and "gauge_mm" in self.errors else None,
            }

    def clean_corners(self):
        try:
            return self.view.in_shell(corners_typed(self.cleaned_data["corners"]))
        except CoreError as error:
            raise forms.ValidationError(error.message) from None

    def clean_gauge_mm(self):
        return length_typed(self.cleaned_data["gauge_mm"], "mm")

    def evidence(self) -> list[dict]:
        """Evidence rows as plain values for the core."""
        values, rows = self.cleaned_data, []
        for method in METHODS:
            if result := values.get(f"{method}_result"):
                row = {"method": method, "result": result, "made_on": values.get("found_on") or days.today()}
                rows.append(
                    row
                    | {
                        "hits": values.get(f"{method}_hits"),
                        "tries": values.get(f"{method}_tries"),
                        "thickness_mm": values.get("gauge_mm") if method == "gauge" else None,
                    }
                )
                if also := values.get(f"{method}_also_result"):
                    rows.append(
                        row
                        | {
                            "result": also,
                            "hits": values.get(f"{method}_also_hits"),
                            "tries": values.get(f"{method}_tries"),
                            "thickness_mm": None,
                        }
                    )
        made_on = values.get("found_on") or days.today()
        rows += [{"method": SIGN, "result": sign, "made_on": made_on} for sign in values.get("signs", ())]
        return [*rows, *self.beyond]

    def clean(self):
        try:
            looks = read_evidence(self.evidence())
            panel = self.cleaned_data.get("panel")
            doubt = next(
                (doubt for look in looks if panel and (doubt := doubt_of(look, panel.thickness_mm))), ""
            )
            if doubt and not self.cleaned_data.get("gauge_sure"):
                self.add_error("gauge_mm", doubt)
        except CoreError as error:
            method = error.where.split(".")[0]
            field = {"gauge": "gauge_mm", SIGN: "signs"}.get(method, f"{method}_result")
            self.add_error(field if field in self.fields else None, error.message)
        return self.cleaned_data

    def old(self) -> dict[str, str]:
        return {name: self.cleaned_data.get(name, "") for name in ("old_kind", "old_test", "old_verdict")}

    def looked_again(self) -> dict:
        """What a further look stores."""
        values = self.cleaned_data
        plain = {
            "corners": values["corners"],
            "made_on": values["found_on"],
            "stage": values["stage"] or "seen",
        }
        return plain | {"typed": self.data.get("corners", ""), "evidence": self.evidence()}

    def stored(self) -> dict:
        """What the services store, by their own names."""
        values = self.cleaned_data
        plain = {name: values[name] for name in ("panel", "corners", "title", "note", "found_on")}
        more = {"stage": values["stage"] or "seen", "old": self.old()}
        return plain | more | {"typed": self.data.get("corners", ""), "evidence": self.evidence()}

    def refuse(self, error: CoreError) -> None:
        """Put a refusal of the core beside the field it is about."""
        field = error.where if error.where in self.fields else "corners"
        self.add_error(field, error.message + self.view.place_words(error.at))


def _initial(finding: Finding, view: ShellView, again: bool) -> dict:
    latest = finding.inspections.last()
    initial = {
        "version": finding.version,
        "panel": finding.panel.code,
        "title": finding.title,
        "corners": corners_text(view.in_shell(finding.outline)),
        "found_on": days.today() if again else latest.made_on,
        "stage": latest.stage,
        "note": finding.note,
        "old_kind": finding.old_kind,
        "old_test": finding.old_test,
        "old_verdict": "keep" if finding.old_verdict == "keep" else "",
    }
    shown = [] if again else _by_place(latest)
    initial["signs"] = [item.result for _, item in shown if item.method == SIGN]
    for place, item in shown:
        if item.method == SIGN:
            continue
        name = item.method if place == 0 else f"{item.method}_also"
        if place < 2 and (place == 0 or item.method in COUNTED):
            initial[f"{name}_result"], initial[f"{name}_hits"] = item.result, item.hits
            initial.setdefault(f"{item.method}_tries", item.tries)
            if item.method == "gauge":
                initial["gauge_mm"] = f"{item.thickness_mm:g}"
    return initial


def _by_place(inspection: Inspection) -> list[tuple[int, EvidenceItem]]:
    """The evidence of an inspection, each with its place among those of its method."""
    count: Counter[str] = Counter()
    out = []
    for item in inspection.evidence.all():
        out.append((count[item.method], item))
        count[item.method] += 1
    return out


def _beyond(inspection: Inspection) -> list[dict]:
    """Evidence that the form has no row for, such as a third result of one method: it is kept as it is."""
    return [
        item.record().model_dump()
        for place, item in _by_place(inspection)
        if item.method != SIGN and (place > 1 or (place and item.method not in COUNTED))
    ]


class OverruleForm(forms.Form):
    """A person's own grade; an empty one takes it back."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    overruled_to = forms.ChoiceField(
        choices=[("", "as the evidence says"), *((grade.value, grade.word) for grade in Grade)],
        required=False,
        label="Your grade",
    )
    overruled_reason = forms.CharField(
        max_length=1000, required=False, label="Why", widget=forms.Textarea(attrs={"rows": 2})
    )


class LookedForm(forms.Form):
    """How and when a region or panel was looked at."""

    method = forms.ChoiceField(choices=[(method, METHOD_WORDS[method]) for method in METHODS], label="How")
    made_on = DateField(label="Day", required=False)

    def clean_made_on(self):
        return self.cleaned_data["made_on"] or days.today()


class FarSideForm(forms.Form):
    """The far-side question of a panel."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    answer = forms.CharField(
        max_length=2000,
        label="What is fixed behind?",
        widget=forms.Textarea(
            attrs={"rows": 2, "placeholder": "Nothing there, or: bracket, captive nuts, fuel line"}
        ),
        error_messages={"required": "Write what is there; 'nothing there' is an answer."},
    )
    method = forms.ChoiceField(
        choices=[(method, METHOD_WORDS[method]) for method in METHODS], label="Looked how", initial="lamp"
    )
    where = forms.ChoiceField(
        choices=[
            ("", "Say where"),
            ("marked", "Round what is marked on it"),
            ("whole", "Behind the whole panel"),
        ],
        label="Where",
        error_messages={"required": "Say where you looked: round what is marked, or behind the whole panel."},
    )
    answered_on = DateField(label="Day", initial=date.today)


class PanelItemForm(forms.Form):
    """Something fixed behind, to be saved, lacking or missing."""

    kind = forms.ChoiceField(choices=list(PanelItem.KINDS.items()), label="What about it")
    text = forms.CharField(
        max_length=200,
        label="What",
        error_messages={"required": "Write what it is, such as 'captive nut M8, two'."},
    )


class SurveyPhotoForm(forms.Form):
    """A photo of a finding or panel."""

    photo = forms.FileField(label="Photo", error_messages={"required": "Choose a photo first."})
    caption = forms.CharField(max_length=200, required=False, label="What it shows")
    taken_on = DateField(label="Taken on", initial=date.today)
