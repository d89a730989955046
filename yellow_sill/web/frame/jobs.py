"""Long work: one table of jobs and one worker beside the pages, so that a job survives a restart and a page can ask how far it is.

A job is a command of the core with its input; the worker runs ``calc`` in a process of its own for it, one job after another. An
answer is kept by the fingerprint of what was asked: the same question is answered once.
"""

import hashlib
import json
import os
import subprocess
import sys
import time
from collections.abc import Callable
from threading import Lock, Thread
from typing import IO, Any, cast

from django.conf import settings
from django.db import OperationalError, connection
from django.utils import timezone

from yellow_sill.core.errors import CoreError

from .models import Job

#: So many answers are kept, the latest.
KEPT = 100
#: How often a running job writes how far it is, and looks whether somebody stopped it, s.
LOOK_S = 0.25
#: How long the worker rests where the database cannot be written, s.
AGAIN_S = 1.0
STOPPED, BROKE_OFF = "Stopped.", "The work broke off. Start it again."

#: Work that needs the database: done here and not in a process of its own, by its command's name.
_here: dict[str, Callable[[int, dict[str, Any], Callable[[float], None]], dict[str, Any]]] = {}
_lock = Lock()
_worker: Thread | None = None


def ask(command: str, vehicle_id: int, values: dict[str, Any]) -> Job:
    """Have a command of the core worked out, unless the same was asked before; a job that failed or was stopped begins again."""
    told = json.dumps(values, sort_keys=True)
    fingerprint = hashlib.sha256(f"{command} {vehicle_id} {told}".encode()).hexdigest()[:32]
    job, _ = Job.objects.get_or_create(
        fingerprint=fingerprint,
        defaults={"command": command, "of_vehicle": vehicle_id, "asked": told, "asked_at": timezone.now()},
    )
    if job.fault:
        job.share, job.fault, job.stop_asked, job.asked_at = 0.0, "", False, timezone.now()
        job.state = Job.State.WAITING
        job.save()
    wake()
    return job


def here(command: str):
    """Registers work that needs the database: (vehicle's key, what is asked, progress) to its answer; it may raise CoreError.

    ``progress`` is called with the share done, and ends the work where somebody stopped it.
    """

    def registered(work):
        _here[command] = work
        return work

    return registered


class _Stopped(Exception):
    """Somebody stopped the job."""


def find(vehicle_id: int, fingerprint: str) -> Job | None:
    """A vehicle's job; None where it is not known (any more)."""
    return Job.objects.filter(of_vehicle=vehicle_id, fingerprint=fingerprint).first()


def stop(job: Job) -> None:
    """Stop a job; nothing happens where it is done."""
    waiting = Job.objects.filter(pk=job.pk, state=Job.State.WAITING)
    if not waiting.update(state=Job.State.DONE, fault=STOPPED):
        Job.objects.filter(pk=job.pk, state=Job.State.RUNNING).update(stop_asked=True)


def take_up() -> int:
    """What was under way when Yellow Sill was ended begins again; how many jobs there are to do."""
    Job.objects.filter(state=Job.State.RUNNING).update(state=Job.State.WAITING, share=0.0)
    waiting = Job.objects.filter(state=Job.State.WAITING).count()
    if waiting:
        wake()
    return waiting


def wake() -> None:
    """See that the worker works."""
    global _worker
    if not settings.JOBS_BESIDE:
        return
    with _lock:
        if _worker is None or not _worker.is_alive():
            _worker = Thread(target=_work, daemon=True, name="jobs")
            _worker.start()


def _work() -> None:
    global _worker
    broken_off = False
    try:
        while True:
            try:
                if broken_off:
                    Job.objects.filter(state=Job.State.RUNNING).update(state=Job.State.WAITING, share=0.0)
                    broken_off = False
                work_off()
                with _lock:  # whoever asks now either is seen here, or finds no worker and starts one
                    if not Job.objects.filter(state=Job.State.WAITING).exists():
                        _worker = None
                        return
            except OperationalError:  # the disk is full, or others store all the time: it begins again
                broken_off = True
                connection.close()
                time.sleep(AGAIN_S)
    finally:
        connection.close()


def work_off() -> None:
    """Do all jobs that wait, the one that was asked first first."""
    while (job := Job.objects.filter(state=Job.State.WAITING).order_by("asked_at", "pk").first()) is not None:
        mine = Job.objects.filter(pk=job.pk, state=Job.State.WAITING)
        if mine.update(state=Job.State.RUNNING):
            _run(job)
    late = (
        Job.objects.filter(state=Job.State.DONE)
        .order_by("-ended_at", "-pk")
        .values_list("pk", flat=True)[KEPT:]
    )
    Job.objects.filter(pk__in=list(late)).delete()


def _run(job: Job) -> None:
    try:
        answer, fault = _worked_out(job)
    except (OSError, ValueError):
        answer, fault = None, BROKE_OFF
    share = job.share if fault else 1.0
    Job.objects.filter(pk=job.pk).update(
        state=Job.State.DONE, answer=answer, fault=fault, share=share, ended_at=timezone.now()
    )


def _worked_out(job: Job) -> tuple[dict[str, Any] | None, str]:
    """The answer of the core's command line, or what went wrong. Raises: OSError, ValueError."""
    if job.command in _here:
        return _done_here(job)
    process = subprocess.Popen(  # noqa: S603 - a command of ours, its input on a stream
        [sys.executable, "-m", "yellow_sill.core.calc", job.command, "--progress"], stdin=subprocess.PIPE, stdout=subprocess.PIPE,
        stderr=subprocess.PIPE, text=True, env=os.environ | {"PYTHONPATH": os.pathsep.join(sys.path)},
    )  # fmt: skip
    told: list[str] = []
    out, said = cast(IO[str], process.stdout), cast(IO[str], process.stderr)
    helpers = [
        Thread(target=_feed, args=(cast(IO[str], process.stdin), job.asked), daemon=True),
        Thread(target=lambda: told.append(out.read()), daemon=True),
        Thread(target=_listen, args=(said, job), daemon=True),
    ]
    for helper in helpers:
        helper.start()
    shown, stopped = job.share, False
    try:
        while process.poll() is None:
            time.sleep(LOOK_S)
            mine = Job.objects.filter(pk=job.pk)
            if job.share != shown:
                shown = job.share
                mine.update(share=shown)
            if not stopped and (stopped := not mine.filter(stop_asked=False).exists()):
                process.terminate()  # stopped, or thrown away
    except OperationalError:  # it begins again, and not twice beside itself
        process.kill()
        raise
    for helper in helpers:
        helper.join()
    out.close()
    said.close()
    if stopped:
        return None, STOPPED
    answer = json.loads(told[0]) if told and told[0] else None
    if answer is None:
        return None, BROKE_OFF
    return (None, answer["error"]["message"]) if "error" in answer else (answer, "")


def _done_here(job: Job) -> tuple[dict[str, Any] | None, str]:
    """The answer of work that needs the database, or what went wrong."""
    looked = 0.0

    def progress(share: float) -> None:
        nonlocal looked
        if time.monotonic() - looked < LOOK_S:
            return
        looked, job.share = time.monotonic(), share
        mine = Job.objects.filter(pk=job.pk, stop_asked=False)
        if not mine.update(share=share):
            raise _Stopped

    try:
        return _here[job.command](job.of_vehicle, json.loads(job.asked), progress), ""
    except _Stopped:
        return None, STOPPED
    except CoreError as error:
        return None, str(error.message)


def _feed(stream: IO[str], asked: str) -> None:
    try:
        stream.write(asked)
        stream.close()
    except OSError:
        pass  # it has ended: what it said of it is told


def _listen(stream: IO[str], job: Job) -> None:
    """How far it is, as the command writes it line by line."""
    for line in stream:
        if line.strip().replace(".", "").isdigit():
            job.share = float(line)
