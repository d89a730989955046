from django import forms

from yellow_sill.core.repairs.hours import KIND_WORDS, KINDS
from yellow_sill.web.frame import days
from yellow_sill.web.frame.fields import DateField
from yellow_sill.web.frame.pictures import ACCEPT

from .models import ABOUT


class WorkForm(forms.Form):
    """Hours of one kind of work."""

    worked_on = DateField(label="Day", initial=days.today)
    kind = forms.ChoiceField(
        choices=[(kind, KIND_WORDS[kind]) for kind in KINDS], label="Kind of work", initial="cut"
    )
    typed = forms.CharField(
        max_length=20,
        label="Time",
        widget=forms.TextInput(attrs={"placeholder": "1:30 or 1.5", "autocomplete": "off", "class": "mm"}),
    )
    note = forms.CharField(max_length=300, required=False, label="What was done")


class NoteForm(forms.Form):
    written_on = DateField(label="Day", initial=days.today)
    text = forms.CharField(max_length=4000, label="Note", widget=forms.Textarea(attrs={"rows": 3}))
    about = forms.ChoiceField(choices=list(ABOUT.items()), required=False, label="It is")


class PhotoForm(forms.Form):
    photo = forms.FileField(
        label="Photo",
        widget=forms.FileInput(attrs={"accept": ACCEPT}),
        error_messages={"required": "Choose a photo first.", "empty": "This file is empty."},
    )
    caption = forms.CharField(max_length=200, required=False)
    taken_on = DateField(label="Day", initial=days.today)


#: The forms of a repair's log that write an entry, by what they say they are.
ENTRIES: dict[str, type[forms.Form]] = {"work": WorkForm, "note": NoteForm, "photo": PhotoForm}


class BundleForm(forms.Form):
    bundle = forms.FileField(
        label="Bundle (.zip)",
        widget=forms.FileInput(attrs={"accept": ".zip"}),
        error_messages={"required": "Choose the .zip that was exported.", "empty": "This file is empty."},
    )
