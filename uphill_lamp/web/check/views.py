"""The page Check: a file in, the sheet out; figures taken over, takes marked good or deleted."""

from __future__ import annotations

import json
from typing import Any

from django.core.files.uploadedfile import UploadedFile
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_GET

from uphill_lamp.core.check.sheet import sheet
from uphill_lamp.core.document import Refused
from uphill_lamp.core.scene.placing import output_aspect
from uphill_lamp.drawings.alt import alt_text
from uphill_lamp.web.answers import posted
from uphill_lamp.web.bench import page
from uphill_lamp.web.check import takes
from uphill_lamp.web.check.lines import NAMES, beside, marked, sent_lines, shown
from uphill_lamp.web.check.models import Take
from uphill_lamp.web.guard import MOST_CLIP_BYTES, POLICY
from uphill_lamp.web.setups import flows
from uphill_lamp.web.setups.documents import appraised
from uphill_lamp.web.setups.models import Setup
from uphill_lamp.web.setups.rows import STALE, setup_of

SENTENCE = "Tonight we open the case, wipe the dust off the plates, and look for the tooth that sticks. Then we set the pendulum swinging and count."
# The test as it is led: seconds, words, what of it is recorded, and where the still is taken.
STEPS = (
    {"words": "Tap the microphone that you mean, twice.", "seconds": 4, "sound": True, "tap": True},
    {"words": "Be silent.", "seconds": 3, "sound": True, "recorded": True},
    {"words": f"Look into the lens and read: “{SENTENCE}”", "seconds": 9, "sound": True, "look": "speech_s", "recorded": True},
    {"words": "Look into the lens.", "seconds": 2, "still": True, "look": "lens_s", "recorded": True},
    {"words": "Look at the faces of your call, or where they will be.", "seconds": 2, "look": "window_s", "recorded": True},
    {"words": "Type for three seconds.", "seconds": 3, "sound": True, "recorded": True},
    {"words": "Clap once, in front of your face.", "seconds": 3, "sound": True, "recorded": True},
    {"words": "Sit still, and be silent.", "seconds": 3, "sound": True, "recorded": True},
)
# The loudspeakers alone, heard back.
ECHO_STEPS = ({"words": "Be silent: your loudspeakers speak, as loud as your calls.", "seconds": 5},)
# Once more as a call sends it: what the browser does to the sound is then on.
SENT_STEPS = (
    {"words": "Once more, as your call sends it. Be silent.", "seconds": 2},
    {"words": f"Read again: “{SENTENCE}”", "seconds": 9},
)
OPEN_POLICY = POLICY.replace("camera=()", "camera=(self)")  # on this page alone


@require_GET
def check(request: HttpRequest, setup_id: int) -> HttpResponse:
    """The newest take, or the one asked for."""
    setup = setup_of(setup_id)
    takes.forget_old(timezone.now())
    asked = request.GET.get("take", "")
    if asked and not (asked.isascii() and asked.isdecimal() and len(asked) < 12):
        raise Http404("no such take")
    take = get_object_or_404(setup.takes, pk=int(asked)) if asked else setup.takes.first()
    return _shown(request, setup, take)


def _shown(request: HttpRequest, setup: Setup, take: Take | None, fault: str = "", status: int = 200) -> HttpResponse:
    assert setup.head is not None
    digest, appraisal = appraised(setup.head.document)
    good = takes.last_good(setup, take) if take else None
    lines = sheet(appraisal, take.report, good.report if good else None) if take else ()
    good_picture = reverse("check-picture", args=[setup.pk, good.pk]) if good else ""
    planned = reverse("picture", args=[digest, 640])
    context: dict[str, Any] = page.within_setup(request, setup, appraisal, page.CHECK, own=True) | {
        "take": take, "takes": setup.takes.defer("report", "preview")[: takes.MOST_KEPT], "lines": [shown(line) for line in lines],
        "sent": sent_lines(take) if take else [], "fault": fault, "digest": digest, "alt": alt_text(appraisal), "most_gb": MOST_CLIP_BYTES // 1_000_000_000,
        "off": sum(1 for line in lines if line.state == "off"),
        "beside": beside(take, good, good_picture, planned, output_aspect(appraisal.setup)), **marked(take),
    }  # fmt: skip
    led = {"steps": STEPS, "sent_steps": SENT_STEPS, "echo_steps": ECHO_STEPS, "minutes": sum(int(str(step["seconds"])) for step in STEPS)}
    answer = render(request, "check/check.html", context | led, status=status)
    answer.headers["Permissions-Policy"] = OPEN_POLICY
    return answer


@posted("check", "setup_id")
def measure(request: HttpRequest, setup_id: int) -> HttpResponse:
    """A file measured; what is refused is told, and nothing of it is kept."""
    setup, upload = setup_of(setup_id), request.FILES.get("file")
    if request.headers.get("X-Take") == "led":
        return _led(request, setup)
    if upload is None:
        return _shown(request, setup, setup.takes.first(), "Choose a file first: a picture or a sound.", 422)
    try:
        take = takes.taken(setup, upload, request.POST.get("underway", ""))
    except Refused as refused:
        words = takes.why_not(refused, takes.short_name(upload.name or "The file"))
        return _shown(request, setup, setup.takes.first(), words, 422)
    return redirect(f"{reverse('check', args=[setup.pk])}?take={take.pk}")


def _led(request: HttpRequest, setup: Setup) -> JsonResponse:
    """The test that the page led through: where its sheet is, or what is wrong."""
    try:
        known = json.loads(request.POST.get("known") or "{}")
    except (ValueError, RecursionError):
        known = {}
    uploads: dict[str, UploadedFile[Any]] = {name: upload for name in takes.LED_PARTS if (upload := request.FILES.get(name)) is not None}
    try:
        known = known if isinstance(known, dict) else {}
        take = takes.led(setup, uploads, request.POST.get("notes", ""), known, request.POST.get("underway", ""))
    except Refused as refused:
        return JsonResponse({"fault": takes.why_not(refused, "It")}, status=422)
    return JsonResponse({"address": f"{reverse('check', args=[setup.pk])}?take={take.pk}"})


@posted("check", "setup_id")
def accept(request: HttpRequest, setup_id: int, take_id: int) -> HttpResponse:
    """Figures of a take into the plan, as measured."""
    setup = setup_of(setup_id)
    take = get_object_or_404(setup.takes, pk=take_id)
    parent = request.POST.get("parent", "")
    assert setup.head is not None
    if parent != str(setup.head.pk):
        return _shown(request, setup, take, STALE, 409)
    try:
        takes.take_over(setup, setup.head.pk, take, request.POST.getlist("figure"))
    except flows.Stale:
        return _shown(request, setup, take, STALE, 409)
    except Refused as refused:
        return _shown(request, setup, take, f"It does not fit: {refused.faults[0]}", 422)
    return redirect(f"{reverse('check', args=[setup.pk])}?take={take.pk}")


@posted("check", "setup_id")
def marks(request: HttpRequest, setup_id: int, take_id: int) -> HttpResponse:
    """A picture measured again with marks that were put by hand."""
    setup = setup_of(setup_id)
    take = get_object_or_404(setup.takes, pk=take_id, kind__in=("still", "clip"))
    try:
        takes.marked_by_hand(setup, take, {name: request.POST.get(name, "") for name in NAMES})
    except Refused as refused:
        return _shown(request, setup, take, f"Found {refused.faults[0].found}; expected {refused.faults[0].expected}.", 422)
    return redirect(f"{reverse('check', args=[setup.pk])}?take={take.pk}")


@posted("check", "setup_id")
def mark(request: HttpRequest, setup_id: int, take_id: int) -> HttpResponse:
    """A take as a good one, or not; or deleted."""
    setup = setup_of(setup_id)
    take = get_object_or_404(setup.takes, pk=take_id)
    if request.POST.get("do") == "delete":
        take.delete()
        return redirect("check", setup.pk)
    take.good = request.POST.get("do") == "good"
    take.save(update_fields=["good"])
    return redirect(f"{reverse('check', args=[setup.pk])}?take={take.pk}")


@require_GET
def preview(request: HttpRequest, setup_id: int, take_id: int) -> HttpResponse:
    """The small copy of a take's picture."""
    take = get_object_or_404(setup_of(setup_id).takes, pk=take_id)
    if not take.preview:
        raise Http404("a sound has no picture")
    return HttpResponse(bytes(take.preview), content_type="image/jpeg", headers={"Content-Disposition": "inline"})
