"""Tests of several processes at once: what one of them tells of a failure reaches the other as text."""

import traceback

from django.db import connection
from django.test.runner import DiscoverRunner, ParallelTestSuite, RemoteTestResult, RemoteTestRunner

#: The browser tests wait as long for the page as the others reckon.
MOST_PROCESSES = 2


class Result(RemoteTestResult):
    """A failure as text, since tracebacks, pages and clients in it cannot be sent."""

    def addError(self, test, err):
        super().addError(test, _told(err))

    def addFailure(self, test, err):
        super().addFailure(test, _told(err))

    def addSubTest(self, test, subtest, err):
        if err is not None:
            failed = issubclass(err[0], test.failureException)
            self.events.append(
                (
                    "addFailure" if failed else "addError",
                    self.test_index,
                    _told(err, subtest._subDescription()),
                )
            )


def _told(err, which: str = "") -> tuple[type[Exception], Exception, None]:
    text = "".join(traceback.format_exception(*err))
    return AssertionError, AssertionError(f"{which}\n{text}".strip()), None


class Runner(DiscoverRunner):
    """Django's runner that keeps its result, in processes of their own where that helps."""

    class parallel_test_suite(ParallelTestSuite):
        class runner_class(RemoteTestRunner):
            resultclass = Result

    def setup_databases(self, **kwargs):
        """The copies for the processes hold only what has left the write-ahead log, so it is emptied first."""
        copy = connection.creation.clone_test_db

        def cloned(*args, **more):
            with connection.cursor() as cursor:
                cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")
            copy(*args, **more)

        connection.creation.clone_test_db = cloned
        return super().setup_databases(**kwargs)

    def suite_result(self, suite, result, **kwargs):
        self.result = result
        return super().suite_result(suite, result, **kwargs)
