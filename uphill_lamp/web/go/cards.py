"""What Go gives out: cards to print, the calendar, what a place away from home takes, a card for a guest."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from django.views.decorators.http import require_GET

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.session import guest, travelling
from uphill_lamp.core.session.calling import next_call
from uphill_lamp.core.session.run_sheet import run_sheet
from uphill_lamp.drawings.plan import plan as from_above
from uphill_lamp.web.go import taught
from uphill_lamp.web.go.away import away
from uphill_lamp.web.go.sheet import sheet_of
from uphill_lamp.web.prints import pdf
from uphill_lamp.web.prints.styling import styled
from uphill_lamp.web.setups.documents import appraised
from uphill_lamp.web.setups.models import Setup
from uphill_lamp.web.setups.rows import setup_of

CARDS = {"run-sheet": "Run sheet", "marks": "Marks", "settings": "Settings", "guest": "For a guest", "packing": "To pack"}
MOST_PLACES = 12


def _appraisal(setup: Setup) -> Appraisal:
    assert setup.head is not None
    return appraised(setup.head.document)[1]


@require_GET
def card(request: HttpRequest, setup_id: int, name: str) -> HttpResponse:
    """A card to print, of A5; marks with the drawing from above, one for each place of the home."""
    setup = setup_of(setup_id)
    spots = [setup, *_other_places(setup)] if name == "marks" else [setup]
    sheets = []
    for spot in spots:
        appraisal = _appraisal(spot)
        shared = sheet_of(spot, taught.learned_s(spot)) | away(spot, appraisal)
        sheets.append(shared | (_of_marks(appraisal) if name == "marks" else {}))
    return pdf.sheet(request, "prints/card.html", {"sheets": sheets, "setup": setup, "card": name, "title": CARDS[name]}, f"{name}.pdf")


def _of_marks(appraisal: Appraisal) -> dict[str, Any]:
    """The drawing from above, and whether one sits or stands there, and is away from home."""
    document = appraisal.setup
    return {
        "above": styled(from_above(appraisal, "place", "")),
        "posture": f", {document.presenter.posture}{', away from home' if document.session.carried else ''}",
    }


def _other_places(setup: Setup) -> list[Setup]:
    """The other places of its home: sitting, standing, away."""
    if setup.home_id is None:
        return []
    return list(
        Setup.objects.select_related("head").filter(home_id=setup.home_id, head__isnull=False).exclude(pk=setup.pk)[: MOST_PLACES - 1]
    )


@require_GET
def calendar(request: HttpRequest, setup_id: int) -> HttpResponse:
    """The next call with its alarms, for a calendar."""
    from uphill_lamp.core.session.calendar import calendar_of  # late: no page needs its library

    setup = setup_of(setup_id)
    appraisal, now = _appraisal(setup), timezone.now()
    data = calendar_of(appraisal.setup, next_call(appraisal.setup, now), run_sheet(appraisal), f"setup-{setup.pk}", now)
    return _file(data, "text/calendar", "call.ics")


@require_GET
def as_text(request: HttpRequest, setup_id: int, name: str) -> HttpResponse:
    """The card for a guest, or what to pack, as plain text to send on."""
    setup = setup_of(setup_id)
    there = away(setup, _appraisal(setup))
    text = guest.text_of(there["guest"], setup.name) if name == "guest" else travelling.text_of(there["trip"])
    return _file(text.encode(), "text/plain", f"{name}.txt")


def _file(data: bytes, kind: str, name: str) -> HttpResponse:
    answer = HttpResponse(data, content_type=f"{kind}; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="{name}"'
    return answer
