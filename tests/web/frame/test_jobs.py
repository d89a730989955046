"""Long work: one after another beside the pages, told how far it is, stopped, taken up again after a restart."""

import time
from datetime import timedelta
from unittest import mock

from django.db import OperationalError
from django.test import TestCase, TransactionTestCase, override_settings
from django.utils import timezone

from yellow_sill.web.frame import jobs
from yellow_sill.web.frame.models import Job

STATES = Job.State
#: A command that is quick, and one that would run for minutes.
QUICK = {"thickness_mm": 1.0, "evidence": []}


def waited(until, seconds: float = 60.0) -> bool:
    end = time.monotonic() + seconds
    while not (done := until()) and time.monotonic() < end:
        time.sleep(0.05)
    return bool(done)


class Jobs(TestCase):
    def test_the_same_is_answered_once_and_kept(self):
        first = jobs.ask("grade", 1, QUICK)
        self.assertEqual((first.state, jobs.ask("grade", 1, QUICK).pk), (STATES.WAITING, first.pk))
        self.assertNotEqual(jobs.ask("grade", 2, QUICK).pk, first.pk, "another vehicle's")
        jobs.work_off()
        done = jobs.find(1, first.fingerprint)
        self.assertEqual((done.state, done.share, done.fault), (STATES.DONE, 1.0, ""))
        self.assertIn("grade", done.answer)
        self.assertIsNone(jobs.find(2, first.fingerprint))
        with mock.patch.object(jobs, "_run") as ran:
            jobs.ask("grade", 1, QUICK)
            jobs.work_off()
        ran.assert_not_called()

    def test_what_went_wrong_is_told_and_begins_again_when_it_is_asked_again(self):
        refused = jobs.ask("grade", 1, QUICK | {"thickness_mm": -1})
        stopped = jobs.ask("grade", 1, QUICK)
        jobs.stop(stopped)
        jobs.work_off()
        refused.refresh_from_db()
        stopped.refresh_from_db()
        self.assertTrue(refused.fault)
        self.assertIsNone(refused.answer)
        self.assertEqual(stopped.fault, jobs.STOPPED)
        with mock.patch.object(jobs.subprocess, "Popen", side_effect=OSError):
            jobs.ask("grade", 1, QUICK)
            jobs.work_off()
        stopped.refresh_from_db()
        self.assertEqual(stopped.fault, jobs.BROKE_OFF)
        jobs.ask("grade", 1, QUICK)
        jobs.work_off()
        stopped.refresh_from_db()
        self.assertEqual((stopped.fault, stopped.done), ("", True))

    def test_what_was_under_way_at_a_restart_begins_again(self):
        job = jobs.ask("grade", 1, QUICK)
        Job.objects.filter(pk=job.pk).update(state=STATES.RUNNING, share=0.7)
        jobs.work_off()
        self.assertFalse(jobs.find(1, job.fingerprint).done, "it is somebody's")
        self.assertEqual(jobs.take_up(), 1)
        jobs.work_off()
        self.assertTrue(jobs.find(1, job.fingerprint).done)
        self.assertEqual(jobs.take_up(), 0)

    def test_only_the_latest_answers_are_kept(self):
        now = timezone.now()
        old = {"command": "grade", "of_vehicle": 1, "asked": "{}", "state": STATES.DONE}
        Job.objects.bulk_create(
            Job(fingerprint=str(i), asked_at=now, ended_at=now - timedelta(hours=i), **old)
            for i in range(jobs.KEPT + 5)
        )
        Job.objects.create(fingerprint="waits", command="grade", of_vehicle=1, asked="{}", asked_at=now)
        with mock.patch.object(
            jobs, "_run", lambda job: Job.objects.filter(pk=job.pk).update(state=STATES.RUNNING)
        ):
            jobs.work_off()
        self.assertEqual(Job.objects.filter(state=STATES.DONE).count(), jobs.KEPT)
        self.assertTrue(Job.objects.filter(fingerprint="0").exists())
        self.assertTrue(Job.objects.filter(fingerprint="waits").exists())


@override_settings(JOBS_BESIDE=True)
class Beside(TransactionTestCase):
    def test_a_running_job_tells_how_far_it_is_and_ends_when_it_is_stopped(self):
        slow = "import sys, time; sys.stdin.read(); print(0.25, file=sys.stderr, flush=True); time.sleep(60)"
        popen = jobs.subprocess.Popen
        with mock.patch.object(
            jobs.subprocess, "Popen", lambda told, **more: popen([told[0], "-c", slow], **more)
        ):
            job = jobs.ask("grade", 1, QUICK)
            self.assertTrue(waited(lambda: jobs.find(1, job.fingerprint).share == 0.25))
            after = jobs.ask("grade", 2, QUICK)
            self.assertEqual(jobs.find(2, after.fingerprint).state, STATES.WAITING, "one after another")
            begun = time.monotonic()
            jobs.stop(after)
            jobs.stop(job)
            self.assertTrue(waited(lambda: jobs.find(1, job.fingerprint).done))
        self.assertLess(time.monotonic() - begun, 10)
        self.assertEqual(jobs.find(1, job.fingerprint).fault, jobs.STOPPED)
        self.assertTrue(waited(lambda: jobs._worker is None), "the worker goes when nothing waits")
        fails = [OperationalError("database is locked")]
        with (
            mock.patch.object(jobs, "AGAIN_S", 0.01),
            mock.patch.object(jobs, "_run", lambda _job, run=jobs._run: self.fail_first(fails) or run(_job)),
        ):
            again = jobs.ask("grade", 4, QUICK)
            self.assertTrue(waited(lambda: jobs.find(4, again.fingerprint).done), "it outlives a full disk")
        quick = jobs.ask("grade", 3, QUICK)
        self.assertTrue(waited(lambda: jobs.find(3, quick.fingerprint).done), "and comes when something does")
        self.assertTrue(waited(lambda: jobs._worker is None))

    def fail_first(self, fails):
        if fails:
            raise fails.pop()
