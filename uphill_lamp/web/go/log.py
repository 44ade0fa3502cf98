"""The log's forms: a use added, deleted, all of them out and in as CSV; and what it teaches, for the page."""

from __future__ import annotations

import json
import math
from collections.abc import Iterable

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.views.decorators.http import require_GET

from uphill_lamp.core.document import Refused
from uphill_lamp.core.document.patch import replace
from uphill_lamp.core.session import learning
from uphill_lamp.core.session.log import APART, HEAD, MOST_BYTES, MOST_WRONG, rows_of, use_of, uses_of
from uphill_lamp.web.answers import csv_file, posted
from uphill_lamp.web.go import views
from uphill_lamp.web.go.models import MOST_KEPT, Use
from uphill_lamp.web.go.sheet import address
from uphill_lamp.web.setups import flows
from uphill_lamp.web.setups.documents import appraised
from uphill_lamp.web.setups.models import Setup
from uphill_lamp.web.setups.rows import STALE, setup_of

MOST_REFUSED = 40
MOST_LINES, MOST_LINE_S, MOST_TYPED = 60, 3600.0, 2000


@posted("go", "setup_id")
def add(request: HttpRequest, setup_id: int) -> HttpResponse:
    """A use, as it was told in ten seconds."""
    setup = setup_of(setup_id)
    typed = {name: request.POST.get(name, "")[:MOST_TYPED] for name in HEAD} | {
        name: APART.join(request.POST.getlist(name)[:MOST_WRONG]) for name in ("wrong", "unused")
    }
    try:
        use = use_of(typed)
    except Refused as refused:
        words = "; ".join(f"{fault.path}: found {fault.found}; expected {fault.expected}" for fault in refused.faults)
        return views.shown(request, setup, f"Not saved. {words}.", 422)
    _kept(setup, [use], _seconds(request.POST.get("seconds", "")))
    return redirect(f"{address(setup)}#log")


def _seconds(text: str) -> dict[str, float]:
    """How long lines took, by id, as the page timed them; nothing where it is odd."""
    try:
        read = json.loads(text or "{}")
    except (ValueError, RecursionError):
        return {}
    pairs = list(read.items())[:MOST_LINES] if isinstance(read, dict) else []
    return {
        line[:80]: float(value)
        for line, value in pairs
        if isinstance(value, int | float) and math.isfinite(value) and 0 < value <= MOST_LINE_S
    }


@transaction.atomic
def _kept(setup: Setup, uses: Iterable[learning.Use], seconds: dict[str, float] | None = None) -> None:
    Use.objects.bulk_create(
        Use(
            setup=setup,
            day=use.day,
            well=use.well,
            wrong=list(use.wrong),
            retakes=use.retakes,
            ready_min=use.ready_min,
            words=use.words,
            seconds=seconds or {},
            unused=list(use.unused),
        )
        for use in uses
    )
    beyond = setup.uses.values_list("pk", flat=True)[MOST_KEPT:]
    Use.objects.filter(pk__in=list(beyond)).delete()


@posted("go", "setup_id")
def delete(request: HttpRequest, setup_id: int, use_id: int) -> HttpResponse:
    """One use, or with 0 all of them, on request."""
    setup = setup_of(setup_id)
    if use_id:
        get_object_or_404(setup.uses, pk=use_id).delete()
    else:
        setup.uses.all().delete()
    return redirect(f"{address(setup)}#log")


@require_GET
def as_table(request: HttpRequest, setup_id: int) -> HttpResponse:
    """The log as CSV, oldest first."""
    setup = setup_of(setup_id)
    return csv_file(rows_of(use.told() for use in reversed(setup.uses.all()[:MOST_KEPT])), "log.csv")


@posted("go", "setup_id")
def from_table(request: HttpRequest, setup_id: int) -> HttpResponse:
    """Uses from such a table; what is there already, to the same words, is not taken twice."""
    setup, upload = setup_of(setup_id), request.FILES.get("file")
    if upload is None:
        return views.shown(request, setup, "Choose a file first: a log as CSV.", 422)
    try:
        uses = uses_of(upload.read(MOST_BYTES + 1))
    except Refused as refused:
        fault = refused.faults[0]
        return views.shown(request, setup, f"Not taken. {fault.path or 'The file'}: found {fault.found}; expected {fault.expected}.", 422)
    known = {_as_written(use.told()) for use in setup.uses.all()}
    _kept(setup, [use for use in uses if _as_written(use) not in known])
    return redirect(f"{address(setup)}#log")


def _as_written(use: learning.Use) -> tuple[object, ...]:
    """A use as its row tells it: what else the app knows of it is not in the table."""
    return use.day, use.well, use.wrong, use.retakes, use.ready_min, use.unused, use.words


@posted("go", "setup_id")
def refuse(request: HttpRequest, setup_id: int) -> HttpResponse:
    """A wish that the log raised is not wanted; or it is wanted again."""
    setup = setup_of(setup_id)
    assert setup.head is not None
    _, appraisal = appraised(setup.head.document)
    wrong, again = request.POST.get("wrong", "")[:80], "again" in request.POST
    refused = [words for words in appraisal.setup.session.wishes_refused if learning.plain(words) != learning.plain(wrong)]
    refused = refused if again or not wrong.strip() else [*refused, wrong][-MOST_REFUSED:]
    try:
        flows.change(
            setup.pk,
            setup.head.pk,
            (replace("/session/wishes_refused", refused),),
            f"{'Wanted again' if again else 'Not wanted'}: {wrong}"[:200],
        )
    except flows.Stale:
        return views.shown(request, setup, STALE, 409)
    return redirect(reverse("steps", args=[setup_id]) if request.POST.get("then") == "steps" else f"{address(setup)}#log")
