from contextlib import suppress

from django import forms

from yellow_sill.core.errors import CoreError
from yellow_sill.core.formats.outlines import UNITS
from yellow_sill.core.parts.amount import CURRENCIES
from yellow_sill.core.shell import BODY_TYPES, LAYERS, ranges
from yellow_sill.web.frame import units
from yellow_sill.web.frame.fields import NumberField


class VehicleForm(forms.Form):
    """The plate and the taped dimensions of a new vehicle."""

    make = forms.CharField(max_length=60, error_messages={"required": "Type the make as on the plate."})
    model = forms.CharField(
        max_length=60, error_messages={"required": "Type the model, or what you call it."}
    )
    year = forms.IntegerField(min_value=1880, max_value=2100, required=False)
    body_no = forms.CharField(max_length=40, required=False, label="Body number")
    currency = forms.ChoiceField(choices=[(code, code) for code in CURRENCIES], label="Money in")
    body_type = forms.ChoiceField(
        choices=[(kind.name, kind.label) for kind in BODY_TYPES.values()], label="Body type"
    )

    def __init__(self, *args, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        asked = (self.data if self.is_bound else self.initial).get("body_type")
        self.body = BODY_TYPES.get(asked) or next(iter(BODY_TYPES.values()))
        self.fields["body_type"].widget = forms.HiddenInput()
        self.initial["body_type"] = self.body.name
        for dimension in self.body.dimensions:
            self.fields[dimension.name] = NumberField(
                least=dimension.least_mm,
                most=dimension.most_mm,
                label=f"{units.said(dimension.label)}, mm",
                help_text=units.said(dimension.how),
                initial=dimension.usual_mm,
            )

    def dimension_fields(self):
        said = self.ranges_said()
        fields = [self[dimension.name] for dimension in self.body.dimensions]
        for field in fields:
            field.field.range = said[field.name]
        return fields

    def ranges_said(self) -> dict[str, str]:
        """What each dimension may be while the others stay as typed, in words; a size that cannot be read counts as the usual one."""
        sizes = {}
        for dimension in self.body.dimensions:
            with suppress(forms.ValidationError, TypeError):
                field = self.fields[dimension.name]
                sizes[dimension.name] = field.number(str(self[dimension.name].value() or ""))
        found = ranges(self.body.name, {name: size for name, size in sizes.items() if size is not None})
        return {
            name: units.span(*span) + " with the other sizes as they are"
            if span
            else "nothing fits with the other sizes"
            for name, span in found.items()
        }

    def usual(self) -> dict[str, str]:
        """The sizes that the form shows before anybody types, as texts."""
        return {dimension.name: str(self[dimension.name].value()) for dimension in self.body.dimensions}

    def label_of(self, name: str) -> str:
        return next(
            (units.said(dimension.label) for dimension in self.body.dimensions if dimension.name == name),
            name,
        )

    def plate_fields(self):
        return [self[name] for name in ("make", "model", "year", "body_no")]

    def dimensions(self) -> dict[str, float]:
        return {
            dimension.name: self.cleaned_data[dimension.name]
            for dimension in self.body.dimensions
            if dimension.name in self.cleaned_data
        }

    def refuse(self, error: CoreError) -> None:
        self.add_error(error.where if error.where in self.fields else None, error.message)


class ShellFileForm(forms.Form):
    """A vehicle from a saved shell."""

    make = forms.CharField(max_length=60, error_messages={"required": "Type the make as on the plate."})
    model = forms.CharField(
        max_length=60, error_messages={"required": "Type the model, or what you call it."}
    )
    shell = forms.FileField(label="Shell file", error_messages={"required": "Choose a file first."})


class PanelForm(forms.Form):
    """A panel as corrected by hand. The core judges it."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    code = forms.CharField(max_length=20, label="Id")
    name = forms.CharField(max_length=80, label="Name")
    mirror_code = forms.CharField(max_length=20, required=False, label="Id on the other side")
    layer = forms.TypedChoiceField(
        choices=[(place, name) for place, name in enumerate(LAYERS, start=1)], coerce=int, label="Layer"
    )
    thickness_mm = NumberField(least=0.01, most=99, sheet=True, label="Thickness, mm")
    corners = forms.CharField(
        max_length=60_000,
        label="Corners, mm",
        widget=forms.Textarea(attrs={"rows": 5, "spellcheck": "false", "class": "mm"}),
        error_messages={"required": "Draw the outline on the board or type its corners here, one a line."},
    )


class DrawingFileForm(forms.Form):
    """An outline from a drawing made elsewhere."""

    drawing = forms.FileField(label="SVG or DXF", error_messages={"required": "Choose a file first."})
    at = forms.CharField(
        max_length=40,
        required=False,
        label="Lower left corner at, mm",
        widget=forms.TextInput(attrs={"placeholder": "0, 0", "class": "mm"}),
    )
    unit = forms.ChoiceField(choices=list(UNITS.items()), required=False, label="Drawn in")
