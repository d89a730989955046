"""What is written down after the work: hours, notes, photos."""

from django.db import models

from yellow_sill.core.repairs.hours import KIND_WORDS, KINDS
from yellow_sill.web.frame.changes import Kept
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Vehicle


class WorkEntry(Kept):
    """Hours of one kind of work on one day. ``typed`` keeps what the person wrote."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="work_entries")
    repair = models.ForeignKey(
        Repair, on_delete=models.CASCADE, related_name="work_entries", null=True, blank=True
    )
    worked_on = models.DateField()
    kind = models.CharField(max_length=10, choices=[(kind, KIND_WORDS[kind]) for kind in KINDS])
    minutes = models.PositiveIntegerField()
    typed = models.CharField(max_length=20)
    note = models.CharField(max_length=300, blank=True)
    by = models.CharField(max_length=150)

    class Meta:
        verbose_name = "hours"
        ordering = ["-worked_on", "-pk"]
        indexes = [models.Index(fields=["vehicle", "-worked_on"])]

    def __str__(self) -> str:
        return f"{self.get_kind_display()} {self.minutes} min"


#: What a note is about besides its repair.
ABOUT = {"": "a note", "mistake": "a mistake, and how it was put right", "learnt": "something learnt"}


class Note(Kept):
    """A few words on a repair: a decision, a mistake and how it was put right, something learnt."""

    repair = models.ForeignKey(Repair, on_delete=models.CASCADE, related_name="notes")
    written_on = models.DateField()
    text = models.TextField(max_length=4000)
    about = models.CharField(max_length=8, blank=True, choices=list(ABOUT.items()))
    by = models.CharField(max_length=150)

    class Meta:
        ordering = ["-written_on", "-pk"]

    def __str__(self) -> str:
        return self.text[:40]


class Photo(Kept):
    """A picture of a repair, decoded and written again, without the camera's metadata."""

    repair = models.ForeignKey(Repair, on_delete=models.CASCADE, related_name="photos")
    file = models.CharField(max_length=80, unique=True)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    caption = models.CharField(max_length=200, blank=True)
    taken_on = models.DateField()
    by = models.CharField(max_length=150)

    class Meta:
        ordering = ["taken_on", "pk"]

    def __str__(self) -> str:
        return self.caption or self.file
