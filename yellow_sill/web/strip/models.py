"""The strip register: every part that came off, with its fastenings, its ends and its place."""

from django.db import models

from yellow_sill.core.strip.register import BURNS, STATES
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.frame.kept import JSONField
from yellow_sill.web.frame.models import Versioned
from yellow_sill.web.shells.models import ShellView, Vehicle


class StripPart(Versioned):
    """A part that came off, in the order of removal.

    ``view``, ``at``: where it sat; ``fastenings``: what and how many; ``ends``: connectors and hoses with both ends' labels; ``hinge_marked`` None: nobody
    has said; ``after``: numbers of parts that must be on again before it; ``cut``: the cut that would lose it; ``refitted_on``: on again.
    """

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="strip_parts")
    number = models.PositiveIntegerField()
    name = models.CharField(max_length=80)
    view = models.ForeignKey(ShellView, on_delete=models.SET_NULL, null=True, blank=True, related_name="+")
    at = JSONField(default=list, blank=True)
    removed_on = models.DateField()
    fastenings = JSONField(default=list)
    ends = JSONField(default=list)
    box = models.CharField(max_length=40, blank=True)
    shelf = models.CharField(max_length=40, blank=True)
    hinge_marked = models.BooleanField(null=True, blank=True)
    burns = models.CharField(max_length=9, blank=True, choices=list(BURNS.items()))
    state = models.CharField(max_length=9, blank=True, choices=list(STATES.items()))
    waits_for = models.CharField(max_length=200, blank=True)
    after = JSONField(default=list)
    cut = models.ForeignKey(Cut, on_delete=models.SET_NULL, null=True, blank=True, related_name="+")
    refitted_on = models.DateField(null=True, blank=True)
    note = models.CharField(max_length=500, blank=True)
    by = models.CharField(max_length=150)
    file = models.CharField(max_length=80, blank=True)

    class Meta:
        verbose_name = "part that came off"
        ordering = ["number"]
        constraints = [
            models.UniqueConstraint(fields=["vehicle", "number"], name="one_number_a_stripped_part")
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def place_words(self) -> str:
        """Where it is kept; empty where nobody has said."""
        return ", ".join(part for part in (self.box, self.shelf) if part)
