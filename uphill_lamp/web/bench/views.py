"""The bench: one page, its fragments, changes and previews."""

from __future__ import annotations

from base64 import b64encode
from collections.abc import Callable
from concurrent.futures import CancelledError, Future

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_GET

from uphill_lamp.core.appraisal.appraise import Appraisal, partial_appraisal
from uphill_lamp.core.appraisal.causes import asked_first
from uphill_lamp.core.areas.registry import areas
from uphill_lamp.core.document import Refused, applied
from uphill_lamp.core.document.patch import Patch
from uphill_lamp.core.field.camera.metering import Metered
from uphill_lamp.core.locked_lru import LockedLru
from uphill_lamp.web.answers import posted
from uphill_lamp.web.bench import page
from uphill_lamp.web.bench.actions import action_of
from uphill_lamp.web.bench.pictures import DRAFTSMAN
from uphill_lamp.web.setups import flows
from uphill_lamp.web.setups.documents import appraised
from uphill_lamp.web.setups.judged import remember
from uphill_lamp.web.setups.models import Revision, Setup
from uphill_lamp.web.setups.rows import setup_of

DRAFT_WAIT_S = 0.3  # after that the page asks for the picture by its address


def _followed(stage: str) -> frozenset[str]:
    """The areas whose figures lines in the drawings of a stage tell: these follow the hand."""
    return frozenset(area.key for area in areas() if area.drawn == "always" or (area.drawn == "at its stage" and area.key == stage))


def _rows(setup_id: int, stage: str) -> tuple[Setup, Revision]:
    if page.bench_stage(stage) is None:
        raise Http404
    setup = setup_of(setup_id)
    assert setup.head is not None
    return setup, setup.head


def _wants_fragment(request: HttpRequest) -> bool:
    return request.headers.get("X-Uphill-Fragment") == "1"


@require_GET
def start(request: HttpRequest, setup_id: int) -> HttpResponse:
    """A setup's own address leads to its first stage."""
    return redirect("bench", setup_id, "frame")


@require_GET
def bench(request: HttpRequest, setup_id: int, stage: str) -> HttpResponse:
    """The whole bench page."""
    return _shown(request, setup_id, stage, "bench/bench.html")


@require_GET
def fragment(request: HttpRequest, setup_id: int, stage: str) -> HttpResponse:
    """Only what changes on the bench."""
    return _shown(request, setup_id, stage, "bench/_regions.html")


def _shown(request: HttpRequest, setup_id: int, stage: str, template: str) -> HttpResponse:
    setup, revision = _rows(setup_id, stage)
    digest, appraisal = appraised(revision.document)
    remember(revision, appraisal)
    asked = request.GET.get("picked")
    picked = page.first_in_hand(appraisal, stage) if asked is None else page.picked_thing(appraisal, asked)
    if template == "bench/bench.html":  # the draftsman gets to know the setup before a hand reaches for anything
        DRAFTSMAN.meet(revision.document.encode(), appraisal.metered)
    return render(request, template, page.context(setup, revision, digest, appraisal, stage, picked))


@require_GET
def findings(request: HttpRequest, setup_id: int, stage: str) -> HttpResponse:
    """The findings with what each move gains: the slower half of an appraisal, asked for by itself."""
    setup, revision = _rows(setup_id, stage)
    digest, appraisal = appraised(revision.document)
    causes = appraisal.causes
    titled = len(causes) if len(causes) <= page.MOST_ENTRIES else page.MOST_ENTRIES - 1
    context = {
        "setup": setup,
        "digest": digest,
        "revision": revision,
        "stage": page.bench_stage(stage),
        "asking": asked_first(causes),
        "open_causes": causes[: page.OPEN_ENTRIES],
        "folded_causes": causes[page.OPEN_ENTRIES : titled],
        "smaller_causes": causes[titled:],
        "with_gains": True,
        "on_purpose": appraisal.on_purpose,
        "setup_id": setup.pk,
    }
    return render(request, "bench/_findings.html", context)


Then = Callable[[Setup, Revision, Appraisal, str, Patch, str], HttpResponse]


def _acting(request: HttpRequest, setup_id: int, stage: str, then: Then) -> HttpResponse:
    """What a posted action leads to; 409 if the page was older than the setup, 422 if it was not understood."""
    setup, revision = _rows(setup_id, stage)
    if request.POST.get("parent") != str(revision.pk):
        return _stale(request, setup_id, stage)
    _, before = appraised(revision.document)
    picked = page.picked_thing(before, request.POST.get("picked", ""))
    try:
        action = action_of(before, request.POST)
        return then(setup, revision, before, picked if action.picked is None else action.picked, action.patch, action.words)
    except Refused as refused:
        return _refused(request, setup, revision, before, stage, picked, refused)
    except flows.Stale:
        return _stale(request, setup_id, stage)


@posted("bench", "setup_id", "stage")
def change(request: HttpRequest, setup_id: int, stage: str) -> HttpResponse:
    """One change, saved as a revision."""

    def saved(setup: Setup, revision: Revision, before: Appraisal, picked: str, patch: Patch, words: str) -> HttpResponse:
        flows.change(setup.pk, revision.pk, patch, words)
        return _after(request, setup.pk, stage, picked, before, words)

    return _acting(request, setup_id, stage, saved)


MOST_EXPOSED = 16
_exposed: LockedLru[int, Metered] = LockedLru(MOST_EXPOSED)  # how the newest preview of a revision was exposed


@posted("bench", "setup_id", "stage")
def preview(request: HttpRequest, setup_id: int, stage: str) -> HttpResponse:
    """What a change would give, not saved: for dragging."""

    def shown(setup: Setup, revision: Revision, before: Appraisal, picked: str, patch: Patch, words: str) -> HttpResponse:
        document = applied(before.setup, patch)
        text = document.model_dump_json()  # as stored it would be indented, which takes seven times as long
        # The draft is begun before this place of the hand is metered, exposed as the place before it was: a hand at rest asks once more.
        last = _exposed.get(revision.pk)
        picture = DRAFTSMAN.begin(text.encode(), last) if last is not None else None
        if picture is not None and request.POST.get("brief") == "1":
            sketch = partial_appraisal(document, before, _followed(stage))
            context = page.picture_context(revision, revision.digest, sketch, stage, picked, draft=True, in_words=False)
            if drawn := _inline(picture):
                return render(request, "bench/_brief.html", context | {"drawn": drawn})
        digest, appraisal = appraised(text, before, document)
        if picture is None:
            picture = DRAFTSMAN.begin(text.encode(), appraisal.metered)
        _exposed.put(revision.pk, appraisal.metered)
        if request.POST.get("brief") == "1":
            context = page.picture_context(revision, digest, appraisal, stage, picked, draft=True)
            return render(request, "bench/_brief.html", context | {"drawn": _inline(picture)})
        context = page.context(setup, revision, digest, appraisal, stage, picked, draft=True)
        return render(request, "bench/_regions.html", context | {"drawn": _inline(picture)})

    return _acting(request, setup_id, stage, shown)


def _inline(picture: Future[bytes | None]) -> str:
    """A draft as an address that holds it, so that lines and picture arrive together; empty if it is not there in time."""
    try:
        drawn = picture.result(DRAFT_WAIT_S)
    except CancelledError:  # nobody wants it any more
        return ""
    except TimeoutError:
        picture.cancel()  # if it has not been begun, it need not be
        return ""
    return f"data:image/jpeg;base64,{b64encode(drawn).decode()}" if drawn else ""


def _after(request: HttpRequest, setup_id: int, stage: str, picked: str, before: Appraisal, words: str) -> HttpResponse:
    if not _wants_fragment(request):
        if (back := request.POST.get("back", "")).startswith(f"/setups/{setup_id}/") and url_has_allowed_host_and_scheme(back, None):
            return redirect(back)
        return redirect(f"{reverse('bench', args=[setup_id, stage])}?picked={picked}")
    setup, revision = _rows(setup_id, stage)
    digest, appraisal = appraised(revision.document)
    remember(revision, appraisal)
    picked = page.picked_thing(appraisal, picked)
    announced = f"{words}. {score_words(before, appraisal)}"
    return render(request, "bench/_regions.html", page.context(setup, revision, digest, appraisal, stage, picked, announced=announced))


def score_words(before: Appraisal, now: Appraisal) -> str:
    """How the whole score went, in words."""
    step = now.score - before.score
    if abs(step) < 0.05:
        return f"Whole score stays {now.score:.0f}"
    return f"Whole score {now.score:.0f}, {'up' if step > 0 else 'down'} {abs(step):.1f}"


def _refused(
    request: HttpRequest, setup: Setup, revision: Revision, appraisal: Appraisal, stage: str, picked: str, refused: Refused
) -> HttpResponse:
    """Says at the field what was expected, keeps what was typed, and shows the last good state."""
    fault = refused.faults[0]
    field, typed = request.POST.get("field", ""), request.POST.get("value", "")
    message = f"Not saved: type {fault.expected}."
    faults = (
        {field: (typed, f"Not saved: type {fault.expected}." if "#" in fault.path else f"{fault.found}; expected {fault.expected}.")}
        if field
        else {}
    )
    digest, _ = appraised(revision.document)
    context = page.context(setup, revision, digest, appraisal, stage, picked, announced=message, faults=faults)
    template = "bench/_regions.html" if _wants_fragment(request) else "bench/bench.html"
    return render(request, template, context, status=422)


def _stale(request: HttpRequest, setup_id: int, stage: str) -> HttpResponse:
    context = {"setup": get_object_or_404(Setup, pk=setup_id), "stage": page.bench_stage(stage)}
    return render(request, "bench/_stale.html" if _wants_fragment(request) else "bench/stale.html", context, status=409)


@posted("bench-start", "setup_id")
def undo(request: HttpRequest, setup_id: int) -> HttpResponse:
    """One step back."""
    return _stepped(request, setup_id, flows.undo, "Undone", "Nothing to undo")


@posted("bench-start", "setup_id")
def redo(request: HttpRequest, setup_id: int) -> HttpResponse:
    """One step forward again."""
    return _stepped(request, setup_id, flows.redo, "Done again", "Nothing to redo")


def _stepped(request: HttpRequest, setup_id: int, step: Callable[[int, int], Revision | None], done: str, nothing: str) -> HttpResponse:
    stage = request.POST.get("stage", "frame")
    _, revision = _rows(setup_id, stage)
    _, before = appraised(revision.document)
    try:
        parent = int(request.POST.get("parent", "0"))
    except ValueError:
        parent = 0
    try:
        stepped = step(setup_id, parent)
    except flows.Stale:
        return _stale(request, setup_id, stage)
    words = f"{done}: {stepped.words}" if stepped else nothing
    return _after(request, setup_id, stage, request.POST.get("picked", ""), before, words)
