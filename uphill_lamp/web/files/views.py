"""Setups in and out: import with every fault told, export, the schemas."""

from __future__ import annotations

from urllib.parse import quote

from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_http_methods

from uphill_lamp.core import report
from uphill_lamp.core.catalogue.kind import Kind
from uphill_lamp.core.document import Refused, read_setup, schema
from uphill_lamp.core.document.faults import Fault
from uphill_lamp.core.document.reading import MOST_BYTES
from uphill_lamp.core.field.light import ies
from uphill_lamp.core.measuring import figure
from uphill_lamp.core.steps.plans import plans_schema
from uphill_lamp.web.setups import flows
from uphill_lamp.web.setups.models import Setup
from uphill_lamp.web.setups.rows import setup_of


@require_http_methods(["GET", "POST"])
def files(request: HttpRequest) -> HttpResponse:
    """Files: open one, or save a setup as one. A file that is refused stores nothing."""
    faults: tuple[Fault, ...] = ()
    name = ""
    if request.method == "POST":
        upload = request.FILES.get("file")
        try:
            if upload is None:
                raise Refused([Fault("", "no file", "a setup file (*.uphill.json)")])
            name = upload.name or ""
            if (upload.size or 0) > MOST_BYTES:
                raise Refused([Fault("", f"a file of {(upload.size or 0) / 1e6:.1f} MB", f"{MOST_BYTES / 1e6:g} MB at most")])
            setup = flows.create(read_setup(upload.read()), f"Opened from {name}")
            return redirect("bench-start", setup.pk)
        except Refused as refused:
            faults = refused.faults
    context = {"faults": faults, "file_name": name, "setups": Setup.objects.all()}
    return render(request, "files/files.html", context, status=422 if faults else 200)


@require_GET
def export(request: HttpRequest, setup_id: int) -> HttpResponse:
    """The setup as a file."""
    setup = get_object_or_404(Setup.objects.select_related("head"), pk=setup_id)
    response = HttpResponse(setup.head.document, content_type="application/json; charset=utf-8")  # type: ignore[union-attr]
    plain = "".join(mark if mark.isascii() and mark.isalnum() else "-" for mark in setup.name.lower()).strip("-") or "setup"
    whole = quote(f"{setup.name}.uphill.json".replace("/", "-"))
    response["Content-Disposition"] = f"attachment; filename=\"{plain[:60]}.uphill.json\"; filename*=UTF-8''{whole}"
    return response


@require_http_methods(["GET", "POST"])
def photometry(request: HttpRequest, setup_id: int, light_id: str) -> HttpResponse:
    """A lamp's light as an IES file, or a measured one's put in its place; a file that is refused changes nothing."""
    row = setup_of(setup_id)
    assert row.head is not None
    lamp = next((light for light in read_setup(row.head.document.encode()).lights if light.id == light_id), None)
    if lamp is None:
        raise Http404
    if request.method == "GET":
        response = HttpResponse(ies.written_ies(lamp), content_type="text/plain; charset=us-ascii")
        response["Content-Disposition"] = f'attachment; filename="{lamp.id}.ies"'
        return response
    upload = request.FILES.get("file")
    faults: tuple[Fault, ...] = ()
    try:
        if upload is None:
            raise Refused([Fault("", "no file", "a photometric file (*.ies)")])
        if (upload.size or 0) > ies.MOST_BYTES:
            raise Refused([Fault("", f"a file of {(upload.size or 0) / 1e6:.1f} MB", f"{ies.MOST_BYTES / 1e6:g} MB at most")])
        flows.change(row.pk, row.head.pk, ies.measured_patch(lamp, ies.read_ies(upload.read())), f"Measured light for {lamp.name}")
        return redirect(f"{reverse('bench', args=[row.pk, 'light'])}?picked=lights/{lamp.id}")
    except Refused as refused:
        faults = refused.faults
    except flows.Stale:
        faults = (Fault("", "a setup that has changed meanwhile", "the newest state: open the file again"),)
    context = {"faults": faults, "file_name": upload.name if upload else "", "setup": row, "lamp": lamp}
    return render(request, "files/photometry.html", context, status=422)


@require_GET
def setup_schema(request: HttpRequest) -> HttpResponse:
    """JSON Schema of setup files."""
    return JsonResponse(schema.setup_schema(), json_dumps_params={"indent": 1})


@require_GET
def catalogue_schema(request: HttpRequest) -> HttpResponse:
    """JSON Schema of a row of the catalogue, by its columns."""
    return JsonResponse(Kind.model_json_schema(), json_dumps_params={"indent": 1})


@require_GET
def appraisal_schema(request: HttpRequest) -> HttpResponse:
    """JSON Schema of appraisals."""
    return JsonResponse(report.report_schema(), json_dumps_params={"indent": 1})


@require_GET
def measures_schema(request: HttpRequest) -> HttpResponse:
    """JSON Schema of what is measured in a picture or a sound."""
    return JsonResponse(figure.measures_schema(), json_dumps_params={"indent": 1})


@require_GET
def steps_schema(request: HttpRequest) -> HttpResponse:
    """JSON Schema of the plans that the command line tells."""
    return JsonResponse(plans_schema(), json_dumps_params={"indent": 1})
