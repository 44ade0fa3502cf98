"""What can be put into a setup, to choose from: what lies in the drawer first, then every kind by its sort."""

from __future__ import annotations

import math

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from uphill_lamp.core.describing.kinds import PART_WORDS, kinds_of
from uphill_lamp.core.describing.putting import from_drawer
from uphill_lamp.drawings.kinds import kind_sketch
from uphill_lamp.web.bench import page
from uphill_lamp.web.setups.documents import appraised
from uphill_lamp.web.setups.rows import setup_of

MOST_M = 15.0


@require_GET
def things(request: HttpRequest, setup_id: int, stage: str) -> HttpResponse:
    """The page, or the part of it that lies over the bench; with the place on the plan that was pressed, if one was."""
    shown = page.bench_stage(stage)
    if shown is None:
        raise Http404
    setup = setup_of(setup_id)
    assert setup.head is not None
    document = appraised(setup.head.document)[1].setup
    drawer = [(item, kind, kind_sketch(kind.key)) for item in document.kit if (kind := from_drawer(document, item.id)) is not None]
    groups = [(words, [(kind, kind_sketch(kind.key)) for kind in kinds_of(part)]) for part, words in PART_WORDS]
    x, y = (_metres(request.GET.get(key, "")) for key in ("x", "y"))
    context = {
        "setup": setup,
        "revision": setup.head,
        "stage": shown,
        "drawer": drawer,
        "groups": groups,
        "x": x if y else "",
        "y": y if x else "",
    }
    template = "bench/_things.html" if request.headers.get("X-Uphill-Fragment") == "1" else "bench/things.html"
    return render(request, template, context)


def _metres(text: str) -> str:
    """A place on the plan as it is posted on, or nothing if it is none."""
    try:
        value = float(text)
    except ValueError:
        return ""
    return f"{value:.3f}" if math.isfinite(value) and abs(value) <= MOST_M else ""
