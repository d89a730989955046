"""The vehicle, the drawn views of its shell and the panels in them."""

from typing import Any

from django.conf import settings
from django.db import models
from django.urls import reverse

from yellow_sill.core.geometry import covers
from yellow_sill.core.said import Said, drawn_name
from yellow_sill.core.shell import LAYERS, curvature, edges, side_of
from yellow_sill.core.shell.duties import caution_of
from yellow_sill.core.shell.planes import Plane
from yellow_sill.web.frame.changes import Kept
from yellow_sill.web.frame.kept import JSONField
from yellow_sill.web.frame.models import Versioned


class VehicleSet(models.QuerySet):
    def seen_by(self, user: Any) -> "VehicleSet":
        """The vehicles that somebody owns or that were opened to them."""
        return self.filter(
            models.Q(owner=user.pk) | models.Q(pk__in=Access.objects.filter(user=user.pk).values("vehicle"))
        )


class Vehicle(Versioned):
    """One vehicle under repair."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="vehicles")
    make = models.CharField(max_length=60)
    model = models.CharField(max_length=60)
    year = models.PositiveSmallIntegerField(null=True, blank=True)
    body_no = models.CharField("body number", max_length=40, blank=True)
    body_type = models.CharField(max_length=60)
    dimensions_mm = JSONField(default=dict)
    dimensions_typed = JSONField(default=dict)
    #: Which side it is driven from; nothing where nobody said.
    steering = models.CharField(
        max_length=5, blank=True, choices=[("left", "On the left"), ("right", "On the right")]
    )
    currency = models.CharField(max_length=3, default="GBP")
    #: The number of its last change; it only counts up.
    revision = models.PositiveIntegerField(default=0, editable=False)

    objects = VehicleSet.as_manager()

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"{self.make} {self.model}"

    def get_absolute_url(self) -> str:
        return reverse("today:today", args=[self.pk])

    def save(self, *args, **kwargs) -> None:
        """The number of the last change is counted by the changes alone; a stored vehicle never writes it."""
        if not self._state.adding and kwargs.get("update_fields") is None and not kwargs.get("force_insert"):
            kwargs["update_fields"] = [
                field.name
                for field in self._meta.concrete_fields
                if field.name not in ("id", "revision") and field.attname in self.__dict__
            ]
        super().save(*args, **kwargs)


class Role(models.IntegerChoices):
    """What somebody may do with a vehicle; each may do all that those before it may."""

    VIEWER = 1, "Viewer: looks"
    HELPER = 2, "Helper: logs, measures and ticks"
    OWNER = 3, "Owner: everything"


class Access(models.Model):
    """A vehicle that its owner opened to somebody else."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="accesses")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="accesses")
    role = models.PositiveSmallIntegerField(choices=Role)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["vehicle", "user"], name="one_role_a_person_and_vehicle")
        ]

    def __str__(self) -> str:
        return Role(self.role).label


#: The words under the buttons of views whose names do not say enough.
SHORT = {
    "underside": "Under",
    "floor": "Floor",
    "top": "Above",
    "door-left": "Door L",
    "door-right": "Door R",
    "rear-door-left": "Rear L",
    "rear-door-right": "Rear R",
    "lids": "Lids",
    "inside-left": "In L",
    "inside-right": "In R",
    "engine-bay": "Engine",
}


class ShellView(Versioned):
    """A plane drawing of the shell; its panels are records of their own. Its version counts every correction of them."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="views")
    name = models.SlugField(max_length=30)
    title = models.CharField(max_length=60)
    place = models.PositiveSmallIntegerField()
    u_axis = models.CharField(max_length=3)
    v_axis = models.CharField(max_length=3)
    bounds = JSONField()
    layered = models.BooleanField()
    silhouette = JSONField()
    features = JSONField()

    class Meta:
        verbose_name = "view of the shell"
        ordering = ["place"]
        constraints = [models.UniqueConstraint(fields=["vehicle", "name"], name="one_view_a_name")]

    def __str__(self) -> str:
        return self.title

    @property
    def drawing(self) -> tuple[int, Any]:
        """What tells this drawing from every earlier one; the version counts up, whatever the clock says."""
        return self.version, self.changed_at

    @property
    def short(self) -> str:
        """The word under its button."""
        return SHORT.get(self.name, self.name.capitalize())

    @property
    def plane(self) -> Plane:
        """What turns its places into the shell's and back."""
        return Plane(self.u_axis, self.v_axis)

    @property
    def signs(self) -> list[int]:
        """Whether rulers and typed corners run with the drawing, for its script."""
        return list(self.plane.signs)

    def in_shell(self, points) -> list[list[float]]:
        """Points of the drawing in the shell's axes, or back again."""
        return self.plane.in_shell(points)

    def place_words(self, at) -> str:
        """A place of the drawing as a person reads it off the rulers."""
        if at is None:
            return ""
        (a, b), (ua, va) = self.in_shell([at])[0], self.plane.axes
        return f" Look near {ua} {a:.0f}, {va} {b:.0f} mm."


def sheet_name(row: Any) -> str:
    """The panel's name of a row that was read with ``panel__name`` and ``panel__named_by_hand``."""
    return row.panel__name if row.panel__named_by_hand else drawn_name(row.panel__name)


class Panel(Kept):
    """One sheet as one view shows it. The same code in two views is the same sheet seen twice."""

    view = models.ForeignKey(ShellView, on_delete=models.CASCADE, related_name="panels")
    code = models.CharField(max_length=20)
    name = models.CharField(max_length=80)
    mirror_code = models.CharField(max_length=20, blank=True)
    layer = models.PositiveSmallIntegerField()
    thickness_mm = models.FloatField()
    tone = models.PositiveSmallIntegerField(default=1)
    outline = JSONField()
    holes = JSONField(default=list)
    #: Whether a person gave the name; those of our drawings are said in the reader's terms, a person's never.
    named_by_hand = models.BooleanField(default=False)

    class Meta:
        ordering = ["layer", "code"]
        constraints = [models.UniqueConstraint(fields=["view", "code"], name="one_panel_a_code_and_view")]

    def __str__(self) -> str:
        return self.name

    @classmethod
    def from_db(cls, db, field_names, values):
        panel = super().from_db(db, field_names, values)
        if "name" in panel.__dict__ and panel.__dict__.get("named_by_hand") is False:
            panel.name = drawn_name(panel.name)
        return panel

    @property
    def side(self) -> str:
        return side_of(self.code)

    @property
    def caution(self) -> str:
        """What to mind of a sheet that bears more than itself."""
        return caution_of(self.code)

    @property
    def layer_name(self) -> str:
        return LAYERS[self.layer - 1]

    def findings_outside(self, outline) -> bool:
        """Whether anything that later stages laid on this panel would no longer lie on this outline."""
        return any(
            not covers(outline, thing.outline)
            for related in self._meta.related_objects
            if related.on_delete is models.PROTECT
            for thing in getattr(self, related.get_accessor_name()).all()
        )

    @property
    def told(self) -> str:
        """The panel in one line, as the board shows it under the pointer."""
        mirror = Said(", mirror of {code}", code=self.mirror_code) if self.mirror_code else ""
        return Said(
            "{code}: {name}, {layer}, {thickness} mm{mirror}",
            code=self.code,
            name=self.name,
            layer=Said(self.layer_name),
            thickness=f"{self.thickness_mm:g}",
            mirror=mirror,
        )


class EdgeWord(Kept):
    """What a person said of a stretch of a sheet's edge; it overrules what the drawing shows."""

    panel = models.ForeignKey(Panel, on_delete=models.CASCADE, related_name="edge_words")
    #: A place on the stretch, in the view's own plane, mm.
    at = JSONField()
    kind = models.CharField(max_length=8, choices=list(edges.KINDS.items()))
    meets = JSONField(default=list)
    height_mm = models.FloatField(null=True, blank=True)
    inside_radius_mm = models.FloatField(null=True, blank=True)
    direction = models.CharField(max_length=3, blank=True, choices=[("in", "Inwards"), ("out", "Outwards")])

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.get_kind_display()


class CurveWord(Kept):
    """How a person says a sheet is curved."""

    panel = models.OneToOneField(Panel, on_delete=models.CASCADE, related_name="curve_word")
    kind = models.CharField(
        max_length=8, choices=[(kind, word) for kind, word in curvature.KINDS.items() if kind != "unknown"]
    )
    radius_mm = models.FloatField(null=True, blank=True)
    other_radius_mm = models.FloatField(null=True, blank=True)

    def __str__(self) -> str:
        return self.get_kind_display()


class CavityWord(Kept):
    """What a person said of a cavity: what it holds, drains that are not drawn, holes that are stopped up; or a cavity of their own."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="cavity_words")
    code = models.CharField(max_length=24)
    #: Of a person's own cavity: its name and the sheets that close it.
    name = models.CharField(max_length=80, blank=True)
    outer = models.CharField(max_length=20, blank=True)
    inner = models.CharField(max_length=20, blank=True)
    volume_l = models.FloatField(null=True, blank=True)
    drains = JSONField(default=list)
    stopped = JSONField(default=list)

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.UniqueConstraint(fields=["vehicle", "code"], name="one_word_a_cavity_and_vehicle")
        ]

    def __str__(self) -> str:
        return self.name or self.code


class HungWord(Kept):
    """What a person said of a hung part: that it is off, where its hinges are, what its gaps should be (mm, by place)."""

    #: Where the hinges are, or how a part without hinges is held; "" where nobody said.
    HELD = [
        ("", "as drawn, or not known"),
        ("front", "hinged at the front"),
        ("rear", "hinged at the rear"),
        ("bolts", "bolted on"),
        ("welds", "welded on"),
    ]
    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="hung_words")
    code = models.CharField(max_length=20)
    off = models.BooleanField(default=False)
    hinged_at = models.CharField(max_length=5, blank=True, choices=HELD)
    nominal_mm = JSONField(default=dict)

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.UniqueConstraint(fields=["vehicle", "code"], name="one_word_a_hung_part_and_vehicle")
        ]

    def __str__(self) -> str:
        return self.code


class GapRound(Versioned):
    """The gaps round the hung parts, measured once: before anything is cut, after welding, at the end."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="gap_rounds")
    name = models.CharField(max_length=60)
    taken_on = models.DateField()
    #: Gaps by place, mm, and as they were typed.
    gaps_mm = JSONField(default=dict)
    typed = JSONField(default=dict)
    note = models.TextField(blank=True)

    class Meta:
        verbose_name = "round of gaps"
        ordering = ["taken_on", "pk"]

    def __str__(self) -> str:
        return self.name
