"""The page of the wiring, its labels, and the whole plan to print."""

from __future__ import annotations

import math
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.document import Refused
from uphill_lamp.core.document.patch import replace
from uphill_lamp.core.places.marks import marks
from uphill_lamp.core.steps.ladder import Ladder
from uphill_lamp.core.wiring.free import SYSTEM_FEATURES, computer_load
from uphill_lamp.core.wiring.packing import packing_list
from uphill_lamp.core.wiring.plan import Plan, links_of, planned
from uphill_lamp.drawings.alt import alt_text
from uphill_lamp.drawings.chain import chain
from uphill_lamp.drawings.plan import plan as from_above
from uphill_lamp.drawings.side import side
from uphill_lamp.web.answers import posted
from uphill_lamp.web.bench import page as bench
from uphill_lamp.web.prints import pdf
from uphill_lamp.web.prints.styling import styled
from uphill_lamp.web.setups import flows
from uphill_lamp.web.setups.documents import appraised
from uphill_lamp.web.setups.models import Setup
from uphill_lamp.web.setups.rows import setup_of
from uphill_lamp.web.steps.views import with_steps

MOST_M = 50.0
PRINT_PX = 640


def _rows(setup_id: int) -> tuple[Setup, str, Appraisal]:
    setup = setup_of(setup_id)
    assert setup.head is not None
    return setup, *appraised(setup.head.document)


@require_GET
def wiring(request: HttpRequest, setup_id: int) -> HttpResponse:
    """The chain, what is wrong with it, power, free ways in, what to pack."""
    return _shown(request, setup_id)


def _shown(
    request: HttpRequest, setup_id: int, fault: str = "", status: int = 200, typed: dict[str, str] | None = None, cable: str = ""
) -> HttpResponse:
    """The page; a fault in a ``cable``'s length stands beside it, with what was typed for this one and the others."""
    setup, _, appraisal = _rows(setup_id)
    document, plan = appraisal.setup, planned(appraisal.setup)
    features = [(feature, computer_load(document, (feature.id,))) for feature in SYSTEM_FEATURES]
    context = {
        "plan": plan, "drawn": chain(plan, document.computer.kind.capitalize()), "features": features, "load": computer_load(document),
        "packing": packing_list(document, plan),
        "fault": fault, "cable_fault": cable, "lengths": _lengths(plan, typed or {}), "units": document.preferences.units,
    }  # fmt: skip
    return render(request, "wiring/wiring.html", context | bench.within_setup(request, setup, appraisal, bench.STEPS), status=status)


@posted("wiring", "setup_id")
def kept(request: HttpRequest, setup_id: int) -> HttpResponse:
    """The plan's cables with the lengths typed, kept in the setup."""
    setup, _, appraisal = _rows(setup_id)
    typed = {key: str(value)[:12] for key, value in request.POST.items() if key.startswith("length-")}
    links = []
    for link in links_of(planned(appraisal.setup)):
        text = request.POST.get(f"length-{link.id}", "").strip()
        length_m = _metres(text) if text else link.length_m
        if length_m is None:
            fault = f"Not saved: type a length from 0 to {MOST_M:g} m, such as 2 or 1.5."
            return _shown(request, setup_id, fault, 422, typed, link.id)
        links.append(link.model_copy(update={"length_m": length_m}).model_dump(mode="json"))
    try:
        flows.change(setup.pk, int(request.POST.get("parent") or 0), (replace("/chain/links", links),), "Cables and their lengths")
    except (flows.Stale, ValueError):
        return _shown(
            request, setup_id, "The setup has changed since this page was shown. This is how it stands now; nothing was kept.", 409, typed
        )
    except Refused as refused:
        return _shown(request, setup_id, f"Not saved: {refused}", 422, typed)
    return redirect("wiring", setup_id)


def _lengths(plan: Plan, typed: dict[str, str]) -> list[tuple[Any, str, str]]:
    """Cables, each with the id of its link and what was typed for its length and not taken."""
    return [(cable, f"cable-{cable.number}", typed.get(f"length-cable-{cable.number}", "")) for cable in plan.cables]


def _metres(text: str) -> float | None:
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        return None
    return value if math.isfinite(value) and 0 <= value <= MOST_M else None


@require_GET
def labels(request: HttpRequest, setup_id: int) -> HttpResponse:
    """A label for each end of each cable, as a sheet to cut up."""
    setup, _, appraisal = _rows(setup_id)
    plan = planned(appraisal.setup)
    ends: list[dict[str, Any]] = []
    for cable in plan.cables:
        ends += [{"cable": cable, "here": cable.begin, "there": cable.end}, {"cable": cable, "here": cable.end, "there": cable.begin}]
    return pdf.sheet(request, "prints/labels.html", {"setup": setup, "ends": ends}, "cable-labels.pdf")


@require_GET
def as_drawing(request: HttpRequest, setup_id: int) -> HttpResponse:
    """The chain as an SVG file."""
    _, _, appraisal = _rows(setup_id)
    answer = HttpResponse(
        styled(chain(planned(appraisal.setup), appraisal.setup.computer.kind.capitalize())), content_type="image/svg+xml; charset=utf-8"
    )
    answer["Content-Disposition"] = 'attachment; filename="wiring.svg"'
    return answer


@require_GET
@with_steps
def whole_plan(request: HttpRequest, setup: Setup, appraisal: Appraisal, ladder: Ladder) -> HttpResponse:
    """The plan to print: picture, drawings, tape marks, steps, wiring, cautions."""
    from uphill_lamp.drawings.far_side.render import columns_of, rendered

    document, plan = appraisal.setup, planned(appraisal.setup)
    jpeg = rendered(appraisal.lit_scene, appraisal.metered, columns_of(document, PRINT_PX)).jpeg()
    stop = ladder.rungs[: ladder.stop + 1]
    cautions = list(dict.fromkeys(caution for rung in stop for step in rung.steps for caution in step.action.cautions))
    context = {
        "setup": setup, "appraisal": appraisal, "picture": pdf.held(jpeg), "alt": alt_text(appraisal), "above": styled(from_above(appraisal, "place", "")),
        "side": styled(side(appraisal, "frame", "")), "marks": marks(document), "rungs": list(enumerate(stop, start=1)), "ladder": ladder, "cautions": cautions,
        "chain": styled(chain(plan, document.computer.kind.capitalize())), "plan": plan,
    }  # fmt: skip
    return pdf.sheet(request, "prints/plan.html", context, "plan.pdf")
