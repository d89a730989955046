"""Forms of the record: what goes into a dossier, until when its address is open."""

from django import forms

from yellow_sill.core.parts.lines import COST_KINDS
from yellow_sill.core.record.tables import MAY, NEEDS
from yellow_sill.core.repairs.hours import KIND_WORDS
from yellow_sill.core.repairs.ribbon import STATES
from yellow_sill.web.frame.fields import DateField, PlaceField, QuickSelect
from yellow_sill.web.frame.pictures import ACCEPT
from yellow_sill.web.logbook.models import ABOUT, DIRECTIONS, SUBJECTS, Photo

IN_OUT = [("in", "in"), ("out", "left out")]


class DossierForm(forms.Form):
    """What goes into a dossier: all repairs at first, money only where it is said."""

    repairs = forms.TypedMultipleChoiceField(
        coerce=int, label="Repairs", widget=forms.CheckboxSelectMultiple, error_messages={"required": "Choose at least one repair."}
    )  # fmt: skip
    money = forms.ChoiceField(choices=IN_OUT, label="What it cost", initial="out")
    names = forms.ChoiceField(choices=IN_OUT, label="Names of people", initial="in")
    photos = forms.ChoiceField(
        choices=[("small", "small"), ("large", "large"), ("none", "none")], label="Photos", initial="small"
    )
    others = forms.BooleanField(required=False, label="Photos of no repair too")
    form = forms.ChoiceField(
        choices=[("pdf", "one PDF"), ("folder", "a folder, zipped")], label="As", initial="pdf"
    )
    bundle = forms.BooleanField(
        required=False, label="The bundle inside, for another Yellow Sill: it holds all money and all names"
    )

    def __init__(self, *args, repairs=(), others: int = 0, **kwargs) -> None:
        """``others``: how many photos there are of no repair."""
        super().__init__(*args, **kwargs)
        self.fields["repairs"].choices = [
            (each.number, f"{each.code} {each.title}, {each.state}") for each in repairs
        ]
        if others:
            self.fields["others"].label = f"Photos of no repair too: {others}"
        else:
            del self.fields["others"]


class QuickForm(forms.Form):
    """A word, minutes, a photo, at once."""

    repair = forms.TypedChoiceField(coerce=int, empty_value=None, required=False, label="On")
    photo = forms.FileField(
        required=False,
        label="Photo",
        widget=forms.FileInput(attrs={"accept": "image/*", "capture": "environment"}),
    )
    text = forms.CharField(
        max_length=4000, required=False, label="In words", widget=forms.Textarea(attrs={"rows": 4})
    )
    about = forms.ChoiceField(choices=list(ABOUT.items()), required=False, label="It is")
    minutes = forms.CharField(
        max_length=20, required=False, label="Time", widget=forms.TextInput(attrs={"class": "mm", "placeholder": "40, 1:30", "autocomplete": "off"})
    )  # fmt: skip
    kind = forms.ChoiceField(
        choices=[("", "say which"), *KIND_WORDS.items()], required=False, label="Kind of work"
    )

    def __init__(self, *args, repairs=(), **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.fields["repair"].choices = [
            ("", "the whole vehicle"),
            *((each.number, f"{each.code} {each.title}") for each in repairs),
        ]


class LinkForm(forms.Form):
    """Until when a dossier can be read without signing in."""

    until = DateField(label="Open until", to_come=True)


class ManyFiles(forms.FileInput):
    """A field that takes many files at once."""

    allow_multiple_selected = True


class HeapForm(forms.Form):
    """Photos, many at once."""

    photos = forms.FileField(
        label="Photos", required=False, widget=ManyFiles(attrs={"accept": ACCEPT, "multiple": True})
    )
    folder = forms.FileField(
        label="Or a whole folder",
        required=False,
        widget=ManyFiles(attrs={"multiple": True, "webkitdirectory": True}),
    )


class PhotoSaidForm(forms.Form):
    """What a photo shows, of which repair and when, and from where the camera looked."""

    was = forms.CharField(required=False, widget=forms.HiddenInput)
    at = PlaceField()
    caption = forms.CharField(max_length=200, required=False, label="In words")
    repair = forms.TypedChoiceField(
        coerce=int, empty_value=None, required=False, label="Of", widget=QuickSelect
    )
    stage = forms.ChoiceField(
        choices=[("", "nobody has said"), *((state, state) for state in STATES)],
        required=False,
        label="When it was",
        widget=QuickSelect,
    )
    taken_on = DateField(required=False, label="Day")
    seen_from = forms.ChoiceField(
        choices=list(DIRECTIONS.items()), required=False, label="The camera looked", widget=QuickSelect
    )
    subject = forms.ChoiceField(
        choices=list(SUBJECTS.items()), required=False, label="It shows", widget=QuickSelect
    )
    subject_of = forms.CharField(max_length=60, required=False, label="Which: its code, number or label")

    def __init__(self, *args, repairs=(), **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.repairs = {each.number: each for each in repairs}
        self.fields["repair"].choices = [
            ("", "the whole vehicle"),
            *((each.number, f"{each.code} {each.title}") for each in repairs),
        ]

    @classmethod
    def of(cls, photo: Photo, view: int) -> dict:
        """What is said of a photo; its place only where it is in the view that is drawn (its key)."""
        names = ("caption", "stage", "taken_on", "seen_from", "subject", "subject_of")
        told = {name: getattr(photo, name) for name in names} | {
            "repair": photo.repair.number if photo.repair else ""
        }
        return told | {"at": photo.at if photo.view_id == view else []}

    def values(self) -> dict:
        told = dict(self.cleaned_data)
        told.pop("was")
        return told | {"repair": self.repairs.get(told["repair"])}


class TableForm(forms.Form):
    """A table of hours or costs as a file."""

    what = forms.ChoiceField(choices=[("hours", "hours of work"), ("costs", "costs")], label="It tells")
    table = forms.FileField(
        label="Table (CSV or XLSX)", widget=forms.FileInput(attrs={"accept": ".csv,.tsv,.txt,.xlsx"}),
        error_messages={"required": "Choose the file first.", "empty": "This file is empty."},
    )  # fmt: skip


#: How columns are asked for.
COLUMN_WORDS = {
    "day": "The day", "time": "The time (1:30, 1.5, 90 min)", "kind": "The kind", "repair": "The repair, by its number", "note": "What was done",
    "supplier": "From whom", "item": "What was bought", "quantity": "How many", "amount": "The price of one",
}  # fmt: skip


class TableColumnsForm(forms.Form):
    """Which column of a table holds what, and what is taken where it says nothing."""

    heading = forms.TypedChoiceField(
        choices=[("yes", "names the columns"), ("", "tells something already")], coerce=bool, empty_value=False, required=False, label="The first row"
    )  # fmt: skip
    months_first = forms.TypedChoiceField(
        choices=[("", "day, month, year"), ("yes", "month, day, year")], coerce=bool, empty_value=False, required=False, label="Days are written"
    )  # fmt: skip
    in_minutes = forms.TypedChoiceField(
        choices=[("", "hours"), ("yes", "minutes")], coerce=bool, empty_value=False, required=False, label="A bare number of a time is"
    )  # fmt: skip
    kind_else = forms.ChoiceField(required=False, label="A row without a known kind is", widget=QuickSelect)
    tax_rate = forms.DecimalField(
        max_digits=5, decimal_places=2, min_value=0, max_value=100, initial=20, label="Tax, %"
    )
    tax_included = forms.TypedChoiceField(
        choices=[("yes", "in the prices"), ("", "on top of them")], coerce=bool, empty_value=False, required=False, label="The tax is", initial="yes"
    )  # fmt: skip

    def __init__(self, *args, what: str, head: list[str], **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.what = what
        columns = [(str(n), f"{n + 1}: {name[:40]}") for n, name in enumerate(head)]
        own = {
            name: forms.TypedChoiceField(
                coerce=int, empty_value=None, required=name in NEEDS[what], label=COLUMN_WORDS[name],
                choices=[("", "choose" if name in NEEDS[what] else "no such column"), *columns],
            )
            for name in (*NEEDS[what], *MAY[what])
        }  # fmt: skip
        self.fields = own | self.fields
        kinds = KIND_WORDS if what == "hours" else COST_KINDS
        self.fields["kind_else"].choices = [("", "refused"), *kinds.items()]
        if what == "hours":
            del self.fields["tax_rate"], self.fields["tax_included"]
        else:
            del self.fields["in_minutes"]

    def columns(self) -> dict:
        names = (*NEEDS[self.what], *MAY[self.what])
        return {name: at for name in names if (at := self.cleaned_data[name]) is not None}

    def options(self) -> dict:
        told = self.cleaned_data
        plain = {name: told[name] for name in ("heading", "months_first", "in_minutes") if name in told}
        return plain | {"kind": told["kind_else"]}

    def cost(self) -> dict:
        return {name: self.cleaned_data[name] for name in ("tax_rate", "tax_included") if name in self.fields}

    @staticmethod
    def of(columns: dict, options: dict) -> dict:
        return columns | {
            "heading": "yes" if options.get("heading", True) else "", "months_first": "yes" if options.get("months_first") else "",
            "in_minutes": "yes" if options.get("in_minutes") else "",
            "kind_else": options.get("kind", ""),
        }  # fmt: skip


class DonorForm(forms.Form):
    """Another person's bundle, of which only its panels are kept."""

    bundle = forms.FileField(
        label="Their bundle (.zip)", widget=forms.FileInput(attrs={"accept": ".zip"}),
        error_messages={"required": "Choose the .zip that was exported.", "empty": "This file is empty."},
    )  # fmt: skip
    note = forms.CharField(max_length=300, required=False, label="Where it stands, whose it is")
