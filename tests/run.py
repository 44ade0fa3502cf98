"""Runs all tests through Django's runner and closes with a line that says how many passed."""

from __future__ import annotations

import os
import shutil
import sys
import tempfile
import unittest

from uphill_lamp import at_start

MOST_AT_ONCE = 3


def main(labels: list[str]) -> int:
    state = tempfile.mkdtemp(prefix="uphill-test-")
    os.environ["UPHILL_STATE"] = state
    at_start.prepare()
    os.environ["DJANGO_SETTINGS_MODULE"] = "uphill_lamp.web.settings"
    # Playwright's own event loop runs in the thread of the browser tests.
    os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "1"
    try:
        status, counted = _run(labels)
    finally:
        shutil.rmtree(state, ignore_errors=True)
    print(counted, flush=True)
    return status


def _run(labels: list[str]) -> tuple[int, str]:
    import django
    from django.db import connection
    from django.test.runner import DiscoverRunner
    from hypothesis import settings

    from tests.promise import HOUSE, WHOLE, times

    django.setup()
    _let_lines_be_counted_beside_threads()
    settings.register_profile("house", deadline=None, derandomize=not WHOLE, database=None, max_examples=times(HOUSE), print_blob=True)
    settings.load_profile("house")

    class Runner(DiscoverRunner):
        def setup_databases(self, **kwargs: object) -> object:
            """A database that writes ahead is copied only after all it has written is in its file."""
            wanted, self.parallel = self.parallel, 0
            made = super().setup_databases(**kwargs)
            self.parallel = wanted
            if wanted > 1:
                with connection.cursor() as cursor:
                    cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")
                for number in range(wanted):
                    connection.creation.clone_test_db(suffix=str(number + 1), verbosity=0)
            return made

        def suite_result(self, suite: unittest.TestSuite, result: unittest.TestResult, **kwargs: object) -> int:
            self.result = result
            return super().suite_result(suite, result, **kwargs)

    # One more than there are cores, for half of what a browser test does is waiting: each has a database of its own.
    parallel = min((os.cpu_count() or 1) + 1, MOST_AT_ONCE) if not labels or len(labels) > 1 else 0
    runner = Runner(verbosity=1, interactive=False, timing=False, parallel=parallel)
    status = runner.run_tests(labels or ["tests"])
    result = runner.result
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    counted = f"{result.testsRun - failed - len(result.skipped)} passed, {failed} failed"
    return int(bool(status) or not result.testsRun), counted


def _let_lines_be_counted_beside_threads() -> None:
    """The counter of lines walks over every module's names while other threads may still add some (a late import, a patch):
    it is given a list of them as they stand, since a walk over the live ones ends now and then with "changed size"."""
    slipcover = sys.modules.get("slipcover.slipcover")
    if slipcover is None:
        return
    walk = slipcover.Slipcover.find_functions
    slipcover.Slipcover.find_functions = staticmethod(lambda items, visited: walk(list(items), visited))


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
