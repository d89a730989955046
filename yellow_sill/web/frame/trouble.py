"""The disk is full, or may not be written, or others store all the time: told in words, with what was typed, never as a fault of ours."""

import errno
import shutil

from django.conf import settings
from django.db import OperationalError

from yellow_sill.core.errors import CoreError
from yellow_sill.home.places import FULL

#: What the system says of a file that may not be written; other faults of one, but for a full disk, are faults of ours.
BARRED = (errno.EACCES, errno.EPERM, errno.EROFS)


class Trouble(CoreError):
    """Nothing of a change was stored, through no fault of what was typed."""

    code = "NOT-STORED"
    status = 507


class Busy(Trouble):
    """Others are storing; the same works a little later."""

    code = "BUSY"
    status = 503


def trouble_of(error: BaseException) -> Trouble | None:
    """What a failed change is told as; None for another fault."""
    if isinstance(error, OperationalError):
        said = str(error).casefold()
        if "full" in said:
            return _full()
        if "readonly" in said or "unable to open" in said:
            return _barred()
        if "locked" in said or "busy" in said:
            what = "Others are storing a lot just now, and this could not be stored."
            return Busy(what, "disk", "Send it again in a moment.")
        if "disk i/o" in said:
            what = "The disk does not take what is written to it: it may be failing."
            return Trouble(
                what,
                "disk",
                "Make a backup to another disk at once: ./yellow-sill backup /path/of/another/disk.zip",
            )
        return None
    if isinstance(error, OSError) and error.errno in FULL:
        return _full()
    if isinstance(error, OSError) and error.errno in BARRED:
        return _barred()
    return None


def _full() -> Trouble:
    free = shutil.disk_usage(settings.DATA).free
    return Trouble(
        f"The disk is full: {free / 1e6:.1f} MB are free where your data lies, and this could not be stored.",
        "disk",
        f"Make some room, 100 MB or more, on the disk of {settings.DATA}. Then send it again.",
    )


def _barred() -> Trouble:
    return Trouble(
        "Your data may not be written just now, so this could not be stored.",
        "disk",
        f"Give the account that Yellow Sill runs under the right to write in {settings.DATA}. Then send it again.",
    )
