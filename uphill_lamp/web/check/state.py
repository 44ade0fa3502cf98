"""How Check stands on the slope: a state, and no score."""

from __future__ import annotations

from datetime import datetime, timedelta

from uphill_lamp.web.check.models import Take
from uphill_lamp.web.setups.models import Setup

KEPT_FOR = timedelta(days=30)


def state_of(setup: Setup, now: datetime) -> str:
    """How Check stands: none; old where the setup or a month has gone by since; fresh; ready where nothing was off."""
    newest: dict[str, Take] = {}
    for take in Take.objects.filter(setup=setup).only("kind", "revision_id", "made_at", "off").order_by("id"):
        newest |= dict.fromkeys(("still", "sound") if take.kind == "clip" else (take.kind,), take)
    if not newest:
        return "none"
    if any(take.revision_id != setup.head_id or now - take.made_at > KEPT_FOR for take in newest.values()):
        return "old"
    return "ready" if all(not take.off for take in newest.values()) and len(newest) > 1 else "fresh"
