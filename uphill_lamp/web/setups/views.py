"""All setups on one page, and what can be done with each."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_POST

from uphill_lamp.web.setups import flows
from uphill_lamp.web.setups.documents import appraised
from uphill_lamp.web.setups.models import Setup


@require_GET
def all_setups(request: HttpRequest) -> HttpResponse:
    """Cards of every setup with its far-side picture, score and what holds it down most."""
    cards = []
    for setup in Setup.objects.select_related("head").filter(head__isnull=False):
        digest, appraisal = appraised(setup.head.document)  # type: ignore[union-attr]
        cards.append({"setup": setup, "digest": digest, "appraisal": appraisal, "worst": next(iter(appraisal.findings), None)})
    return render(request, "setups/index.html", {"cards": cards, "has_demo": any(card["setup"].demo for card in cards)})


@require_POST
def reset_demo(request: HttpRequest) -> HttpResponse:
    """The demo setups as they came."""
    flows.load_demo()
    return redirect("setups")


@require_POST
def copy(request: HttpRequest, setup_id: int) -> HttpResponse:
    """A copy of a setup, opened."""
    made = flows.copy(get_object_or_404(Setup.objects.select_related("head"), pk=setup_id))
    return redirect("bench-start", made.pk)


@require_POST
def delete(request: HttpRequest, setup_id: int) -> HttpResponse:
    """A setup and its revisions taken away."""
    get_object_or_404(Setup, pk=setup_id).delete()
    return redirect("setups")


def not_here(request: HttpRequest, exception: Exception) -> HttpResponse:
    """For an address that leads nowhere."""
    return render(
        request,
        "lost.html",
        {"title": "There is nothing at this address", "words": "It may have been deleted, or the address was cut short."},
        status=404,
    )


def went_wrong(request: HttpRequest) -> HttpResponse:
    """For what should never happen."""
    return render(
        request,
        "lost.html",
        {"title": "Something of ours went wrong", "words": "Every change answered before this one is kept. Go back and try again."},
        status=500,
    )
