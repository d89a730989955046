"""Forms of the record: what goes into a dossier, until when its address is open."""

from django import forms

from yellow_sill.core.repairs.hours import KIND_WORDS
from yellow_sill.web.frame.fields import DateField
from yellow_sill.web.logbook.models import ABOUT

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
    form = forms.ChoiceField(
        choices=[("pdf", "one PDF"), ("folder", "a folder, zipped")], label="As", initial="pdf"
    )
    bundle = forms.BooleanField(
        required=False, label="The bundle inside, for another Yellow Sill: it holds all money and all names"
    )

    def __init__(self, *args, repairs=(), **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.fields["repairs"].choices = [
            (each.number, f"{each.code} {each.title}, {each.state}") for each in repairs
        ]


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
