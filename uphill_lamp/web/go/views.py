"""The page Go: the run sheet counted back from the next call, marks, settings, figures; what is so around the call is entered here."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.http import HttpRequest, HttpResponse, QueryDict
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_GET

from uphill_lamp.core.document import Refused
from uphill_lamp.core.document.patch import replace
from uphill_lamp.core.readiness.budgets import better_without_picture, budgets, is_grainy, line_moves
from uphill_lamp.core.session.calling import Next, next_call
from uphill_lamp.core.readiness.line import Line
from uphill_lamp.core.session.putting_back import to_put_back
from uphill_lamp.core.session.run_sheet import ready_min, run_sheet
from uphill_lamp.core.session.settings_card import settings
from uphill_lamp.web.answers import posted
from uphill_lamp.web.bench import page
from uphill_lamp.web.go import taught, typed
from uphill_lamp.web.prints import pdf
from uphill_lamp.web.setups import flows
from uphill_lamp.web.setups.documents import appraised
from uphill_lamp.web.setups.models import Setup
from uphill_lamp.web.setups.rows import STALE, setup_of

PLACES = {
    "room": "in the room", "home": "at home", "phones": "phones", "desk": "at the desk", "camera": "at the camera", "computer": "at the computer",
    "you": "yourself", "there": "in your place",
}  # fmt: skip
CARDS = {"run-sheet": "Run sheet", "marks": "Marks", "settings": "Settings"}


@require_GET
def go(request: HttpRequest, setup_id: int) -> HttpResponse:
    """The page."""
    return shown(request, setup_of(setup_id))


def shown(
    request: HttpRequest,
    setup: Setup,
    fault: str = "",
    status: int = 200,
    form: QueryDict | None = None,
    faults: dict[str, str] | None = None,
) -> HttpResponse:
    """The page, with what is wrong in what was sent and what was typed, if anything was."""
    assert setup.head is not None
    _, appraisal = appraised(setup.head.document)
    document, wrong = appraisal.setup, faults or {}
    context = _sheet(setup, taught.learned_s(setup)) | taught.page_of(setup, appraisal) | {
        "fault": fault, "figures": list(typed.figures(document, form, wrong)), "switches": typed.switches(document, form),
        "devices": list(typed.rows(document, form, wrong)), "stays": typed.STAYS, "codec": form.get("codec") if form is not None else document.session.codec,
        "line_moves": line_moves(document), "no_picture": better_without_picture(document), "open_form": bool(fault),
    }  # fmt: skip
    return render(request, "go/go.html", context | page.within_setup(request, setup, appraisal, page.GO, own=True), status=status)


def address(setup: Setup) -> str:
    """Where the page is."""
    return reverse("go", args=[setup.pk])


def _sheet(setup: Setup, learned_s: Mapping[str, float] | None = None) -> dict[str, Any]:
    """What page and cards share: the next call, the lines with their times, marks, settings, figures."""
    assert setup.head is not None
    _, appraisal = appraised(setup.head.document)
    call, lines = next_call(appraisal.setup, timezone.now()), run_sheet(appraisal, learned_s)
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


@posted("go", "setup_id")
def keep(request: HttpRequest, setup_id: int) -> HttpResponse:
    """What is so around the call, into the setup."""
    setup = setup_of(setup_id)
    assert setup.head is not None
    _, appraisal = appraised(setup.head.document)
    try:
        parent = int(request.POST.get("parent") or 0)
        flows.change(
            setup.pk, parent, (replace("/session", typed.session_of(appraisal.setup, request.POST)),), "What is so around the call"
        )
    except (flows.Stale, ValueError) as wrong:
        if isinstance(wrong, Refused):
            faults = typed.by_field(wrong)
            beside = typed.beside_fields(appraisal.setup, faults)
            return shown(request, setup, f"Not saved. {beside or 'Look at what is marked below.'}", 422, request.POST, faults)
        return shown(request, setup, STALE, 409, request.POST)
    return redirect("go", setup_id)


@require_GET
def card(request: HttpRequest, setup_id: int, name: str) -> HttpResponse:
    """A card to print, of A5."""
    setup = setup_of(setup_id)
    return pdf.sheet(request, "prints/card.html", _sheet(setup) | {"card": name, "title": CARDS[name]}, f"{name}.pdf")


@require_GET
def calendar(request: HttpRequest, setup_id: int) -> HttpResponse:
    """The next call with its alarms, for a calendar."""
    from uphill_lamp.core.session.calendar import calendar_of  # late: no page needs its library

    setup = setup_of(setup_id)
    assert setup.head is not None
    _, appraisal = appraised(setup.head.document)
    now = timezone.now()
    data = calendar_of(appraisal.setup, next_call(appraisal.setup, now), run_sheet(appraisal), f"setup-{setup.pk}", now)
    answer = HttpResponse(data, content_type="text/calendar; charset=utf-8")
    answer["Content-Disposition"] = 'attachment; filename="call.ics"'
    return answer
