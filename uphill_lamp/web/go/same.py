"""Same as last time? The newest take beside the last good one, and what of it is no longer so."""

from __future__ import annotations

from typing import Any

from django.urls import reverse

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.check.sheet import sheet
from uphill_lamp.web.check.lines import shown
from uphill_lamp.web.check.takes import last_good
from uphill_lamp.web.setups.models import Setup

MOST_SHOWN = 6


def last_time(setup: Setup, appraisal: Appraisal, digest: str) -> dict[str, Any]:
    """The newest take, the last good one before it, what differs between them (without a good one: from the plan), and the picture to lay
    over today's: the last good one's, else the plan's."""
    take = setup.takes.first()
    good = last_good(setup, take) if take is not None else None
    lines = sheet(appraisal, take.report, good.report if good is not None else None) if take is not None else ()
    differing = [_told(shown(line), good is not None) for line in lines if (line.changed if good is not None else line.state == "off")]
    pictured = setup.takes.filter(good=True, kind__in=("still", "clip")).exclude(preview=b"").first()
    return {
        "take": take, "good_take": good, "differing": differing[:MOST_SHOWN], "differing_count": len(differing),
        "over_picture": reverse("check-picture", args=[setup.pk, pictured.pk]) if pictured else reverse("picture", args=[digest, 640]),
        "over_words": f"the good one of {pictured.when}" if pictured else "what the plan expects",
    }  # fmt: skip


def _told(row: dict[str, Any], beside_good: bool) -> dict[str, Any]:
    """A row with what it was, or was planned to be."""
    if beside_good and row["good"]:
        return row | {"before": f", was {row['good']}"}
    return row | {"before": f", planned {row['expected']}" if row["expected"] else ""}
