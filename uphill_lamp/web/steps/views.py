"""The page of steps: worked out, wished for, tried, done."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Mapping
from functools import wraps
from typing import Any

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_GET

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.areas.registry import keys
from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.document import Refused
from uphill_lamp.core.document.faults import Fault
from uphill_lamp.core.document.patch import Patch, replace
from uphill_lamp.core.scene.wording import plain_sum
from uphill_lamp.core.steps.ladder import Ladder
from uphill_lamp.core.steps.rungs import plan_name
from uphill_lamp.core.steps.shopping import shopping_list
from uphill_lamp.drawings.hill import hill
from uphill_lamp.web.answers import csv_file, posted
from uphill_lamp.web.bench import page as bench
from uphill_lamp.web.catalogue.flows import stamp
from uphill_lamp.web.go import taught
from uphill_lamp.web.prints.styling import styled
from uphill_lamp.web.setups import flows
from uphill_lamp.web.setups.documents import appraised
from uphill_lamp.web.setups.models import Setup
from uphill_lamp.web.setups.rows import STALE, setup_of
from uphill_lamp.web.steps import page
from uphill_lamp.web.steps.work import Job, job_for, reached

WAIT_S = 0.4  # a ladder that is ready so soon is shown at once


def _rows(setup_id: int) -> tuple[Setup, str, Appraisal]:
    setup = setup_of(setup_id)
    assert setup.head is not None
    return setup, *appraised(setup.head.document)


def job_of(setup: Setup, appraisal: Appraisal, again: bool = False) -> Job:
    """The setup's steps, being worked out or there."""
    return job_for(appraisal, page.limit_of(appraisal.setup.preferences.budget), stamp(), again, setup.pk)


@require_GET
def steps(request: HttpRequest, setup_id: int) -> HttpResponse:
    """The page; the ladder is begun, and shown when it is there."""
    return _shown(request, setup_id)


def _shown(
    request: HttpRequest, setup_id: int, fault: str = "", status: int = 200, typed: dict[str, str] | None = None, field: str = ""
) -> HttpResponse:
    """The page; a ``fault`` of one ``field`` stands beside it with what was typed there, any other at the top."""
    setup, digest, appraisal = _rows(setup_id)
    job = job_of(setup, appraisal)
    job.wait(WAIT_S)
    weights = {"weights": page.weights_of(appraisal, typed or {})}
    context = (
        weights | page.ladder_context(setup, digest, appraisal, job) | bench.within_setup(request, setup, appraisal, bench.STEPS, own=True)
    )
    more = {
        "fault": fault, "field": field, "typed": typed or {}, "wishes": appraisal.setup.preferences,
        "worth": plain_sum(appraisal.setup.preferences.money_per_point),
        "known_currency": catalogue().knows(appraisal.setup.preferences.currency),
        "raised": taught.raised_at(setup, appraisal, job.ladder.actions if job.ladder else ()),
    }  # fmt: skip
    return render(request, "steps/steps.html", context | more | page.voice_of(appraisal), status=status)


@require_GET
def progress(request: HttpRequest, setup_id: int) -> HttpResponse:
    """How far the ladder is, for the page that waits for it; 204 once it is there, or stopped."""
    setup, _, appraisal = _rows(setup_id)
    job = job_of(setup, appraisal)
    if not job.running:
        return HttpResponse(status=204)
    return render(request, "steps/_progress.html", {"job": job, "setup": {"pk": setup_id}})


@posted("steps", "setup_id")
def stop(request: HttpRequest, setup_id: int) -> HttpResponse:
    """The ladder is no longer wanted; or it is wanted after all."""
    setup, _, appraisal = _rows(setup_id)
    again = bool(request.POST.get("again"))
    job = job_of(setup, appraisal, again)
    if not again:
        job.stop()
        job.wait(2.0)
    then = request.POST.get("then", "")
    return redirect(
        then
        if then.startswith(f"/setups/{setup_id}/") and url_has_allowed_host_and_scheme(then, None)
        else reverse("steps", args=[setup_id])
    )


@posted("steps", "setup_id")
def wish(request: HttpRequest, setup_id: int) -> HttpResponse:
    """What may be spent, what counts, what is never or in any case wanted: a change of the setup's preferences."""
    setup, _, appraisal = _rows(setup_id)
    typed = {name: request.POST.get(name, "")[:40] for name in ("budget", "money_per_point", *keys())}
    try:
        patch, words = _wished(setup, appraisal, request)
        flows.change(setup.pk, int(request.POST.get("parent") or 0), patch, words)
    except Refused as refused:
        fault = refused.faults[0]
        field = fault.path.strip("/")
        beside = field if field in typed else ""
        return _shown(request, setup_id, f"Not saved: {'type' if beside else 'expected'} {fault.expected}.", 422, typed, beside)
    except (flows.Stale, ValueError):
        return _shown(request, setup_id, STALE, 409, typed)
    return redirect("steps", setup_id)


def _wished(setup: Setup, appraisal: Appraisal, request: HttpRequest) -> tuple[Patch, str]:
    wishes, form = appraisal.setup.preferences, request.POST
    currency = wishes.currency
    if "budget" in form:
        budget = _money(form, "budget", currency)
        return (replace("/preferences/budget", budget),), f"Budget: {budget:g} {currency}"
    if "money_per_point" in form:
        most = _money(form, "money_per_point", currency)
        return (replace("/preferences/money_per_point", most),), f"A point is worth {most:g} {currency}"
    if any(area in form for area in keys()):
        weights = {area: _money(form, area, currency) for area in keys()}
        return tuple(replace(f"/preferences/weights/{area}", value) for area, value in weights.items()), "How much each area counts"
    for kind, words in (("never", "Left out: "), ("must", "Always included: "), ("neither", "Only if worth it: ")):
        if kind in form:
            name = form[kind]
            kept = {other: [wish for wish in getattr(wishes, other) if wish != name] for other in ("never", "must")}
            if kind != "neither":
                kept[kind].append(name)
            title = _step_title(setup, appraisal, name) if kind != "neither" else name
            return tuple(replace(f"/preferences/{other}", names) for other, names in kept.items()), words + title
    raise Refused([Fault("", "nothing", "a budget, weights, or a step")])


def _step_title(setup: Setup, appraisal: Appraisal, name: str) -> str:
    """What a step that is weighed now is called.

    Raises:
        Refused: for any other name, and while no steps are there.
    """
    job = job_of(setup, appraisal)
    job.wait(WAIT_S)
    weighed = [*job.ladder.actions.values(), *(out.action for out in job.ladder.left_out)] if job.ladder else []
    title = next((action.title for action in weighed if action.id == name), None)
    if title is None:
        raise Refused([Fault("/step", repr(name)[:60], "one of the steps that are weighed on this page")])
    return title


MOST_MONEY = 100_000
SIGNS = {"£": ("GBP",), "€": ("EUR",), "$": ("USD", "CAD", "AUD")}
MONEY = re.compile(r"([£€$]|[A-Za-z]{3})?\s*(\d+(?:[.,]\d+)?|[.,]\d+)\s*([£€$]|[A-Za-z]{3})?")


def _money(form: Mapping[str, str], name: str, currency: str) -> float:
    """An amount as people write it, with or without the sign or the letters of the setup's currency.

    Raises:
        Refused: for anything else, with the field's name as its path.
    """
    text = form.get(name, "")
    amount = MONEY.fullmatch(text.strip())
    value = float(amount[2].replace(",", ".")) if amount else math.nan
    if not 0 <= value <= MOST_MONEY:
        raise Refused([Fault(f"/{name}", repr(text)[:40], f"an amount from 0 to {MOST_MONEY:,}, such as 60".replace(",", " ", 1))])
    for sign in filter(None, (amount[1], amount[3]) if amount else ()):
        if currency not in SIGNS.get(sign, (sign.upper(),)):
            raise Refused([Fault(f"/{name}", repr(text)[:40], f"an amount in {currency}, the currency of this setup")])
    return value


def waiting(request: HttpRequest, setup: Setup, appraisal: Appraisal, job: Job) -> HttpResponse:
    """For what needs steps that are not there yet: that they are being worked out, how far they are, and the way there; or what became of
    them. Nobody waits for them with a thread of the server."""
    given_up = bool(job.stopped or job.failed)  # one that has just come to its end is there at the next asking
    context = bench.within_setup(request, setup, appraisal, bench.STEPS) | {
        "job": job,
        "given_up": given_up,
        "then": request.get_full_path(),
    }
    answer = render(request, "steps/waiting.html", context, status=503 if given_up else 202)
    answer["Retry-After"] = "2"
    return answer


def with_steps(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
    """For views that show a setup's steps: called with setup, appraisal and ladder once they are there."""

    @wraps(view)
    def answer(request: HttpRequest, setup_id: int, **named: Any) -> HttpResponse:
        setup, _, appraisal = _rows(setup_id)
        job = job_of(setup, appraisal)
        job.wait(WAIT_S)
        if job.ladder is None:
            return waiting(request, setup, appraisal, job)
        return view(request, setup, appraisal, job.ladder, **named)

    return answer


def _number(ladder: Ladder, text: str) -> int:
    number = int(text) if text.isdigit() and len(text) < 4 else 0
    if not 1 <= number <= len(ladder.rungs):
        raise Http404
    return number - 1


@posted("steps", "setup_id")
@with_steps
def do(request: HttpRequest, setup: Setup, appraisal: Appraisal, ladder: Ladder) -> HttpResponse:
    """A rung, or its way up to a step, done: one revision that can be undone."""
    setup_id = setup.pk
    assert setup.head is not None
    if request.POST.get("parent") != str(setup.head.pk):
        return _shown(request, setup_id, STALE, 409)
    number = _number(ladder, request.POST.get("rung", ""))
    rung = ladder.rungs[number]
    patch = tuple(operation for action in rung.chosen for operation in action.patch)
    words = f"{plan_name(rung.cost, ladder.currency)}: " + "; ".join(action.title for action in rung.chosen)
    only = request.POST.get("step", "")
    if only:
        step = next((step for step in ladder.rungs[0].steps if step.action.id == only), None)
        if step is None or step.action.needs:
            raise Http404
        patch, words = step.action.patch, step.action.title
    try:
        flows.change(setup.pk, setup.head.pk, patch, words)
    except (Refused, flows.Stale) as refused:
        return _shown(request, setup_id, f"Not done: {refused}", 422)
    return redirect("steps", setup_id)


@require_GET
@with_steps
def trying(request: HttpRequest, setup: Setup, appraisal: Appraisal, ladder: Ladder, number: str, stage: str) -> HttpResponse:
    """The bench as a rung would leave it: looked at and listened to, not yet done."""
    if bench.bench_stage(stage) is None:
        raise Http404
    which = _number(ladder, number)
    digest, after = reached(appraisal, ladder, which)
    assert setup.head is not None
    picked = bench.first_in_hand(after, stage)
    context = bench.context(setup, setup.head, digest, after, stage, picked)
    more = {
        "rung": ladder.rungs[which],
        "number": which + 1,
        "was": appraisal,
        "stages_tried": [stage for stage in bench.stages() if stage.is_bench],
    }
    sounds = page.heard(appraisal, setup.head.digest, ladder, [which]) if stage == "sound" else []
    return render(request, "steps/trying.html", context | more | {"heard": sounds} | page.voice_of(after))


@require_GET
@with_steps
def shopping(request: HttpRequest, setup: Setup, appraisal: Appraisal, ladder: Ladder, number: str) -> HttpResponse:
    """What a rung asks to buy: a page to print, or CSV."""
    which = _number(ladder, number)
    rows = shopping_list(ladder.rungs[which].chosen, ladder.currency)
    if request.GET.get("as") == "csv":
        table: list[list[object]] = [["what", "how many", "price each", "sum", "currency", "price of", "for", "mind"]]
        table += [
            [
                row.name,
                row.count,
                f"{row.price:g}",
                f"{row.amount:g}",
                ladder.currency,
                row.priced_on,
                "; ".join(row.used_for),
                " ".join(row.cautions),
            ]
            for row in rows
        ]
        return csv_file(table, "shopping-list.csv")
    total = sum(row.amount for row in rows)
    context = bench.within_setup(request, setup, appraisal, bench.STEPS) | {
        "rows": rows,
        "total": total,
        "ladder": ladder,
        "number": which + 1,
        "rung": ladder.rungs[which],
    }
    return render(request, "steps/shopping.html", context)


@require_GET
@with_steps
def as_table(request: HttpRequest, setup: Setup, appraisal: Appraisal, ladder: Ladder) -> HttpResponse:
    """The ladder as CSV: a line for each step."""
    table: list[list[Any]] = [
        ["rung", "step", "what", "cost", "currency", "gain", "score after", "bought at once", "paid walking", "worth it", "no longer used"]
    ]
    for number, rung in enumerate(ladder.rungs, start=1):
        for order, step in enumerate(rung.steps, start=1):
            table.append([number, order, step.action.title, f"{step.action.amount:g}", ladder.currency, f"{step.gain:.1f}",
            f"{step.score:.1f}", f"{rung.cost:g}",
                          f"{rung.paid:g}", "yes" if rung.worth_it else "no", "; ".join(replaced.title for replaced in step.replaces)])  # fmt: skip
    return csv_file(table, "ladder.csv")


@require_GET
@with_steps
def as_drawing(request: HttpRequest, setup: Setup, appraisal: Appraisal, ladder: Ladder) -> HttpResponse:
    """The hill as an SVG file of its own."""
    answer = HttpResponse(
        styled(hill(ladder, appraisal.setup.preferences.budget, ladder.limit)), content_type="image/svg+xml; charset=utf-8"
    )
    answer["Content-Disposition"] = 'attachment; filename="ladder.svg"'
    return answer
