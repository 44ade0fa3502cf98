"""Place: spots ranked, added, chosen, compared."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET

from uphill_lamp.core.document import Refused
from uphill_lamp.core.places import compare as differences
from uphill_lamp.core.places import spots
from uphill_lamp.core.places.marks import marks
from uphill_lamp.drawings.alt import alt_text
from uphill_lamp.drawings.plan import plan
from uphill_lamp.web.answers import posted
from uphill_lamp.web.bench import page
from uphill_lamp.web.setups import flows
from uphill_lamp.web.setups.documents import appraised
from uphill_lamp.web.setups.models import Setup
from uphill_lamp.web.setups.rows import setup_of


def _card(setup: Setup) -> dict[str, Any]:
    assert setup.head is not None
    digest, appraisal = appraised(setup.head.document)
    return {
        "setup": setup, "digest": digest, "appraisal": appraisal, "alt": alt_text(appraisal), "facts": differences.facts(appraisal),
        "chosen": setup.home is not None and setup.home.chosen_id == setup.pk,
    }  # fmt: skip


@require_GET
def place(request: HttpRequest, setup_id: int) -> HttpResponse:
    """All spots of the home, best first."""
    return _shown(request, setup_of(setup_id))


def _shown(request: HttpRequest, setup: Setup, fault: str = "", name_fault: str = "", status: int = 200) -> HttpResponse:
    here = _card(setup)
    beside = Setup.objects.select_related("head", "home").filter(home_id=flows.home_of(setup).pk, head__isnull=False).exclude(pk=setup.pk)
    cards = sorted([here, *(_card(spot) for spot in beside)], key=lambda card: -card["appraisal"].score)
    appraisal = here["appraisal"]
    asked = [{"question": question, "chosen": request.POST.get(question.key, "")} for question in spots.QUESTIONS]
    context = page.within_setup(request, setup, appraisal, page.PLACE, own=True) | {
        "cards": cards, "asked": asked, "fault": fault, "name_fault": name_fault, "name": request.POST.get("name", ""),
        "marks": marks(appraisal.setup), "sway": differences.sway_words(appraisal), "plan": plan(appraisal, "place", ""),
    }  # fmt: skip
    return render(request, "places/place.html", context, status=status)


@posted("place", "setup_id")
def add(request: HttpRequest, setup_id: int) -> HttpResponse:
    """Another spot by its answers."""
    setup = setup_of(setup_id)
    name = request.POST.get("name", "").strip() or "Another place"
    try:
        made = flows.add_spot(setup, lambda document, free: spots.elsewhere(document, request.POST.dict(), free), name)
    except Refused as refused:
        fault = refused.faults[0]
        words = f"Found {fault.found}; expected {fault.expected}."
        named = fault.path == "/name"
        return _shown(request, setup, "" if named else words, words if named else "", status=422)
    return redirect("place", made.pk)


@posted("place", "setup_id")
def posture(request: HttpRequest, setup_id: int) -> HttpResponse:
    """The same spot standing, or sitting."""
    setup = setup_of(setup_id)
    assert setup.head is not None
    _, appraisal = appraised(setup.head.document)
    word = "standing" if appraisal.setup.presenter.posture == "sitting" else "sitting"
    try:
        made = flows.add_spot(setup, spots.other_posture, f"{appraisal.setup.name[:60]}, {word}")
    except Refused as refused:
        return _shown(
            request, setup, f"It cannot be tried {word} here: {refused.faults[0].found}; expected {refused.faults[0].expected}.", status=422
        )
    return redirect("compare", setup.pk, made.pk)


@posted("place", "setup_id")
def choose(request: HttpRequest, setup_id: int) -> HttpResponse:
    """The spot to hold the calls at."""
    setup = setup_of(setup_id)
    flows.choose(setup)
    return redirect("place", setup.pk)


@require_GET
def compare(request: HttpRequest, setup_id: int, other_id: int) -> HttpResponse:
    """Two spots side by side, figure by figure."""
    pair = [_card(setup_of(setup_id)), _card(setup_of(other_id))]
    for card in pair:
        card |= {"marks": marks(card["appraisal"].setup), "sway": differences.sway_words(card["appraisal"])}
    first, second = pair
    rows = differences.rows(first["appraisal"], second["appraisal"])
    context = page.within_setup(request, first["setup"], first["appraisal"], page.PLACE) | {
        "pair": pair,
        "first": first,
        "second": second,
        "rows": rows,
        "verdict": _verdict(first, second),
    }
    return render(request, "places/compare.html", context)


def _verdict(first: dict[str, Any], second: dict[str, Any]) -> str:
    step = second["appraisal"].score - first["appraisal"].score
    if abs(step) < 1:
        return "Both are worth about the same."
    better = second if step > 0 else first
    return f"{better['appraisal'].setup.name} is better by {abs(step):.0f} points of 100."
