"""All setups on one page; and the pages for what is not there. Nothing of the computation is imported for them."""

from __future__ import annotations

from django.core.paginator import Paginator
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils import timezone
from django.views.decorators.http import require_GET

from uphill_lamp.web.setups.deletion import purge
from uphill_lamp.web.setups.judged import judged
from uphill_lamp.web.setups.models import Setup

CARDS_A_PAGE = 24
MANY = 8  # from more of them on they can be looked for and sorted
SORTS = {
    "made": ("id", "as they were made"),
    "newest": ("-touched_at", "last changed first"),
    "name": ("name", "by name"),
    "score": ("head__score", "weakest first"),
}


@require_GET
def all_setups(request: HttpRequest) -> HttpResponse:
    """Cards of every setup with its far-side picture, score and worst finding; what was deleted today."""
    purge(timezone.now())
    find = request.GET.get("find", "").strip()[:80]
    sort = request.GET.get("sort", "made")
    sort = sort if sort in SORTS else "made"
    there = Setup.objects.select_related("head").filter(head__isnull=False, name__icontains=find).order_by(SORTS[sort][0], "id")
    page = Paginator(there, CARDS_A_PAGE).get_page(request.GET.get("page"))
    cards = [{"setup": setup, "digest": setup.head.digest, "judged": judged(setup.head)} for setup in page if setup.head is not None]
    gone = Setup.everything.exclude(deleted_at=None).order_by("-deleted_at")
    just = gone.filter(pk=int(text)).first() if (text := request.GET.get("deleted", "")).isdecimal() and len(text) < 18 else None
    return render(
        request,
        "setups/index.html",
        {
            "cards": cards,
            "gone": gone,
            "just_gone": just,
            "page": page,
            "find": find,
            "many": find or page.paginator.count > MANY,
            "sort": sort,
            "sorts": [(key, words) for key, (_, words) in SORTS.items()],
        },
    )


def not_here(request: HttpRequest, exception: Exception) -> HttpResponse:
    """For an address that leads nowhere."""
    return render(
        request,
        "lost.html",
        {"title": "There is nothing at this address", "words": "It may have been deleted, or the address was cut short."},
        status=404,
    )


def not_understood(request: HttpRequest, exception: Exception) -> HttpResponse:
    """For what no page of the app sends."""
    page = {
        "title": "That was not understood",
        "words": "It is not what a page of this app sends: too many fields, or in a script that is not read. Nothing was changed.",
    }
    return render(request, "lost.html", page, status=400)


def went_wrong(request: HttpRequest) -> HttpResponse:
    """For what should never happen."""
    return render(
        request,
        "lost.html",
        {"title": "Something of ours went wrong", "words": "Every change answered before this one is kept. Go back and try again."},
        status=500,
    )
