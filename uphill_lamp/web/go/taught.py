"""What the log teaches, for the page: what keeps going wrong and what helps, how long lines take."""

from __future__ import annotations

from typing import Any

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.session import learning
from uphill_lamp.web.setups.models import Setup

# What goes wrong whatever the setup, and what helps against it.
HELPS = {
    "Others heard themselves": "Wear headphones: then nothing of the others gets into your microphone",
    "Picture or sound broke off": "A cable to the network instead of the wireless way",
    "I was not heard at first": "Tap the microphone before each call, and know where mute is",
    "I was late": "Begin the run sheet ten minutes earlier, or leave more of it rigged",
    "Somebody came in": "A note on the door, and tell those at home until when",
    "Something rang": "Phones in flight mode, and the doorbell off",
}
MOST_FINDINGS, LEARNED_FROM = 8, 50


def page_of(setup: Setup, appraisal: Appraisal) -> dict[str, Any]:
    """What the log shows: what can be pressed, the last uses, what they teach."""
    uses = [use.told() for use in reversed(setup.uses.all()[: learning.OF_LAST])]
    by_title = {finding.title: finding for finding in appraisal.findings}
    raised = []
    for wrong, times in learning.keeps_going_wrong(uses):
        finding = by_title.get(wrong)
        moves = next((known.moves for known in appraisal.findings_with_gains if finding and known.id == finding.id), ())
        raised.append(
            {
                "wrong": wrong,
                "times": times,
                "move": moves[0].title if moves else HELPS.get(wrong, ""),
                "area": finding.area if finding else "",
            }
        )
    return {
        "uses": setup.uses.all()[: learning.OF_LAST], "uses_count": setup.uses.count(), "raised": raised, "ready_lately": learning.ready_lately_min(uses),
        "can_be_wrong": [*dict.fromkeys([*(finding.title for finding in appraisal.findings[:MOST_FINDINGS]), *HELPS])],
    }  # fmt: skip


def learned_s(setup: Setup) -> dict[str, float]:
    """How long each line takes by the log [s]."""
    return learning.times_s([use.told() for use in reversed(setup.uses.all()[:LEARNED_FROM])])
