"""The form of a part that came off."""

from django import forms

from yellow_sill.core.strip.register import BURNS, STATES
from yellow_sill.web.frame.fields import DateField, PlaceField, YesNoField

from .models import StripPart


class LinesField(forms.CharField):
    """Lines of a few values each, as they are typed: ``what; more; more``."""

    def __init__(self, *, names: tuple[str, ...], example: str, **kwargs) -> None:
        self.names = names
        super().__init__(
            max_length=4000,
            required=False,
            widget=forms.Textarea(attrs={"rows": 3, "placeholder": example}),
            **kwargs,
        )

    def prepare_value(self, value):
        if not isinstance(value, list):
            return value
        return "\n".join("; ".join(str(row[name]) for name in self.names) for row in value)

    def to_python(self, value):
        rows = []
        for line in super().to_python(value).splitlines():
            if line.strip():
                parts = [part.strip() for part in line.split(";")][: len(self.names)]
                parts += [""] * (len(self.names) - len(parts))
                rows.append(dict(zip(self.names, (part[:120] for part in parts), strict=True)))
        return rows[:60]


class PartForm(forms.Form):
    """A part that came off."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    name = forms.CharField(max_length=80, label="What came off")
    removed_on = DateField(label="Off since")
    box = forms.CharField(max_length=40, required=False, label="Box or bag")
    shelf = forms.CharField(max_length=40, required=False, label="Shelf")
    state = forms.ChoiceField(choices=list(STATES.items()), required=False, label="It is")
    burns = forms.ChoiceField(
        choices=[("", "nothing of it"), *list(BURNS.items())[1:]], required=False, label="What burns"
    )
    fastenings = LinesField(
        names=("what", "count"), example="M6 x 16 bolt; 4", label="Its fastenings, one a line"
    )
    ends = LinesField(
        names=("what", "first", "second"),
        example="heater hose; H1; H2",
        label="Connectors and hoses, both ends",
    )
    hinge_marked = YesNoField(label="Hinge outlines marked")
    waits_for = forms.CharField(max_length=200, required=False, label="It waits for")
    after = forms.TypedMultipleChoiceField(
        coerce=int, required=False, label="Goes on after", widget=forms.SelectMultiple(attrs={"size": 4})
    )
    cut = forms.TypedChoiceField(
        coerce=lambda text: int(text) if text else None,
        empty_value=None,
        required=False,
        label="A cut would lose it",
    )
    note = forms.CharField(
        max_length=500, required=False, label="Note", widget=forms.Textarea(attrs={"rows": 2})
    )
    at = PlaceField()
    photo = forms.FileField(
        required=False,
        label="Photo on the car, before it came off",
        widget=forms.FileInput(attrs={"accept": "image/*"}),
    )

    def __init__(self, *args, parts: list[StripPart], cuts: list, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.fields["after"].choices = [(part.number, f"{part.number} {part.name}") for part in parts]
        self.fields["cut"].choices = [
            ("", "none"),
            *((cut.pk, f"{cut.repair.code}, {cut.panel.code}") for cut in cuts),
        ]

    @staticmethod
    def of(part: StripPart) -> dict:
        names = (
            "name",
            "removed_on",
            "box",
            "shelf",
            "state",
            "burns",
            "fastenings",
            "ends",
            "waits_for",
            "after",
            "hinge_marked",
            "note",
            "version",
        )
        return {name: getattr(part, name) for name in names} | {
            "at": part.at,
            "cut": part.cut_id or "",
        }

    def values(self) -> dict:
        """The fields of StripPart, but for the view."""
        clean = {
            name: value
            for name, value in self.cleaned_data.items()
            if name not in ("version", "photo", "cut")
        }
        return clean | {"cut_id": self.cleaned_data["cut"]}
