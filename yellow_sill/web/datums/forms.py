"""Forms of the datum book, of rounds and of stands."""

import re

from django import forms
from django.utils.translation import gettext, gettext_lazy

from yellow_sill.core.datum.network import LEAST_SIGMA_MM, TRUST_SIGMA_MM
from yellow_sill.core.datum.starting_set import POINT_KINDS, SOURCES
from yellow_sill.core.datum.walk import STAGES
from yellow_sill.core.errors import CoreError
from yellow_sill.core.formats.datum_table import CODE
from yellow_sill.core.records import FARTHEST_MM
from yellow_sill.core.units import parse_length
from yellow_sill.web.frame import units
from yellow_sill.web.frame.fields import DateField, NumberField

from .models import DatumPoint

MOST_PACKERS = 20


class PointForm(forms.Form):
    code = forms.CharField(max_length=12, label="Name on the drawing", help_text="Short, such as 2L.")
    name = forms.CharField(max_length=60, label="What it is")
    kind = forms.ChoiceField(choices=list(POINT_KINDS.items()), label="Kind")
    how = forms.CharField(
        max_length=200, required=False, label="How to find it again", widget=forms.Textarea(attrs={"rows": 2})
    )
    x_mm = NumberField(least=-FARTHEST_MM, most=FARTHEST_MM, label="x, aft of the front axle, mm")
    y_mm = NumberField(least=-FARTHEST_MM, most=FARTHEST_MM, label="y, right of the middle, mm")
    z_mm = NumberField(least=-FARTHEST_MM, most=FARTHEST_MM, label="z, above the datum, mm")
    source = forms.ChoiceField(choices=list(SOURCES.items()), label="Where that came from")
    source_note = forms.CharField(max_length=200, required=False, label="Sheet, page, who measured")
    tolerance_mm = NumberField(least=0.1, most=100, label="May be off by, mm")
    mirror_code = forms.CharField(max_length=12, required=False, label="Its pair on the other side")
    trusted = forms.BooleanField(required=False, label="Trusted: nobody has ever touched it")
    trust_sigma_mm = NumberField(
        least=LEAST_SIGMA_MM,
        most=20,
        required=False,
        label="If trusted: its place is sure to, mm",
        help_text="One standard error. Empty means 0.5.",
    )
    version = forms.IntegerField(required=False, widget=forms.HiddenInput)

    def clean_trust_sigma_mm(self) -> float:
        value = self.cleaned_data["trust_sigma_mm"]
        return TRUST_SIGMA_MM if value is None else value

    def clean_code(self) -> str:
        code = self.cleaned_data["code"].strip()
        if not CODE.match(code):
            raise forms.ValidationError("Use letters and figures only, such as 2L.")
        return code

    def stored(self) -> dict:
        values = {name: value for name, value in self.cleaned_data.items() if name != "version"}
        return values | {"typed": [self.data.get(f"{axis}_mm", "")[:20] for axis in "xyz"]}

    @classmethod
    def of(cls, point: DatumPoint, data=None):
        return cls(data, initial={name: getattr(point, name) for name in cls.base_fields})


class RoundForm(forms.Form):
    stage = forms.ChoiceField(
        choices=[("", "Say which"), *STAGES.items()],
        label="Stage",
        error_messages={"required": "Say at which stage of the rebuild it is taken."},
    )
    about = forms.ChoiceField(required=False, label="For")
    taken_on = DateField(label="Day")
    tape_sigma_mm = NumberField(least=0.1, most=20, label="A tape reading is sure to, mm")
    height_sigma_mm = NumberField(least=0.1, most=20, label="A height is sure to, mm")
    note = forms.CharField(
        required=False, max_length=2000, label="Note", widget=forms.Textarea(attrs={"rows": 2})
    )

    def __init__(self, *args, subjects=(), **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.fields["about"].choices = [
            ("", "The whole shell"),
            *((each.code, f"{each.code}, {each.title}") for each in subjects),
        ]


class RoundCorrectionForm(forms.Form):
    """What can be put right in a round: when it was taken and at which stage; its readings are struck one by one."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    stage = forms.ChoiceField(choices=list(STAGES.items()), label="Stage")
    taken_on = DateField(label="Day")


class BookTableForm(forms.Form):
    table = forms.FileField(
        label="Take in a table",
        help_text="CSV; known names are changed, others added.",
        error_messages={"required": "Choose a file."},
    )


class StandRowForm(forms.Form):
    id = forms.CharField(max_length=6, label="Stand", required=False)
    x_mm = NumberField(least=-FARTHEST_MM, most=FARTHEST_MM, label="x, mm", required=False)
    y_mm = NumberField(least=-FARTHEST_MM, most=FARTHEST_MM, label="y, mm", required=False)
    packed_mm = NumberField(least=0, most=1000, label="Packed now, mm", required=False)
    most_mm = NumberField(least=1, most=1000, label="Reaches, mm", required=False)

    def __init__(self, *args, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        number = int(self.prefix.rpartition("-")[2]) + 1 if (self.prefix or "")[-1:].isdigit() else 0
        for field in self.fields.values():  # the columns' heads stand above all four rows
            field.widget.attrs["aria-label"] = f"{field.label.removesuffix(', mm')}, stand {number}"

    def clean(self) -> dict:
        values = super().clean()
        if (
            values.get("id")
            and not self.errors
            and (values.get("x_mm") is None or values.get("y_mm") is None)
        ):
            raise forms.ValidationError(
                f"Where does {values['id']} stand? Give x and y, or drag it on the board."
            )
        return values

    def stored(self) -> dict | None:
        values = self.cleaned_data
        return (
            values | {"packed_mm": values["packed_mm"] or 0.0, "most_mm": values["most_mm"] or 100.0}
            if values.get("id")
            else None
        )


StandRows = forms.formset_factory(StandRowForm, extra=0, max_num=4, validate_max=True)


class StandsForm(forms.Form):
    packers = forms.CharField(
        max_length=120,
        label=gettext_lazy("Packers at hand, mm"),
        help_text="Thicknesses with a space between: 1 2 3 5 10.",
    )
    rigid = forms.BooleanField(
        required=False, label="The shell is stiff: it will not settle onto a fourth stand by itself"
    )
    version = forms.IntegerField(required=False, widget=forms.HiddenInput)

    def clean_packers(self) -> list[float]:
        words = re.split(r"[\s;]+", self.cleaned_data["packers"].strip())
        found = []
        for word in words:
            try:
                value = parse_length(word, units.unit.get())
            except CoreError as error:
                raise forms.ValidationError(units.said(error.what)) from None
            if not 0 < value <= 200:
                raise forms.ValidationError(
                    gettext("%(word)s is no packer: more than 0 and at most 200 mm.") % {"word": word}
                )
            found.append(value)
        if len(found) > MOST_PACKERS:
            raise forms.ValidationError(f"At most {MOST_PACKERS} thicknesses are taken.")
        return sorted(set(found))
