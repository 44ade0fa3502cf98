"""The script with its estimate, and the page it is read from."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_http_methods

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.areas.eyes import script
from uphill_lamp.core.areas.eyes.prompter import prompter_size
from uphill_lamp.core.document import Refused
from uphill_lamp.core.document import Setup as Document
from uphill_lamp.core.document.devices import Screen
from uphill_lamp.core.document.faults import Fault
from uphill_lamp.web.bench import page
from uphill_lamp.web.setups.documents import appraised
from uphill_lamp.web.setups.models import Script, Setup
from uphill_lamp.web.setups.rows import setup_of


def _kept(setup_id: int) -> tuple[Setup, Script, Appraisal]:
    setup = setup_of(setup_id)
    assert setup.head is not None
    _, appraisal = appraised(setup.head.document)
    return setup, Script.objects.filter(setup=setup).first() or Script(setup=setup), appraisal


def _screen(document: Document, wanted: str) -> Screen | None:
    """The screen asked for, else a prompter glass, else the first that is on."""
    on = [screen for screen in document.screens if screen.on and screen.kind != "projection"]
    for fits in (lambda screen: screen.id == wanted, lambda screen: screen.kind == "prompter_glass", lambda screen: True):
        fitting = next(filter(fits, on), None)
        if fitting is not None:
            return fitting
    return None


@require_http_methods(["GET", "POST"])
def prompter(request: HttpRequest, setup_id: int) -> HttpResponse:
    """The script, pasted or opened from a file, and how it will be read."""
    setup, kept, appraisal = _kept(setup_id)
    document = appraisal.setup
    faults: dict[str, str] = {}
    if request.method == "POST":
        _take(request, kept, faults)
        if not faults:
            kept.save()
            return redirect("prompter-read" if "read" in request.POST else "prompter", setup_id)
    screen = _screen(document, kept.screen)
    context = page.within_setup(request, setup, appraisal, page.stage_of("eyes")) | {"script": kept, "typed_wpm": request.POST.get("wpm",
        "")[:20] if "wpm" in faults else "", "faults": faults, "screens": [screen for screen in document.screens if screen.on], "screen": screen,
                               "units": document.preferences.units}  # fmt: skip
    if screen is not None:
        context["size"] = prompter_size(document, screen, kept.comfortable)
    try:
        blocks = script.blocks(kept.text, kept.markdown)
        context |= {"words": sum(block.words for block in blocks), "seconds": script.duration_s(blocks, kept.words_a_minute)}
    except Refused as refused:
        faults["text"] = _words(refused)
    return render(request, "prompter/prompter.html", context, status=422 if faults else 200)


def _words(refused: Refused) -> str:
    return f"Found {refused.faults[0].found}; expected {refused.faults[0].expected}."


def _take(request: HttpRequest, kept: Script, faults: dict[str, str]) -> None:
    """What was typed and chosen, kept even where it is not taken."""
    kept.text, kept.markdown = request.POST.get("text", ""), request.POST.get("markdown") == "on"
    kept.mirrored, kept.comfortable = request.POST.get("mirrored") == "on", request.POST.get("comfortable") == "on"
    kept.screen = request.POST.get("screen", "")[:40]
    upload = request.FILES.get("file")
    try:
        if upload is not None:
            if (upload.size or 0) > 4 * script.MOST_CHARACTERS:
                raise Refused(
                    [Fault("/file", f"a file of {(upload.size or 0) / 1e6:.1f} MB", f"{4 * script.MOST_CHARACTERS / 1e6:g} MB at most")]
                )
            try:
                kept.text = upload.read().decode("utf-8-sig")
            except UnicodeDecodeError as broken:
                raise Refused([Fault("/file", f"a byte at {broken.start} that is no UTF-8", "plain text or Markdown in UTF-8")]) from None
            kept.markdown = kept.markdown or (upload.name or "").lower().endswith((".md", ".markdown"))
        script.blocks(kept.text, kept.markdown)
    except Refused as refused:
        faults["file" if upload is not None else "text"] = _words(refused)
    typed = request.POST.get("wpm", "")
    try:
        kept.words_a_minute = float(typed.replace(",", "."))
    except ValueError:
        kept.words_a_minute = 0
    if not script.LEAST_WPM <= kept.words_a_minute <= script.MOST_WPM:
        faults["wpm"] = f"Found {typed[:20]!r}; expected {script.LEAST_WPM:g} to {script.MOST_WPM:g} words a minute."
        kept.words_a_minute = script.DEFAULT_WPM  # to go on with; what was typed stays in its field


@require_GET
def read(request: HttpRequest, setup_id: int) -> HttpResponse:
    """The page the script is read from: large, narrow, mirrored if it stands under glass."""
    setup, kept, appraisal = _kept(setup_id)
    document = appraisal.setup
    screen = _screen(document, kept.screen)
    try:
        blocks = script.blocks(kept.text, kept.markdown)
    except Refused:  # taken by an older version: the page it is typed on says what is wrong
        return redirect("prompter", setup_id)
    context = {
        "setup": setup, "script": kept, "blocks": blocks, "screen": screen,
        "size": prompter_size(document, screen, kept.comfortable) if screen else None, "seconds": script.duration_s(blocks, kept.words_a_minute),
    }  # fmt: skip
    return render(request, "prompter/read.html", context)
