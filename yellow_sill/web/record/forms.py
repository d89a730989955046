"""Forms of the record: what goes into a dossier, until when its address is open."""

from django import forms

from yellow_sill.web.frame.fields import DateField

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


class LinkForm(forms.Form):
    """Until when a dossier can be read without signing in."""

    until = DateField(label="Open until", to_come=True)
