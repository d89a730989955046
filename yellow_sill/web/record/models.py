"""What the record keeps of its own."""

from django.db import models

from yellow_sill.core.record.metal import RANKS
from yellow_sill.web.frame.changes import Kept
from yellow_sill.web.shells.models import Vehicle


class PanelRank(Kept):
    """How much a sheet's look counts, as its owner says it; what nobody has said has no row."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="panel_ranks")
    code = models.CharField(max_length=20)
    rank = models.CharField(max_length=10, choices=[(rank, words) for rank, words in RANKS.items() if rank])

    class Meta:
        verbose_name = "rank of a sheet"
        constraints = [models.UniqueConstraint(fields=["vehicle", "code"], name="one_rank_a_sheet")]

    def __str__(self) -> str:
        return f"{self.code} {self.get_rank_display()}"
