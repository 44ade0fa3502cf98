"""What can be done with a setup from the list of all, and with the demo's."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods

from uphill_lamp.core.document import Refused
from uphill_lamp.web.answers import posted
from uphill_lamp.web.setups import deletion, flows
from uphill_lamp.web.setups.models import Setup


@require_http_methods(["GET", "POST"])
def reset_demo(request: HttpRequest) -> HttpResponse:
    """Asks what is to become of the demo setups; on the answer, brings those that are missing."""
    if request.method == "POST":
        flows.load_demo()
        return redirect("setups")
    demos = list(Setup.objects.exclude(demo=""))
    changed = [setup for setup in demos if flows.is_changed(setup)]
    return render(request, "setups/reset.html", {"changed": changed, "brought": len(flows.DEMO_FILES) - len(demos) + len(changed)})


@posted("setups")
def copy(request: HttpRequest, setup_id: int) -> HttpResponse:
    """A copy of a setup under the name typed, opened."""
    setup = get_object_or_404(Setup.objects.select_related("head"), pk=setup_id)
    try:
        made = flows.copy(setup, request.POST.get("name", "").strip()[:80])
    except Refused as refused:
        return _not_named(request, setup, refused)
    return redirect("bench-start", made.pk)


@posted("setups")
def rename(request: HttpRequest, setup_id: int) -> HttpResponse:
    """Another name for a setup."""
    setup = get_object_or_404(Setup.objects.select_related("head"), pk=setup_id)
    try:
        flows.rename(setup, request.POST.get("name", "").strip())
    except Refused as refused:
        return _not_named(request, setup, refused)
    return redirect("setups")


def _not_named(request: HttpRequest, setup: Setup, refused: Refused) -> HttpResponse:
    fault = refused.faults[0]
    page = {"title": "That cannot be its name", "words": f"“{setup.name}” stays as it is. Found {fault.found}; expected {fault.expected}."}
    return render(request, "lost.html", page, status=422)


@posted("setups")
def delete(request: HttpRequest, setup_id: int) -> HttpResponse:
    """A setup taken out of the list, for a day."""
    from uphill_lamp.web.go.phone import close_sheet  # late: most who come here have none open

    deletion.delete(get_object_or_404(Setup, pk=setup_id), timezone.now())
    close_sheet(setup_id)
    return redirect(f"/?deleted={setup_id}")


@posted("setups")
def bring_back(request: HttpRequest, setup_id: int) -> HttpResponse:
    """A deleted setup back in the list."""
    get_object_or_404(Setup.everything.exclude(deleted_at=None), pk=setup_id)
    deletion.bring_back(setup_id)
    return redirect("setups")
