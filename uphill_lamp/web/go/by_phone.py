"""The run sheet on a phone, from the page: opened, closed, and its ticks the same as at the desk."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect
from django.utils import timezone
from django.views.decorators.http import require_GET

from uphill_lamp.web.answers import posted
from uphill_lamp.web.go import phone, views
from uphill_lamp.web.go.phone_page import sheet_page
from uphill_lamp.web.go.sheet import address, sheet_of
from uphill_lamp.web.setups.rows import setup_of

NO_NETWORK = "This machine is on no network that a phone could share. Join one, or print the sheet."


@posted("go", "setup_id")
def open_here(request: HttpRequest, setup_id: int) -> HttpResponse:
    """Opens it until the call's end."""
    setup = setup_of(setup_id)
    context = sheet_of(setup)
    call = context["call"]
    if call.over:
        return views.shown(request, setup, "Not opened: the call is over. Set the next one first.", 422)
    try:
        sheet = phone.open_sheet(setup.pk, "", [row["line"].id for row in context["lines"]], call.ends, timezone.now)
    except phone.NoNetwork:
        return views.shown(request, setup, f"Not opened. {NO_NETWORK}", 422)
    phone.renewed(setup.pk, sheet_page(sheet_of(setup), sheet.until), sheet.lines)  # with the line that spares this phone
    return redirect(f"{address(setup)}#phone")


@posted("go", "setup_id")
def close_here(request: HttpRequest, setup_id: int) -> HttpResponse:
    """Closes it: from now on nothing answers there."""
    setup = setup_of(setup_id)
    phone.close_sheet(setup.pk)
    return redirect(f"{address(setup)}#phone")


@require_GET
def ticks(request: HttpRequest, setup_id: int) -> JsonResponse:
    """What is ticked on the open sheet; that none is open."""
    sheet = phone.opened(setup_of(setup_id).pk)
    return JsonResponse({"open": sheet is not None, "ticked": sorted(sheet.ticked) if sheet else []})


@posted("go", "setup_id")
def tick(request: HttpRequest, setup_id: int) -> JsonResponse:
    """A tick made at the desk."""
    sheet = phone.opened(setup_of(setup_id).pk)
    known = sheet is not None and sheet.tick(request.POST.get("line", ""), request.POST.get("on") == "yes")
    return JsonResponse({"open": sheet is not None}, status=200 if known or sheet is None else 400)
