"""What page, phone and cards share of a setup: its next call, the run sheet with its times, marks, settings, figures."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.urls import reverse
from django.utils import timezone

from uphill_lamp.core.readiness.budgets import budgets, is_grainy
from uphill_lamp.core.readiness.line import Line
from uphill_lamp.core.session.calling import Next, next_call
from uphill_lamp.core.session.putting_back import to_put_back
from uphill_lamp.core.session.run_sheet import ready_min, run_sheet
from uphill_lamp.core.session.settings_card import settings
from uphill_lamp.web.go.phone import opened
from uphill_lamp.web.setups.documents import appraised
from uphill_lamp.web.setups.models import Setup

PLACES = {
    "room": "in the room", "home": "at home", "phones": "phones", "desk": "at the desk", "camera": "at the camera", "computer": "at the computer",
    "you": "yourself", "there": "in your place",
}  # fmt: skip


def address(setup: Setup) -> str:
    """Where the page is."""
    return reverse("go", args=[setup.pk])


def sheet_of(setup: Setup, learned_s: Mapping[str, float] | None = None) -> dict[str, Any]:
    """What page and cards share: the next call, the lines with their times, marks, settings, figures."""
    assert setup.head is not None
    _, appraisal = appraised(setup.head.document)
    call, lines = next_call(appraisal.setup, timezone.now()), run_sheet(appraisal, learned_s, on_phone=opened(setup.pk) is not None)
    before = [line for line in lines if line.at_min < 0]
    return {
        "setup": setup, "call": call, "lines": [_told(line, call) for line in lines], "minutes": round(sum(line.seconds for line in before) / 60),
        "budgets": budgets(appraisal.setup, is_grainy(appraisal.measures), ready_min(lines)), "marks": to_put_back(appraisal), "settings": settings(appraisal),
        "document": appraisal.setup,
    }  # fmt: skip


def _told(line: Line, call: Next) -> dict[str, Any]:
    at = call.at(line.at_min)
    part = "before" if line.at_min < 0 else "at" if line.at_min < 1 else "after"
    return {"line": line, "at": at, "where": PLACES[line.where], "part": part, "day": at.date() != call.begins.date()}
