"""What a place away from home takes, and five lines for a guest, for page and cards."""

from __future__ import annotations

from typing import Any

from django.utils import timezone

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.session import guest, travelling
from uphill_lamp.core.session.calling import next_call
from uphill_lamp.core.wiring.plan import planned
from uphill_lamp.web.go import taught
from uphill_lamp.web.setups.models import Setup


def away(setup: Setup, appraisal: Appraisal) -> dict[str, Any]:
    """What is carried to this place, and five lines for a guest."""
    trip = travelling.travel(appraisal.setup, planned(appraisal.setup), taught.idle(setup, appraisal))
    return {"trip": trip, "guest": guest.guest_card(appraisal.setup, next_call(appraisal.setup, timezone.now()))}
