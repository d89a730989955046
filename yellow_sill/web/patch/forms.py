"""Forms of the patch and of the marks that go over to it."""

from collections.abc import Mapping, Sequence

from django import forms

from yellow_sill.core.cut.lost import LOST_KINDS
from yellow_sill.core.errors import CoreError
from yellow_sill.core.patch.card import CardSize
from yellow_sill.core.patch.opening import BENT, TREATMENTS, EdgeMade, EdgeSaid, Seen
from yellow_sill.core.patch.part import Hole
from yellow_sill.core.patch.typed import hole_line, holes_typed
from yellow_sill.core.units import exact_length
from yellow_sill.web.cut.models import TransferMark
from yellow_sill.web.frame import units
from yellow_sill.web.frame.fields import NumberField
from yellow_sill.web.shells.models import ShellView

#: What an edge that is curved cannot be, and which fields each way to make one asks for.
STRAIGHT_ONLY = ("return", "open hem", "closed hem", "joggle")
ASKS = {
    "leg": ("lap", "joggle", "flange", "return", "open hem", "closed hem"),
    "second": ("return",),
    "angle": ("flange", "return"),
    "radius": ("flange", "return", "joggle"),
    "direction": ("flange", "return", "joggle", "open hem", "closed hem"),
    "corner": ("flange", "return"),
}
CORNERS = [("slot", "slot"), ("round", "round relief"), ("mitre", "mitre, welded"), ("tab", "lapped tab")]


class PatchForm(forms.Form):
    """The patch of a cut: sheet, gap, and how each edge is made. Field names of an edge end in its name."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    thickness_mm = NumberField(least=0.4, most=6, sheet=True, label="Sheet, mm")
    gap_mm = NumberField(least=0, most=5, label="Gap at butt, mm")
    k_factor = NumberField(least=0, most=1, unit="", label="K-factor")
    trim_allowance_mm = NumberField(least=0, most=50, label="Trim allowance, mm")
    mirror_hand = forms.BooleanField(required=False, label="Mirror hand")
    holes = forms.CharField(
        required=False,
        max_length=6000,
        label="Holes on the finished part",
        widget=forms.Textarea(
            attrs={
                "rows": 3,
                "class": "mm",
                "spellcheck": "false",
                "placeholder": "B: drain 8 at 130, 12\nbase: slot 8 x 30 at 2500, 320",
            }
        ),
        help_text="On an edge: along it from its start, up from its fold. On the base: as the drawing counts.",
    )

    def __init__(
        self,
        *args,
        seen: list[Seen],
        made: Mapping[str, EdgeMade],
        lost: Sequence[EdgeSaid],
        stored: dict,
        version: int,
        view: ShellView,
        **kwargs,
    ) -> None:
        """Args: made: how each edge is made by now, by its name; lost: what was said of edges that the line has no more, kept as it is."""
        initial = {**stored, "version": version}
        for name in ("thickness_mm", "gap_mm", "k_factor", "trim_allowance_mm"):
            initial[name] = float(initial[name])
        super().__init__(*args, initial=initial, **kwargs)
        self.seen, self.made, self.lost = seen, made, list(lost)
        self.opening = stored.get("opening") or []
        self.view = view
        self.initial["holes"] = self._holes_text(stored.get("holes") or [])
        for edge in seen:
            self._edge(edge, made[edge.name], float(stored["thickness_mm"]))

    def _edge(self, edge: Seen, made: EdgeMade, thickness: float) -> None:
        """The fields of one edge."""
        choices = [(key, words) for key, words in TREATMENTS.items() if not (edge.curved and key in STRAIGHT_ONLY) or key == made.treatment]  # fmt: skip
        name, legs = edge.name, made.legs_mm
        self.fields[f"treatment_{name}"] = forms.ChoiceField(
            choices=choices, label=f"Edge {name}", initial=made.treatment
        )
        for key, label, least, most, usual, unit in (
            ("leg", "width", 0.1, 500, legs[0] if legs else 15.0, "mm"), ("second", "return", 0.1, 500, legs[1] if len(legs) > 1 else 10.0, "mm"),
            ("angle", "angle", 0.1, 170, made.angle_deg or 90.0, "°"),
            ("radius", "inside radius", 0, 50, thickness if made.inside_radius_mm is None else made.inside_radius_mm, "mm"),
        ):  # fmt: skip
            self.fields[f"{key}_{name}"] = NumberField(
                least=least, most=most, unit=unit, required=False, label=f"{label}, edge {name}", initial=float(usual)
            )  # fmt: skip
        for key, label, some, usual in (
            ("direction", "direction", [("up", "up"), ("down", "down")], made.direction),
            ("corner", "corner after it", CORNERS, made.corner),
        ):
            self.fields[f"{key}_{name}"] = forms.ChoiceField(
                choices=some, required=False, label=f"{label}, edge {name}", initial=usual
            )

    def _holes_text(self, base: Sequence[Mapping]) -> str:
        """The holes as they are typed, those of the base where the drawing counts them."""
        write = lambda value: exact_length(value, units.unit.get())  # noqa: E731
        rows = [("", {**hole, "at": self.view.in_shell([hole["at"]])[0]}) for hole in base]
        rows += [(edge.name, hole.model_dump()) for edge in self.seen for hole in self.made[edge.name].holes]
        return "\n".join(hole_line(face, hole, write) for face, hole in rows)

    def clean_holes(self) -> list[tuple[str, dict]]:
        """Each with its edge, empty for the base."""
        try:
            told = holes_typed(self.cleaned_data["holes"], unit=units.unit.get())
            for face, hole in told:
                Hole.read(hole)
                if face and face not in self.made:
                    raise forms.ValidationError(f"There is no edge {face}.")
                if face and self.data.get(f"treatment_{face}") not in BENT:
                    raise forms.ValidationError(f"Edge {face} is not folded: give the hole on the base.")
        except CoreError as error:
            raise forms.ValidationError(units.said(error.message)) from None
        return told

    def rows(self):
        keys = ("treatment", "leg", "second", "angle", "radius", "direction", "corner")
        for edge in self.seen:
            yield {
                "edge": edge,
                "faults": [fault for key in keys for fault in self[f"{key}_{edge.name}"].errors],
                **{key: self[f"{key}_{edge.name}"] for key in keys},
            }

    def values(self) -> dict:
        """The fields of Patch."""
        clean = self.cleaned_data
        by_edge: dict[str, list[dict]] = {}
        for face, hole in clean["holes"]:
            by_edge.setdefault(face, []).append(hole)
        base = [{**hole, "at": list(self.view.in_shell([hole["at"]])[0])} for hole in by_edge.get("", [])]
        made = [self._said(edge) | {"holes": by_edge.get(edge.name, [])} for edge in self.seen] + [
            each.model_dump(mode="json") for each in self.lost
        ]
        plain = ("thickness_mm", "gap_mm", "k_factor", "trim_allowance_mm", "mirror_hand")
        return {name: clean[name] for name in plain} | {
            "made": made,
            "sides": {},
            "opening": self.opening,
            "holes": base,
        }

    def _said(self, edge: Seen) -> dict:
        """How an edge is made, with its place; only what its way asks for."""
        clean, name = self.cleaned_data, edge.name
        treatment = clean[f"treatment_{name}"]
        asks = {key: clean.get(f"{key}_{name}") for key, some in ASKS.items() if treatment in some}
        legs = [asks[key] for key in ("leg", "second") if asks.get(key)]
        told = {"at": edge.middle, "treatment": treatment, "legs_mm": legs, "holes": self.made[name].holes}
        for key, field in (
            ("angle", "angle_deg"),
            ("radius", "inside_radius_mm"),
            ("direction", "direction"),
            ("corner", "corner"),
        ):
            if asks.get(key) not in (None, ""):
                told[field] = asks[key]
        return EdgeSaid.read(told).model_dump(mode="json")

    def clean(self):
        clean = super().clean()
        for edge in self.seen:
            for key, words in (
                ("leg", "Edge {name} needs its width in mm."),
                ("second", "Edge {name} needs the size of its return in mm."),
            ):
                field = f"{key}_{edge.name}"
                if (
                    clean.get(f"treatment_{edge.name}") in ASKS[key]
                    and field not in self.errors
                    and not clean.get(field)
                ):
                    self.add_error(field, words.format(name=edge.name))
        return clean


class SizesForm(forms.Form):
    """What was measured on the sheet before the first bend, by the size's key."""

    def __init__(self, *args, sizes: Sequence[CardSize], **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.sizes = sizes
        for size in sizes:
            self.fields[size.key] = NumberField(
                least=0.1, most=10_000, required=False, label=f"Measured, {size.key}"
            )

    def measured(self) -> dict[str, float | None]:
        return {size.key: self.cleaned_data.get(size.key) for size in self.sizes}

    def typed(self) -> dict[str, str]:
        return {size.key: str(self.data.get(size.key, "")).strip() for size in self.sizes}


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
