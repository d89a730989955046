"""What the record keeps of its own."""

from django.db import models

from yellow_sill.core.record.metal import RANKS
from yellow_sill.web.frame.changes import Kept
from yellow_sill.web.frame.kept import JSONField
from yellow_sill.web.logbook.models import Photo
from yellow_sill.web.shells.models import Vehicle


class Dossier(models.Model):
    """A dossier that was made, and where its file lies; what it was made from stays as it was. ``told``: its choices in words.

    ``token``, ``until``: the end of the address under which it can be read without signing in, and until which day; empty for nobody.
    """

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="dossiers")
    made_at = models.DateTimeField()
    by = models.CharField(max_length=150)
    form = models.CharField(max_length=6, choices=[("pdf", "one PDF"), ("folder", "a folder, zipped")])
    file = models.CharField(max_length=60, unique=True)
    size = models.PositiveBigIntegerField()
    code = models.CharField(max_length=40)
    told = models.CharField(max_length=300)
    token = models.CharField(max_length=48, blank=True, db_index=True)
    until = models.DateField(null=True, blank=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return self.code

    @property
    def name(self) -> str:
        """What its file is called when it is given out."""
        return f"dossier-{self.code}.{'pdf' if self.form == 'pdf' else 'zip'}"


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


class PhotoPair(Kept):
    """Two photos of one place that are laid over one another; ``points``: what was tapped in both, px: before x, y, after x, y."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="photo_pairs")
    before = models.ForeignKey(Photo, on_delete=models.CASCADE, related_name="+")
    after = models.ForeignKey(Photo, on_delete=models.CASCADE, related_name="+")
    points = JSONField(default=list)
    by = models.CharField(max_length=150)

    class Meta:
        verbose_name = "before and after"
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["before", "after"], name="one_pair_of_two_photos")]

    def __str__(self) -> str:
        return f"{self.before} and {self.after}"


class BroughtTable(models.Model):
    """A table of hours or costs that was brought in: its rows as they came until they are taken, which of its columns hold what."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="brought_tables")
    what = models.CharField(max_length=5, choices=[("hours", "hours"), ("costs", "costs")])
    name = models.CharField(max_length=120)
    rows = JSONField(default=list)
    columns = JSONField(default=dict)
    options = JSONField(default=dict)
    brought_at = models.DateTimeField()
    taken = models.PositiveIntegerField(null=True, blank=True)
    by = models.CharField(max_length=150)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return self.name


class Donor(Kept):
    """Another shell that parts are taken from, as its owner's bundle told of it; ``panels``: see the core's ``DonorPanel``."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="donors")
    name = models.CharField(max_length=170)
    body_no = models.CharField(max_length=40, blank=True)
    body_type = models.CharField(max_length=60)
    panels = JSONField(default=list)
    note = models.CharField(max_length=300, blank=True)
    brought_on = models.DateField()
    by = models.CharField(max_length=150)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.name
