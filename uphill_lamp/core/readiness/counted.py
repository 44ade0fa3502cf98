"""Readiness as an area of the whole score, which it enters where that is wished."""

from __future__ import annotations

from collections.abc import Mapping

from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import AreaScore, Measure, area_score
from uphill_lamp.core.readiness.budgets import BANDS, budgets, is_grainy
from uphill_lamp.core.readiness.rigging import rigged_min

AREA = "go"
WEIGHT = 12.0  # beside the areas' own, which sum to 100
WEIGHTS = {"go.storage": 3.0, "go.battery": 3.0, "go.line": 3.0, "go.ready": 1.0}  # what ends a call counts more than what delays it


def counted(setup: Setup, measures: Mapping[str, Measure]) -> AreaScore | None:
    """What readiness scores, where it is to count.

    Args:
        measures: of the other areas, by id.
    """
    return readiness(setup, measures) if setup.session.counts else None


def readiness(setup: Setup, measures: Mapping[str, Measure]) -> AreaScore | None:
    """What readiness scores, whether it counts or not; a figure that cannot be told does not enter.

    Args:
        measures: of the other areas, by id.
    """
    known = tuple(
        Measure(
            budget.id,
            budget.label,
            budget.value,
            budget.unit,
            BANDS[budget.id],
            "entered",
            budget.words,
            weight=WEIGHTS[budget.id],
            counts="both",
        )
        for budget in budgets(setup, is_grainy(measures), rigged_min(setup))
        if budget.value is not None
    )
    score = area_score(known)
    return None if score is None else AreaScore(AREA, score, WEIGHT, known)
