"""The page of microphones side by side, and the one that is to be used instead."""

from __future__ import annotations

import threading

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from uphill_lamp.core.areas.sound.comparison import Candidate, candidates, schools
from uphill_lamp.core.document import Refused
from uphill_lamp.core.document import Setup as Document
from uphill_lamp.core.field.sound.clarity import clarity_word
from uphill_lamp.drawings.octaves import octave_bars
from uphill_lamp.listening.render import VOICES
from uphill_lamp.web.bench import page
from uphill_lamp.web.microphones.hearing import key_of
from uphill_lamp.web.setups import flows
from uphill_lamp.web.setups.documents import appraised
from uphill_lamp.web.setups.rows import STALE, setup_of

SHOWN = ("sound.snr", "sound.direct_to_reverberant", "sound.touch", "sound.echo", "sound.turn", "sound.pops")


@require_http_methods(["GET", "POST"])
def microphones(request: HttpRequest, setup_id: int) -> HttpResponse:
    """Every microphone in this room; one posted is taken into use."""
    setup = setup_of(setup_id)
    assert setup.head is not None
    digest, appraisal = appraised(setup.head.document)
    listed, fault = candidates(appraisal.setup), ""
    if request.method == "POST":
        wanted = next((candidate for candidate in listed if candidate.use and candidate.name == request.POST.get("use")), None)
        try:
            if wanted is not None and request.POST.get("parent") == str(setup.head.pk):
                flows.change(setup.pk, setup.head.pk, wanted.use, f"Use: {wanted.name}")
                return redirect("microphones", setup_id)
            fault = STALE
        except (Refused, flows.Stale) as refused:
            fault = f"It does not fit: {refused}"
    threading.Thread(target=_warm, daemon=True).start()
    context = {"voices": VOICES, "voice": "high" if appraisal.setup.presenter.voice == "female" else "low", "heard": _heard(appraisal.setup,
        digest, listed), "rows": [_row(candidate) for candidate in listed], "verdict": schools(listed), "fault": fault,
               "units": appraisal.setup.preferences.units}  # fmt: skip
    return render(
        request,
        "microphones/microphones.html",
        context | page.within_setup(request, setup, appraisal, page.stage_of("sound")),
        status=409 if fault else 200,
    )


def _warm() -> None:
    """What hearing needs takes a second or two to come; by the time a hand reaches for it, it is there."""
    import pyloudnorm  # noqa: F401
    import pyroomacoustics  # noqa: F401


def _heard(document: Document, digest: str, listed: list[Candidate]) -> list[dict[str, object]]:
    """The microphones that can be heard: the one in use first, then the others as they are ranked."""
    ranked = sorted((candidate for candidate in listed if candidate.heard is not None), key=lambda candidate: not candidate.in_use)
    return [
        {"name": candidate.name, "address": f"{digest}/{key_of(document, candidate)}", "sti": candidate.heard.sti, "snr": candidate.heard.snr_db,
         "drr": candidate.heard.direct_to_reverberant_db} for candidate in ranked if candidate.heard is not None
    ]  # fmt: skip


def _row(candidate: Candidate) -> dict[str, object]:
    return {
        "one": candidate, "word": clarity_word(candidate.heard.sti) if candidate.heard else "",
        "octaves": octave_bars(candidate.heard) if candidate.heard else None,
        "clarity": candidate.measures["sound.sti"], "figures": [candidate.measures[name] for name in SHOWN],
    }  # fmt: skip
