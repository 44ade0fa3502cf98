"""Runs all tests through Django's runner and closes with a line that says how many passed."""

from __future__ import annotations

import os
import shutil
import sys
import tempfile
import unittest


def main(labels: list[str]) -> int:
    state = tempfile.mkdtemp(prefix="uphill-test-")
    os.environ["UPHILL_STATE"] = state
    os.environ["DJANGO_SETTINGS_MODULE"] = "uphill_lamp.web.settings"
    # Playwright's own event loop runs in the thread of the browser tests.
    os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "1"
    try:
        return _run(labels)
    finally:
        shutil.rmtree(state, ignore_errors=True)


def _run(labels: list[str]) -> int:
    import django
    from django.test.runner import DiscoverRunner
    from hypothesis import settings

    django.setup()
    settings.register_profile("house", deadline=None, derandomize=True, max_examples=60, print_blob=True)
    settings.load_profile("house")

    class Runner(DiscoverRunner):
        def suite_result(self, suite: unittest.TestSuite, result: unittest.TestResult, **kwargs: object) -> int:
            self.result = result
            return super().suite_result(suite, result, **kwargs)

    runner = Runner(verbosity=1, interactive=False, timing=False)
    status = runner.run_tests(labels or ["tests"])
    result = runner.result
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    print(f"{result.testsRun - failed - len(result.skipped)} passed, {failed} failed", flush=True)
    return 1 if status or not result.testsRun else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
