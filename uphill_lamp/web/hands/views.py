"""The hands-on page: its picture, its figures, its moves."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from uphill_lamp.core.areas.frame import hands_on_view as hands
from uphill_lamp.core.document import Refused
from uphill_lamp.core.tape.quantities import Unreadable, read, unit_of, written
from uphill_lamp.drawings.hands import bench_picture
from uphill_lamp.web.bench import page
from uphill_lamp.web.setups import flows
from uphill_lamp.web.setups.documents import appraised
from uphill_lamp.web.setups.rows import STALE, setup_of

ORDINARY_THING_M = 0.08
LEAST_M, MOST_M = 0.005, 1.0


@require_http_methods(["GET", "POST"])
def hands_on(request: HttpRequest, setup_id: int) -> HttpResponse:
    """What the far side sees of hands and things; a move posted is made."""
    setup = setup_of(setup_id)
    assert setup.head is not None
    _, appraisal = appraised(setup.head.document)
    document, fault = appraisal.setup, ""
    if request.method == "POST":
        move = next((move for move in hands.moves(document) if move.id == request.POST.get("move")), None)
        try:
            if move is not None and request.POST.get("parent") == str(setup.head.pk):
                flows.change(setup.pk, setup.head.pk, move.patch, move.title)
                return redirect("hands", setup_id)
            fault = STALE
        except (Refused, flows.Stale) as refused:
            fault = f"It does not fit: {refused}"
    units = document.preferences.units
    typed, held, held_fault = request.GET.get("thing", ""), hands.held_up(document, ORDINARY_THING_M), ""
    try:
        if typed:
            thing_m = read("length", typed, units)
            if not LEAST_M <= thing_m <= MOST_M:
                raise Unreadable("expected 0.5 cm to 1 m")
            held = hands.held_up(document, thing_m)
    except Unreadable as unreadable:
        held_fault = f"{unreadable}."
    camera = hands.bench_camera(document)
    view = hands.bench_view(document, camera) if camera else None
    context = page.within_setup(request, setup, appraisal, page.stage_of("frame")) | {
        "camera": camera, "view": view, "picture": bench_picture(document, view) if view else None,
        "moves": list(hands.moves(document)), "held": held, "held_fault": held_fault, "units": units, "fault": fault,
        "typed": typed or written("length", ORDINARY_THING_M, units), "unit": unit_of("length", units),
    }  # fmt: skip
    return render(request, "hands/hands.html", context, status=409 if fault else 422 if held_fault else 200)
