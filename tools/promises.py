"""``./uphill promises [NAME] [--seed S]``: the tests that promise something of any setup, each with all its cases, one at a time."""

from __future__ import annotations

import argparse
import os
import subprocess
import sys
import time
import unittest
from collections.abc import Iterator

from tests.promise import FEW, HOUSE

PATIENCE_S = 1200


def main() -> int:
    parser = argparse.ArgumentParser(prog="./uphill promises", description=__doc__)
    parser.add_argument("name", nargs="?", default="", help="those only whose name holds this")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--list", action="store_true", help="say which there are, and try none")
    asked = parser.parse_args()
    listed = [(label, count) for label, count in promises() if asked.name in label]
    if not listed:
        print(f"No promise has {asked.name!r} in its name; --list says which there are.")
        return 2
    broken = 0
    for number, (label, count) in enumerate(listed, 1):
        print(f"{number} of {len(listed)}  {label}, {count} cases", end="\n" if asked.list else " … ", flush=True)
        broken += 0 if asked.list else not _kept(label, asked.seed)
    if not asked.list:
        print(f"{len(listed) - broken} kept, {broken} broken (seed {asked.seed})")
    return 1 if broken else 0


def promises() -> Iterator[tuple[str, int]]:
    """Labels of all tests that say something of more than a few cases, with how many; in the order of their names."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "uphill_lamp.web.settings")
    import django

    django.setup()
    for test in sorted(_tests(unittest.defaultTestLoader.discover("tests", top_level_dir=".")), key=lambda test: test.id()):
        method = getattr(test, getattr(test, "_testMethodName", ""), None)
        count = getattr(method, "promised", HOUSE if getattr(method, "is_hypothesis_test", False) else 0)
        if count > FEW:
            yield test.id(), count


def _tests(suite: unittest.TestSuite) -> Iterator[unittest.TestCase]:
    for part in suite:
        if isinstance(part, unittest.TestSuite):
            yield from _tests(part)
        else:
            yield part


def _kept(label: str, seed: int) -> bool:
    environment = os.environ | {"UPHILL_PROMISES": "1", "UPHILL_SEED": str(seed)}
    begin = time.monotonic()
    try:
        done = subprocess.run(
            [sys.executable, "-m", "tests.run", label], env=environment, capture_output=True, text=True, timeout=PATIENCE_S, check=False
        )
    except subprocess.TimeoutExpired:
        print(f"not done after {PATIENCE_S // 60} minutes")
        return False
    print(f"{'kept' if not done.returncode else 'broken'} in {time.monotonic() - begin:.0f} s", flush=True)
    if done.returncode:
        print(done.stderr[-4000:])
    return not done.returncode


if __name__ == "__main__":
    sys.exit(main())
