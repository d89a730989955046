"""What is written down after the work: hours, notes, photos."""

from django.db import models

from yellow_sill.core.repairs.hours import KIND_WORDS, KINDS
from yellow_sill.core.repairs.ribbon import STATES
from yellow_sill.web.frame.changes import Kept
from yellow_sill.web.frame.kept import JSONField
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import ShellView, Vehicle


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


#: What a photo shows besides its repair, and from where the camera looked at the shell; empty: nobody has said.
SUBJECTS = {
    "": "nobody has said",
    "panel": "a panel",
    "finding": "a finding",
    "part": "a part that came off",
    "box": "a box",
}
DIRECTIONS = {
    "": "nobody has said", "left": "from the left", "right": "from the right", "front": "from the front", "rear": "from the rear",
    "above": "from above", "below": "from below", "inside": "from inside",
}  # fmt: skip
#: How it came to its repair: nobody has said to which, by what was done on its day, by a person.
SORTED = {"": "to be sorted", "day": "by what was done that day", "hand": "by hand"}


class Photo(Kept):
    """A picture of the work, decoded and written again, without the camera's metadata.

    ``repair`` None: of none, or nobody has said; ``taken_on`` None: nobody knows; ``taken_at``: what its camera's clock said, empty where it said nothing;
    ``stage``: the state of the repair then; ``view``, ``at``: its place on the shell; ``subject``, ``subject_of``: what it shows and which (code, number,
    label); ``came_as``: a mark of the file that it was made from.
    """

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="photos")
    repair = models.ForeignKey(Repair, on_delete=models.CASCADE, related_name="photos", null=True, blank=True)
    file = models.CharField(max_length=80, unique=True)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    caption = models.CharField(max_length=200, blank=True)
    taken_on = models.DateField(null=True, blank=True)
    taken_at = models.CharField(max_length=19, blank=True)
    stage = models.CharField(max_length=10, blank=True, choices=[(state, state) for state in STATES])
    sorted_by = models.CharField(max_length=4, blank=True, default="hand", choices=list(SORTED.items()))
    view = models.ForeignKey(ShellView, on_delete=models.SET_NULL, null=True, blank=True, related_name="+")
    at = JSONField(default=list, blank=True)
    subject = models.CharField(max_length=7, blank=True, choices=list(SUBJECTS.items()))
    subject_of = models.CharField(max_length=60, blank=True)
    seen_from = models.CharField(max_length=6, blank=True, choices=list(DIRECTIONS.items()))
    came_as = models.CharField(max_length=40, blank=True, db_index=True)
    by = models.CharField(max_length=150)

    class Meta:
        ordering = ["taken_on", "pk"]
        indexes = [
            models.Index(fields=["vehicle", "sorted_by"]),
            models.Index(fields=["vehicle", "-taken_on", "-id"]),
        ]

    def __str__(self) -> str:
        return self.caption or self.file
