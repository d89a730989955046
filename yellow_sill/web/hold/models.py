"""How a shell stands while it is worked on: stands, braces, what is taken out beside the repairs."""

from django.db import models

from yellow_sill.web.frame.models import Versioned
from yellow_sill.web.shells.models import Vehicle

STANDS = ["RBL", "RBR", "RHL", "RHR"]


def usual_stands() -> list[str]:
    return list(STANDS)


class HoldSetup(Versioned):
    """Stands (names of nodes), braces ([from, to] of nodes) and their tube, parts out, engine and doors in."""

    vehicle = models.OneToOneField(Vehicle, on_delete=models.CASCADE, related_name="hold_setup")
    stands = models.JSONField(default=usual_stands)
    braces = models.JSONField(default=list)
    tube = models.CharField(max_length=8, default="25x2")
    ends = models.CharField(max_length=8, default="welded")
    out = models.JSONField(default=list)
    engine_in = models.BooleanField(default=False)
    doors_on = models.BooleanField(default=False)

    def __str__(self) -> str:
        return f"{len(self.stands)} stands, {len(self.braces)} braces"
