"""Forms of the bench's sums: a panel's shape, something pressed, a jig."""

from django import forms

from yellow_sill.web.frame import units
from yellow_sill.web.frame.fields import NumberField

_LINES = 8000


def _lines(label: str, hint: str, help_text: str = "", required: bool = False) -> forms.CharField:
    widget = forms.Textarea(attrs={"rows": 4, "class": "mm", "placeholder": hint, "spellcheck": "false"})
    return forms.CharField(
        max_length=_LINES, required=required, label=label, help_text=help_text, widget=widget
    )


class SumForm(forms.Form):
    """What every sum has: a title, and the version that a person had open."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    title = forms.CharField(
        max_length=80, label="What for", error_messages={"required": "Write what it is for."}
    )

    def typed(self) -> dict:
        """What was typed, with the unit it was typed in."""
        clean = {name: value for name, value in self.cleaned_data.items() if name not in ("version", "title")}
        return clean | {"unit": units.unit.get()}


class ShapeForm(SumForm):
    """A panel's shape by sections, by a grid of heights, or by its radii."""

    sections = _lines(
        "Sections", "along at 0: 0/0 150/12 300/0\nacross at 150: 0/0 100/9 200/0",
        "From one straight base: where it lies, then place/height.",
    )  # fmt: skip
    heights = _lines("Or heights on a grid", "0 4 5 4 0\n4 8 9 8 4\n0 4 5 4 0", "A row a line.")
    step_u_mm = NumberField(least=1, most=5000, required=False, label="Grid: along a row, mm")
    step_v_mm = NumberField(least=1, most=5000, required=False, label="From row to row, mm")
    length_mm = NumberField(least=1, most=5000, required=False, label="Or radii: length, mm")
    width_mm = NumberField(least=1, most=5000, required=False, label="Width, mm")
    radius_mm = NumberField(least=1, most=1e6, required=False, label="Radius along, mm")
    other_mm = NumberField(
        least=1, most=1e6, required=False, label="Radius across, mm", help_text="Empty: straight across."
    )
    saddle = forms.BooleanField(required=False, label="The two bend to opposite sides")
    reading_mm = NumberField(least=0.05, most=20, label="A height is sure to, mm", initial=0.5)
    limit_percent = NumberField(
        least=0.5, most=60, unit="%", label="One piece is made up to, % of area", initial=6.0
    )


class PressedForm(SumForm):
    """A recess, a row of beads, or ribs that must meet."""

    thickness_mm = NumberField(least=0.3, most=6, sheet=True, label="Sheet, mm", initial=0.9)
    recess_length_mm = NumberField(least=1, most=5000, required=False, label="Recess: length, mm")
    recess_width_mm = NumberField(least=1, most=5000, required=False, label="Width, mm")
    recess_corner_mm = NumberField(least=0.5, most=2500, required=False, label="Corner radius, mm")
    recess_depth_mm = NumberField(least=0.1, most=500, required=False, label="Depth, mm")
    recess_wall_deg = NumberField(least=6, most=90, unit="°", required=False, label="Wall, ° from the sheet")
    recess_bottom_mm = NumberField(least=0, most=200, required=False, label="Radius at the bottom, mm")
    recess_top_mm = NumberField(least=0, most=200, required=False, label="Radius at the top, mm")
    held = forms.BooleanField(required=False, label="The sheet is held all round: nothing draws in")
    beads_count = NumberField(least=1, most=60, unit="", required=False, label="Beads: how many")
    beads_width_mm = NumberField(least=1, most=500, required=False, label="Width, mm")
    beads_height_mm = NumberField(least=0.1, most=200, required=False, label="Height, mm")
    beads_pitch_mm = NumberField(least=1, most=2000, required=False, label="Pitch, mm")
    ribs = _lines(
        "Ribs that must meet", "sill: old 0 80 160 new 3 82 165", "A line a place where the joint may lie."
    )


class JigForm(SumForm):
    """Mountings that keep their place."""

    marks = _lines(
        "Marks", "hanger left: 2890, -505, 290 bolt 10\nhanger right: 2890, 505, 290",
        "A line a mark: name, then x, y, z of its hole's middle.", required=True,
    )  # fmt: skip
    made_of = forms.ChoiceField(
        choices=[("tube", "a frame of tube"), ("angle", "a frame of angle"), ("plate", "a drilled plate")],
        label="Made of",
    )
    foot_mm = NumberField(least=0, most=300, label="A foot takes, mm", initial=40.0)
    measured = _lines("Measured again, after welding", "hanger left - hanger right: 1010.5")


FORMS = {"shape": ShapeForm, "pressed": PressedForm, "jig": JigForm}
