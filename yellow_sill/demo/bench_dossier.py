"""How long the dossier of ten years takes, and how much memory: made in a process of its own, as nothing but a dossier is made there.

``python -m yellow_sill.demo.bench_dossier small`` makes one of the vehicle under ``YELLOW_SILL_DEMO_HOME`` and prints seconds and megabytes.
"""

import json
import os
import random
import resource
import subprocess
import sys
import time
from pathlib import Path
from typing import Any

PHOTOS = 400
MOST_S, MOST_MB = 60.0, 500.0
#: A photo as it is kept: the longer side and how finely grained it is, px.
SIZE, GRAIN = (2400, 1800), 16


def lay_down_photos(vehicle: Any, folder: Path, count: int = PHOTOS) -> None:
    """Give so many photos of a vehicle's repairs a file, each a picture of its own; the others are still to be sorted.

    Args: vehicle: a `Vehicle` with at least ``count`` photos. folder: where photos lie.
    """
    from PIL import Image

    folder.mkdir(parents=True, exist_ok=True)
    photos = [photo for photo in vehicle.photos.exclude(repair=None) if not (folder / photo.file).exists()]
    rng = random.Random(3)
    for photo in photos[:count]:
        small = (SIZE[0] // GRAIN, SIZE[1] // GRAIN)
        grain = Image.frombytes("RGB", small, rng.randbytes(3 * small[0] * small[1]))
        grain.resize(SIZE, Image.Resampling.BILINEAR).save(folder / photo.file, quality=88)
    vehicle.photos.filter(pk__in=[photo.pk for photo in photos[count:]]).update(repair=None, sorted_by="")


def dossier_work(home: str) -> list[tuple[str, float, float, str]]:
    """What a dossier of all repairs took, its photos small and large: name, amount, the most it may be, its unit.

    Args: home: where the demo lies that was filled and given its photos.
    """
    return [row for size in ("small", "large") for row in _made(home, size)]


def _made(home: str, size: str) -> list[tuple[str, float, float, str]]:
    done = subprocess.run(  # noqa: S603 - ourselves
        [sys.executable, "-m", "yellow_sill.demo.bench_dossier", size],
        env=os.environ | {"YELLOW_SILL_DEMO_HOME": home, "DJANGO_SETTINGS_MODULE": "yellow_sill.settings.demo"},
        stdout=subprocess.PIPE, text=True, check=True,
    )  # fmt: skip
    took = json.loads(done.stdout)
    name = f"dossier of {took['repairs']} repairs, {took['photos']} {size} photos"
    return [(name, took["seconds"], MOST_S, "s"), (f"{name}, memory", took["megabytes"], MOST_MB, "MB")]


def most_memory_mb() -> float:
    """The most memory that this process has held, MB; told by Linux itself, for ``getrusage`` counts whoever began us with it."""
    try:
        told = Path("/proc/self/status").read_text()
    except OSError:
        return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    return int(told.split("VmHWM:")[1].split()[0]) / 1024


def main() -> int:
    """Make a dossier of all repairs, as the worker does, and print what it took."""
    import django

    django.setup()
    from django.conf import settings

    from yellow_sill.web.frame import jobs
    from yellow_sill.web.record.dossier_sections import Choices
    from yellow_sill.web.record.dossier_services import ask_dossier
    from yellow_sill.web.shells.models import Vehicle

    vehicle = Vehicle.objects.earliest("pk")
    repairs = tuple(vehicle.repairs.values_list("number", flat=True))
    choices = Choices(repairs=repairs, money=True, names=True, photos=sys.argv[1], form="pdf", bundle=False)
    settings.JOBS_BESIDE = False  # it is made here, and not by a worker besides
    job = ask_dossier(vehicle, choices, by="bench")
    start = time.perf_counter()
    jobs.work_off()
    job.refresh_from_db()
    if job.fault:
        raise SystemExit(f"the dossier was not made: {job.fault}")
    took = {
        "seconds": time.perf_counter() - start, "megabytes": most_memory_mb(),
        "repairs": len(repairs), "photos": vehicle.photos.exclude(repair=None).count(),
    }  # fmt: skip
    print(json.dumps(took))
    return 0


if __name__ == "__main__":
    sys.exit(main())
