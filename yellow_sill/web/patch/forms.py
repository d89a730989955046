"""Forms of the patch and of the marks that go over to it."""

from collections.abc import Mapping

from django import forms

from yellow_sill.core.cut.lost import LOST_KINDS
from yellow_sill.core.errors import CoreError
from yellow_sill.core.patch.sides import Side
from yellow_sill.web.cut.models import TransferMark
from yellow_sill.web.frame import units
from yellow_sill.web.frame.fields import NumberField

TREATMENTS = [
    ("butt", "Butt"),
    ("free", "Free edge"),
    ("lap", "Lap"),
    ("joggle", "Joggle"),
    ("flange", "Flange"),
]


class PatchForm(forms.Form):
    """The patch of a cut: sheet, gap, and each side's treatment. Field names of a side end in its name."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    thickness_mm = NumberField(least=0.4, most=6, sheet=True, label="Sheet, mm")
    gap_mm = NumberField(least=0, most=5, label="Gap at butt, mm")
    k_factor = NumberField(least=0, most=1, unit="", label="K-factor")
    trim_allowance_mm = NumberField(least=0, most=50, label="Trim allowance, mm")
    mirror_hand = forms.BooleanField(required=False, label="Mirror hand")

    def __init__(
        self, *args, sides: list[Side], usual: Mapping[str, str], stored: dict, version: int, **kwargs
    ) -> None:
        """Args: usual: the treatment of a side that nobody has chosen one for."""
        initial = {**stored, "version": version}
        for name in ("thickness_mm", "gap_mm", "k_factor", "trim_allowance_mm"):
            initial[name] = float(initial[name])
        super().__init__(*args, initial=initial, **kwargs)
        self.sides = [side for side in sides if not (side.curved and "-" in side.name)]
        for side in self.sides:
            chosen = stored["sides"].get(side.name, {})
            choices = TREATMENTS[:4] if side.curved else TREATMENTS
            number = lambda key, usual, least, most, label, unit="mm", chosen=chosen, side=side: NumberField(  # noqa: E731
                least=least,
                most=most,
                unit=unit,
                required=False,
                label=f"{label}, side {side.name}",
                initial=float(chosen.get(key, usual)),
            )
            treatment = chosen.get("treatment", usual.get(side.name, "butt"))
            self.fields[f"treatment_{side.name}"] = forms.ChoiceField(
                choices=choices, label=f"Side {side.name}", initial=treatment
            )
            self.fields[f"width_{side.name}"] = number("width_mm", 15, 0.1, 500, "width")
            self.fields[f"angle_{side.name}"] = number("angle_deg", 90, 0.1, 170, "angle", "°")
            self.fields[f"radius_{side.name}"] = number(
                "inside_radius_mm", float(stored["thickness_mm"]), 0, 50, "inside radius"
            )
            self.fields[f"direction_{side.name}"] = forms.ChoiceField(
                choices=[("up", "up"), ("down", "down")],
                required=False,
                label=f"direction, side {side.name}",
                initial=chosen.get("direction", "up"),
            )

    def rows(self):
        for side in self.sides:
            yield {
                "side": side,
                **{
                    key: self[f"{key}_{side.name}"]
                    for key in ("treatment", "width", "angle", "radius", "direction")
                },
            }

    def values(self) -> dict:
        """The fields of Patch."""
        clean = self.cleaned_data
        sides = {}
        for side in self.sides:
            treatment = clean[f"treatment_{side.name}"]
            spec: dict = {"treatment": treatment}
            if treatment not in ("butt", "free"):
                spec["width_mm"] = clean[f"width_{side.name}"]
            if treatment == "flange":
                spec |= {
                    "angle_deg": clean[f"angle_{side.name}"],
                    "direction": clean[f"direction_{side.name}"] or "up",
                }
            if treatment in ("flange", "joggle"):
                spec["inside_radius_mm"] = clean[f"radius_{side.name}"]
            sides[side.name] = {key: value for key, value in spec.items() if value is not None}
        return {
            name: clean[name]
            for name in ("thickness_mm", "gap_mm", "k_factor", "trim_allowance_mm", "mirror_hand")
        } | {"sides": sides}

    def clean(self):
        clean = super().clean()
        for side in self.sides:
            needs_width = clean.get(f"treatment_{side.name}") not in (None, "butt", "free")
            if (
                needs_width
                and f"width_{side.name}" not in self.errors
                and not clean.get(f"width_{side.name}")
            ):
                self.add_error(f"width_{side.name}", f"Side {side.name} needs its width in mm.")
        return clean


#: A place that is tapped on the board, or typed.
ON_BOARD = {"class": "mm", "placeholder": "tap the board"}


class TransferForm(forms.Form):
    """Something that the cut takes, measured to two marks that stay. Places are in the shell's axes as the rulers show them."""

    name = forms.CharField(
        max_length=60,
        label="What is lost",
        widget=forms.TextInput(attrs={"placeholder": "stud of the cable guide"}),
    )
    kind = forms.ChoiceField(choices=list(LOST_KINDS.items()), label="Kind")
    first_name = forms.CharField(
        max_length=40,
        label="First mark",
        widget=forms.TextInput(attrs={"placeholder": "hole in the hinge box"}),
    )
    second_name = forms.CharField(max_length=40, label="Second mark")
    first_at = forms.CharField(max_length=60, label="Its place", widget=forms.TextInput(attrs=ON_BOARD))
    second_at = forms.CharField(max_length=60, label="Its place", widget=forms.TextInput(attrs=ON_BOARD))
    near = forms.CharField(
        max_length=60, label="About where the lost thing is", widget=forms.TextInput(attrs=ON_BOARD)
    )
    apart_mm = NumberField(least=1, most=20_000, required=False, label="From mark to mark by tape, mm")
    way = forms.ChoiceField(choices=list(TransferMark.WAYS.items()), label="Measured by")
    first_mm = NumberField(least=-20_000, most=20_000, label="From the first mark, or along, mm")
    second_mm = NumberField(least=-20_000, most=20_000, label="From the second, or across (left +), mm")
    version = forms.IntegerField(required=False, widget=forms.HiddenInput)

    def __init__(self, *args, view, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.view = view

    def _place(self, name: str) -> list[float]:
        try:
            points = units.corners_typed(self.cleaned_data[name])
        except CoreError as error:
            raise forms.ValidationError(error.message) from None
        if len(points) != 1:
            raise forms.ValidationError("Give one place, such as 684, 292.")
        return self.view.in_shell(points)[0]

    def clean_first_at(self) -> list[float]:
        return self._place("first_at")

    def clean_second_at(self) -> list[float]:
        return self._place("second_at")

    def clean_near(self) -> list[float]:
        return self._place("near")
