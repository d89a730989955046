"""What every editable record shares: a version number, so that two people cannot overwrite each other unseen."""

from django.db import models

from .changes import Kept
from .kept import JSONField


class ChangedMeanwhile(Exception):
    """Somebody saved this record after the person opened it; ``stored`` is the record as it is now."""

    def __init__(self, stored: "Versioned") -> None:
        super().__init__(stored)
        self.stored = stored


class Versioned(Kept):
    """A record that counts its saves."""

    version = models.PositiveIntegerField(default=1, editable=False)
    changed_at = models.DateTimeField(auto_now=True)
    changed_by = models.CharField(max_length=150, blank=True, editable=False)

    class Meta:
        abstract = True

    def save(self, *args, **kwargs) -> None:
        """A record that is made again under a number given before goes on counting where that one ended: no old page passes for it."""
        if self._state.adding and self.version == 1 and self.pk is None:
            self.version = 1 + self._last_version()
        super().save(*args, **kwargs)

    @classmethod
    def next_number(cls, **of) -> int:
        """The number of the next record of its owner: none that was ever given is given again. Args: of: the owner, by its field."""
        past = {cls._meta.get_field(name).attname: owner.pk for name, owner in of.items()}
        numbers = (cls.objects.filter(**of), cls.history.filter(**past))
        return 1 + max(each.aggregate(most=models.Max("number"))["most"] or 0 for each in numbers)

    def _last_version(self) -> int:
        """The version of a deleted record that had what makes this one the only one of its kind; 0 where there was none."""
        names = next((each.fields for each in self._meta.constraints if hasattr(each, "fields")), ())
        if not names:
            return 0
        same = {
            self._meta.get_field(name).attname: getattr(self, self._meta.get_field(name).attname)
            for name in names
        }
        gone = type(self).history.filter(history_type="-", **same)
        return gone.order_by("-history_id").values_list("version", flat=True).first() or 0

    def require_version(self, version: int | None) -> None:
        """That this record, as it is stored now, is the one a person had open; None asks nothing. Raises: ChangedMeanwhile."""
        if version is not None and self.version != version:
            raise ChangedMeanwhile(self)

    def save_as(self, version: int | None, by: str, /, **fields) -> None:
        """Store new values if nobody else did meanwhile. Call inside a transaction.

        Args: version: the one the person had open, None to save whatever it is; by: who; fields: new values.
        Raises: ChangedMeanwhile.
        """
        stored = type(self).objects.get(pk=self.pk)
        stored.require_version(version)
        self._take(fields, stored.version + 1, by)
        self.save()

    def set_fields(self, by: str, /, **fields) -> None:
        """Store some fields and touch no other, whatever somebody else has just stored in them. Call inside a transaction.

        Args: by: who; fields: new values.
        """
        stored = type(self).objects.only("version").get(pk=self.pk)
        self._take(fields, stored.version + 1, by)
        self.save(update_fields=[*fields, "version", "changed_by", "changed_at"])

    def _take(self, fields: dict, version: int, by: str) -> None:
        for name, value in fields.items():
            setattr(self, name, value)
        self.version, self.changed_by = version, by


class RoomRevision(models.Model):
    """The number of the last change of a vehicle that touched a room's records: what was worked out from that room holds until then."""

    of_vehicle = models.PositiveBigIntegerField()
    room = models.CharField(max_length=20)
    number = models.PositiveIntegerField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["of_vehicle", "room"], name="one_number_a_vehicle_and_room")
        ]

    def __str__(self) -> str:
        return f"{self.room} of vehicle {self.of_vehicle}: {self.number}"


class Waited(models.Model):
    """A change that waited in a browser without signal and is stored: its key, so that it is stored once however often it is sent."""

    key = models.CharField(max_length=40, unique=True)
    stored_at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return self.key


class Job(models.Model):
    """A command of the core that takes long, with its input and, once it is done, its answer; see ``jobs``.

    ``share``: how far it is, 0 to 1; ``fault``: what went wrong, or that it was stopped.
    """

    class State(models.TextChoices):
        WAITING = "waiting"
        RUNNING = "running"
        DONE = "done"

    fingerprint = models.CharField(max_length=32, unique=True)
    command = models.CharField(max_length=40)
    of_vehicle = models.PositiveBigIntegerField(db_index=True)
    asked = models.TextField()
    asked_at = models.DateTimeField()
    state = models.CharField(max_length=7, choices=State, default=State.WAITING)
    share = models.FloatField(default=0.0)
    stop_asked = models.BooleanField(default=False)
    answer = JSONField(null=True)
    fault = models.CharField(max_length=500, blank=True)
    ended_at = models.DateTimeField(null=True)

    def __str__(self) -> str:
        return f"{self.command}, {self.state}"

    @property
    def done(self) -> bool:
        return self.state == self.State.DONE
