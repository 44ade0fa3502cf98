"""The history of a setup as a list, two of its states side by side, and the way back to one."""

from __future__ import annotations

from typing import Any

from django.core.paginator import Paginator
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET

from uphill_lamp.core.places import compare as differences
from uphill_lamp.drawings.alt import alt_text
from uphill_lamp.web.answers import posted
from uphill_lamp.web.bench import page
from uphill_lamp.web.setups import flows
from uphill_lamp.web.setups.documents import appraised
from uphill_lamp.web.setups.models import Revision, Setup
from uphill_lamp.web.setups.rows import STALE, setup_of

STATES_A_PAGE = 50


@require_GET
def past(request: HttpRequest, setup_id: int) -> HttpResponse:
    """What was done, the newest first."""
    return _shown(request, setup_id)


def _shown(request: HttpRequest, setup_id: int, fault: str = "", status: int = 200) -> HttpResponse:
    setup = setup_of(setup_id)
    assert setup.head is not None
    _, appraisal = appraised(setup.head.document)
    states = setup.revisions.order_by("-id").only("id", "words", "created_at", "score", "parent_id")
    part = Paginator(states, STATES_A_PAGE).get_page(request.GET.get("page"))
    context = {"states": part, "fault": fault, "way": _way(setup)}
    return render(request, "past/past.html", context | page.within_setup(request, setup, appraisal, page.PLACE), status=status)


def _way(setup: Setup) -> frozenset[int]:
    """The states on the way to the present one; the others were undone and left."""
    parents = dict(setup.revisions.values_list("id", "parent_id"))
    way: set[int] = set()
    at = setup.head_id
    while at is not None and at not in way:
        way.add(at)
        at = parents.get(at)
    return frozenset(way)


@require_GET
def beside(request: HttpRequest, setup_id: int, revision_id: int) -> HttpResponse:
    """An earlier state and the present one, figure by figure."""
    setup = setup_of(setup_id)
    then = get_object_or_404(Revision, pk=revision_id, setup=setup)
    assert setup.head is not None
    pair = [_card(then, "Then"), _card(setup.head, "Now")]
    first, second = (card["appraisal"] for card in pair)
    step = second.score - first.score
    verdict = (
        "Both are worth about the same."
        if abs(step) < 1
        else f"{'Now' if step > 0 else 'Then'} is better by {abs(step):.0f} points of 100."
    )
    context = {"pair": pair, "then": then, "rows": differences.rows(first, second), "verdict": verdict}
    return render(request, "past/beside.html", context | page.within_setup(request, setup, second, page.PLACE))


def _card(revision: Revision, name: str) -> dict[str, Any]:
    digest, appraisal = appraised(revision.document)
    return {"revision": revision, "digest": digest, "appraisal": appraisal, "alt": alt_text(appraisal), "name": name}


@posted("past", "setup_id")
def brought_back(request: HttpRequest, setup_id: int, revision_id: int) -> HttpResponse:
    """An earlier state as the newest one: what was done since stays in the history."""
    setup = setup_of(setup_id)
    then = get_object_or_404(Revision, pk=revision_id, setup=setup)
    try:
        flows.bring_back(setup_id, int(request.POST.get("parent") or 0), then)
    except (flows.Stale, ValueError):
        return _shown(request, setup_id, STALE, 409)
    return redirect("past", setup_id)
