from contextlib import suppress

from django import forms

from yellow_sill.core.errors import CoreError
from yellow_sill.core.formats.outlines import UNITS
from yellow_sill.core.parts.amount import CURRENCIES
from yellow_sill.core.shell import BODY_TYPES, LAYERS, curvature, edges, from_photo, gaps, ranges
from yellow_sill.web.frame import units
from yellow_sill.web.frame.fields import DateField, NumberField

from .models import HungWord


class VehicleForm(forms.Form):
    """The plate and the taped dimensions of a new vehicle."""

    make = forms.CharField(max_length=60, error_messages={"required": "Type the make as on the plate."})
    model = forms.CharField(
        max_length=60, error_messages={"required": "Type the model, or what you call it."}
    )
    year = forms.IntegerField(min_value=1880, max_value=2100, required=False)
    body_no = forms.CharField(max_length=40, required=False, label="Body number")
    currency = forms.ChoiceField(choices=[(code, code) for code in CURRENCIES], label="Money in")
    steering = forms.ChoiceField(
        choices=[("", "Not said"), ("right", "On the right"), ("left", "On the left")],
        required=False,
        label="Driven from",
    )
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


class PhotoForm(forms.Form):
    """Places traced on a side photo, and the lengths that are known. Pixels stay as they were tapped."""

    body_type = forms.ChoiceField(
        choices=[("", "The nearest"), *((kind.name, kind.label) for kind in BODY_TYPES.values())],
        required=False,
        label="Body type",
    )

    def __init__(self, *args, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        for place, label in from_photo.PLACES.items():
            self.fields[f"at-{place}"] = forms.CharField(
                max_length=30, required=False, label=label, widget=forms.TextInput(attrs={"class": "mm", "data-place": place, "autocomplete": "off"})
            )  # fmt: skip
        labels = {each.name: each.label for kind in BODY_TYPES.values() for each in kind.dimensions}
        names = [
            ("", "–"),
            *((name, labels[name]) for name in (*from_photo.ALONG, *from_photo.UPWARDS) if name in labels),
        ]
        for i in (1, 2):
            self.fields[f"length-{i}"] = forms.ChoiceField(
                choices=names, required=False, label=f"Known length {i}"
            )
            self.fields[f"mm-{i}"] = NumberField(
                least=10, most=20_000, required=False, label="It measures, mm"
            )

    def place_fields(self) -> list:
        return [self[f"at-{place}"] for place in from_photo.PLACES]

    def length_fields(self) -> list:
        return [(self[f"length-{i}"], self[f"mm-{i}"]) for i in (1, 2)]

    def clean(self) -> dict:
        values = super().clean()
        places = {}
        for place in from_photo.PLACES:
            typed = values.get(f"at-{place}", "")
            if typed:
                try:
                    x, y = (float(part) for part in typed.replace(";", ",").split(","))
                except ValueError:
                    self.add_error(f"at-{place}", "Tap it on the photo, or type two numbers like 812, 440.")
                    continue
                places[place] = (x, y)
        lengths = [
            {"name": values[f"length-{i}"], "mm": values[f"mm-{i}"]}
            for i in (1, 2)
            if values.get(f"length-{i}") and values.get(f"mm-{i}")
        ]
        return values | {"places": places, "lengths": lengths}

    def refuse(self, error: CoreError) -> None:
        """A fault of the core, beside where it is."""
        number = error.where[8:9] if error.where.startswith("lengths[") else ""
        self.add_error(f"mm-{int(number) + 1}" if number in ("0", "1") else None, error.message)


class SectionForm(forms.Form):
    """Where the shell is cut."""

    at = NumberField(least=-20_000, most=20_000, required=False, label="Cut at, mm")


class EdgeForm(forms.Form):
    """What a person says of a stretch of an edge."""

    kind = forms.ChoiceField(choices=list(edges.KINDS.items()), label="This edge is")
    meets = forms.CharField(max_length=84, required=False, label="Joined to (codes, commas between)")
    height_mm = NumberField(least=0.5, most=200, required=False, label="Height of the fold, mm")
    inside_radius_mm = NumberField(least=0, most=100, required=False, label="Inside radius, mm")
    direction = forms.ChoiceField(
        choices=[("", "Not known"), ("in", "Inwards"), ("out", "Outwards")], required=False, label="It turns"
    )

    def said(self) -> dict:
        """The words as the core takes them."""
        values = dict(self.cleaned_data)
        values["meets"] = [code.strip().upper() for code in values["meets"].split(",") if code.strip()]
        return values


class CurveForm(forms.Form):
    """How a person says a sheet is curved."""

    kind = forms.ChoiceField(
        choices=[(kind, word) for kind, word in curvature.KINDS.items() if kind != "unknown"],
        label="This sheet is",
    )
    radius_mm = NumberField(least=1, most=100_000, required=False, label="Radius, mm")
    other_radius_mm = NumberField(least=1, most=100_000, required=False, label="Radius across it, mm")


class VolumeForm(forms.Form):
    """What a cavity holds, by hand."""

    volume_l = NumberField(least=0.01, most=2000, unit="l", required=False, label="It holds, litres")


class OwnCavityForm(forms.Form):
    """A cavity of one's own."""

    name = forms.CharField(max_length=80, label="Name", error_messages={"required": "Write what it is."})
    outer = forms.CharField(
        max_length=20,
        label="Outer sheet's code",
        error_messages={"required": "Which sheet closes it outside?"},
    )
    inner = forms.CharField(
        max_length=20,
        label="Inner sheet's code",
        error_messages={"required": "Which sheet closes it inside?"},
    )

    def clean_outer(self) -> str:
        return self.cleaned_data["outer"].upper()

    def clean_inner(self) -> str:
        return self.cleaned_data["inner"].upper()


class GapRoundForm(forms.Form):
    """A new round of gaps."""

    name = forms.CharField(
        max_length=60, label="What for", error_messages={"required": "Write what it is taken for."},
        widget=forms.TextInput(attrs={"placeholder": "before cutting, after welding, at the end"}),
    )  # fmt: skip
    taken_on = DateField(label="Day")
    note = forms.CharField(
        required=False, max_length=2000, label="Note", widget=forms.Textarea(attrs={"rows": 2})
    )


class HungForm(forms.Form):
    """What is said of a hung part."""

    code = forms.CharField(max_length=20)
    off = forms.BooleanField(required=False)
    hinged_at = forms.ChoiceField(choices=HungWord.HELD, required=False)


class GapsForm(forms.Form):
    """The gaps of a round, by place."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)

    def __init__(self, *args, places: list[str], **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.places = places
        for place in places:
            self.fields[place] = NumberField(least=0, most=gaps.MOST_MM, required=False, label="Gap, mm")

    @staticmethod
    def of(round_) -> dict:
        """What stands in the form of a round: what was typed, as it was typed."""
        return {"version": round_.version} | {
            place: units.as_typed(round_.typed.get(place), gap) for place, gap in round_.gaps_mm.items()
        }

    def gaps(self) -> dict[str, float | None]:
        return {place: self.cleaned_data.get(place) for place in self.places}

    def typed(self) -> dict[str, str]:
        return {place: str(self.data.get(place, "")).strip() for place in self.places}

    def against(self, stored) -> list[tuple[str, str, str]]:
        """What differs from what somebody else stored meanwhile: place, typed here, stored."""
        mine = self.typed()
        theirs = {place: str(text) for place, text in self.of(stored).items()}
        return [
            (place, mine[place] or "empty", theirs.get(place, "empty") or "empty")
            for place in self.places
            if mine[place] != theirs.get(place, "")
        ]

    def sent_again(self, version: int) -> "GapsForm":
        """The same typed values, against what is stored by now."""
        return GapsForm({**self.data.dict(), "version": version}, places=self.places)
