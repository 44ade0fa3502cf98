"""How often what must hold for any setup is tried: a seeded tenth in ``./uphill test``, all of it by ``./uphill promises``."""

from __future__ import annotations

import os
from collections.abc import Callable
from typing import Any

from hypothesis import HealthCheck, seed, settings

WHOLE = "UPHILL_PROMISES" in os.environ
SEED = int(os.environ.get("UPHILL_SEED", "1"))
FEW = 20  # so many are tried each time
LEAST = 6
HOUSE = 60  # where a test says nothing else


def times(count: int) -> int:
    """How many of a promised number of cases are tried now."""
    return count if WHOLE or count <= FEW else max(count // 10, LEAST)


def promise(count: int, **more: Any) -> Callable[[Any], Any]:
    """Marks a test that says something of any setup, with how many cases it promises to hold for."""

    def mark(test: Any) -> Any:
        tried = settings(max_examples=times(count), deadline=None, suppress_health_check=list(HealthCheck), **more)(test)
        tried.promised = count
        return seed(SEED)(tried) if WHOLE else tried

    return mark


def promised(count: int) -> Callable[[Any], Any]:
    """Marks a test that counts its cases itself, by ``times``."""

    def mark(test: Any) -> Any:
        test.promised = count
        return test

    return mark
