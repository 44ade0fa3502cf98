"""What the log teaches, for the page: what keeps going wrong and what helps, how long lines take."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from typing import Any

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.readiness.budgets import BANDS
from uphill_lamp.core.readiness.rigging import devices
from uphill_lamp.core.session import learning
from uphill_lamp.core.session.raised import HELPS, Raised, raised
from uphill_lamp.drawings.trend import Time, trend
from uphill_lamp.web.setups.models import Setup

MOST_FINDINGS, LEARNED_FROM = 8, 50


def page_of(setup: Setup, appraisal: Appraisal) -> dict[str, Any]:
    """What the log shows: what can be pressed, the last uses, what they teach."""
    uses = uses_of(setup)
    return {
        "uses": setup.uses.all()[: learning.OF_LAST], "uses_count": setup.uses.count(), "raised": list(raised(uses, appraisal)),
        "refused": appraisal.setup.session.wishes_refused, "ready_lately": learning.ready_lately_min(uses),
        "trends": list(_trends(setup, uses)), "wrong_lately": learning.went_wrong(uses)[:MOST_FINDINGS],
        "can_be_wrong": [*dict.fromkeys([*(finding.title for finding in appraisal.findings[:MOST_FINDINGS]), *HELPS])],
    }  # fmt: skip


def raised_at(setup: Setup, appraisal: Appraisal, steps: Collection[str]) -> list[Raised]:
    """What the log raises, for the page of steps: what is always included already is no longer raised."""
    wanted = {name.partition("@")[0] for name in appraisal.setup.preferences.must}
    return [wish for wish in raised(uses_of(setup), appraisal, steps) if not wanted.intersection(wish.moves)]


def _trends(setup: Setup, uses: list[learning.Use]) -> Iterator[tuple[str, str]]:
    """What is drawn from two times on: minutes until ready, and what of each take differed from the plan."""
    if sum(use.ready_min is not None for use in uses) > 1:
        times = [Time(f"{use.day.day} {use.day:%b}", use.ready_min, use.well) for use in uses]
        yield (
            "Minutes until ready; hollow where it did not go well",
            trend(times, "Minutes until ready", BANDS["go.ready"].ideal_high, "min"),
        )
    takes = list(reversed(setup.takes.only("made_at", "off", "good")[: learning.OF_LAST]))
    if len(takes) > 1:
        drawn = [Time(f"{take.made_at.day} {take.made_at:%b}", float(take.off), take.good or not take.off) for take in takes]
        yield "How many figures of each take differ from the plan; hollow where some do", trend(drawn, "Figures that differ")


def uses_of(setup: Setup) -> list[learning.Use]:
    """The last ten uses, oldest first."""
    return [use.told() for use in reversed(setup.uses.all()[: learning.OF_LAST])]


def idle(setup: Setup, appraisal: Appraisal) -> tuple[str, ...]:
    """Paths of devices that were there in the last ten uses and in none of them used."""
    return learning.never_used(uses_of(setup), [path for path, *_ in devices(appraisal.setup)])


def learned_s(setup: Setup) -> dict[str, float]:
    """How long each line takes by the log [s]."""
    return learning.times_s([use.told() for use in reversed(setup.uses.all()[:LEARNED_FROM])])
