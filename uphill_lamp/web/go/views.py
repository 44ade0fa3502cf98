"""The page Go: the run sheet counted back from the next call, marks, settings, figures; what is so around the call is entered here."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse, QueryDict
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_GET

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.document import Refused, read_setup
from uphill_lamp.core.document.patch import replace
from uphill_lamp.core.document.setup import Setup as Document
from uphill_lamp.core.judging import whole_score
from uphill_lamp.core.readiness.budgets import better_without_picture, line_moves
from uphill_lamp.core.readiness.counted import AREA, readiness
from uphill_lamp.core.session.calling import at_once, next_call
from uphill_lamp.web.answers import posted
from uphill_lamp.web.bench import page
from uphill_lamp.web.check.views import OPEN_POLICY
from uphill_lamp.web.go import phone, phone_page, same, taught, typed
from uphill_lamp.web.go.away import away
from uphill_lamp.web.go.sheet import sheet_of
from uphill_lamp.web.setups import flows
from uphill_lamp.web.setups.documents import appraised
from uphill_lamp.web.setups.models import Setup
from uphill_lamp.web.setups.rows import STALE, setup_of

MOST_BESIDE = 100  # setups whose calls are looked at for one at the same time


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
    digest, appraisal = appraised(setup.head.document)
    document, wrong = appraisal.setup, faults or {}
    context = sheet_of(setup, taught.learned_s(setup)) | taught.page_of(setup, appraisal) | same.last_time(setup, appraisal, digest) | {
        "fault": fault, "figures": list(typed.figures(document, form, wrong)), "switches": typed.switches(document, form),
        "devices": list(typed.rows(document, form, wrong)), "stays": typed.STAYS, "codec": form.get("codec") if form is not None else document.session.codec,
        "line_moves": line_moves(document), "no_picture": better_without_picture(document), "open_form": form is not None,
        "beside": _beside(setup, document), **_whole(appraisal),
    }  # fmt: skip
    context |= typed.words(document, form, wrong) | phone_page.page_of(phone.opened(setup.pk), context) | away(setup, appraisal)
    answer = render(request, "go/go.html", context | page.within_setup(request, setup, appraisal, page.GO, own=True), status=status)
    answer.headers["Permissions-Policy"] = OPEN_POLICY  # for the last good picture over today's
    return answer


def _whole(appraisal: Appraisal) -> dict[str, float | None]:
    """The whole score with readiness in it and without, whichever is wished."""
    others = [area for area in appraisal.areas if area.area != AREA]
    there = readiness(appraisal.setup, appraisal.measures)
    return {"whole_with": whole_score([*others, there]) if there else None, "whole_without": whole_score(others)}


def _beside(setup: Setup, document: Document) -> list[dict[str, Any]]:
    """Other setups whose next call is on at the same time."""
    now, found_there = timezone.now(), []
    call = next_call(document, now)
    others = Setup.objects.select_related("head").filter(head__isnull=False).exclude(pk=setup.pk).order_by("-touched_at")[:MOST_BESIDE]
    for other in others if not call.over else ():
        assert other.head is not None
        theirs = next_call(read_setup(other.head.document.encode()), now)
        if at_once(call, theirs):
            found_there.append({"setup": other, "call": theirs})
    return found_there


@posted("go", "setup_id")
def keep(request: HttpRequest, setup_id: int) -> HttpResponse:
    """What is so around the call, into the setup."""
    setup = setup_of(setup_id)
    assert setup.head is not None
    _, appraisal = appraised(setup.head.document)
    try:
        parent = int(request.POST.get("parent") or 0)
        patch = (
            replace("/session", typed.session_of(appraisal.setup, request.POST)),
            replace("/call/falls_out", typed.days_of(request.POST)),
        )
        flows.change(setup.pk, parent, patch, "What is so around the call")
    except (flows.Stale, ValueError) as wrong:
        if isinstance(wrong, Refused):
            faults = typed.by_field(wrong)
            beside = typed.beside_fields(appraisal.setup, faults)
            return shown(request, setup, f"Not saved. {beside or 'Look at what is marked below.'}", 422, request.POST, faults)
        return shown(request, setup, STALE, 409, request.POST)
    return redirect("go", setup_id)
