"""Voices through microphones as sound files, worked out once and kept by what they were worked out from."""

from __future__ import annotations

import hashlib
import os
import re
import tempfile
import threading
from pathlib import Path

import numpy as np
from django.conf import settings
from django.http import FileResponse, Http404, HttpRequest, JsonResponse
from django.http.response import HttpResponseBase
from django.views.decorators.http import require_GET

from uphill_lamp.core.areas.sound.comparison import Candidate, candidates
from uphill_lamp.core.document import Refused
from uphill_lamp.core.document import Setup as Document
from uphill_lamp.core.document.faults import Fault
from uphill_lamp.listening.own import KINDS, MOST_BYTES, read_voice
from uphill_lamp.listening.render import VOICES, as_wav, dry_voice, rendered
from uphill_lamp.web.answers import by_method, posted
from uphill_lamp.web.bench.pictures import by_digest
from uphill_lamp.web.memory import give_back
from uphill_lamp.web.method import method

MOST_KEPT, MOST_OWN = 120, 12
OWN = re.compile(r"own-[0-9a-f]{16}")
_one_at_a_time = threading.Lock()  # two at once would each take twice as long, and the first is waited for


def key_of(document: Document, candidate: Candidate) -> str:
    """A name for a microphone in a setup's room, by all that its sound is worked out from."""
    key = document.model_dump_json(include={"room", "presenter", "noises"}) + candidate.microphone.model_dump_json(exclude={"id", "name"})
    if candidate.microphone.on_screen:
        key += document.model_dump_json(include={"screens", "cameras"})
    return hashlib.sha256(key.encode()).hexdigest()[:20]


def _folder() -> Path:
    folder = Path(settings.STATE) / "heard"
    folder.mkdir(parents=True, exist_ok=True)
    return folder


@require_GET
@by_method
def hear(request: HttpRequest, digest: str, key: str, voice: str) -> HttpResponseBase:
    """A voice through one of the microphones of a document, as a WAV file."""
    document = by_digest(digest).setup
    candidate = next(
        (candidate for candidate in candidates(document) if candidate.heard is not None and key_of(document, candidate) == key), None
    )
    dry = _dry(voice)
    if candidate is None or dry is None:
        raise Http404
    file = _folder() / f"{key}-{voice}-{method()}.wav"
    if not file.exists():
        with _one_at_a_time:
            if not file.exists():
                _keep(file, as_wav(rendered(document, candidate.microphone, dry).played), "*.wav", MOST_KEPT)
                give_back()
    return FileResponse(file.open("rb"), content_type="audio/wav")


def _dry(voice: str) -> np.ndarray | None:
    if voice in VOICES:
        return dry_voice(voice)
    file = _folder() / f"{voice}.npy"
    return np.load(file, allow_pickle=False) if OWN.fullmatch(voice) and file.exists() else None


def _keep(file: Path, data: bytes, kind: str, most: int) -> None:
    """Writes a file whole or not at all, and lets the oldest of its kind go."""
    with tempfile.NamedTemporaryFile(dir=file.parent, delete=False) as part:
        try:
            part.write(data)
            part.flush()
            os.replace(part.name, file)
        finally:  # nothing half written stays, whatever goes wrong
            Path(part.name).unlink(missing_ok=True)
    kept = sorted(file.parent.glob(kind), key=lambda old: old.stat().st_mtime)
    for old in kept[:-most]:
        old.unlink(missing_ok=True)


@posted("setups")
def own_voice(request: HttpRequest) -> JsonResponse:
    """A recording of one's own as the dry voice; what is refused is told and nothing is kept."""
    upload = request.FILES.get("file")
    try:
        if upload is None:
            raise Refused([Fault("", "no file", KINDS)])
        if (upload.size or 0) > MOST_BYTES:
            raise Refused([Fault("", f"a file of {(upload.size or 0) / 1e6:.1f} MB", f"{MOST_BYTES / 1e6:g} MB at most")])
        voice = read_voice(upload.read())
    except Refused as refused:
        fault = refused.faults[0]
        return JsonResponse({"fault": f"Found {fault.found}; expected {fault.expected}."}, status=422)
    name = "own-" + hashlib.sha256(voice.tobytes()).hexdigest()[:16]
    with tempfile.TemporaryFile() as whole:
        np.save(whole, voice, allow_pickle=False)
        whole.seek(0)
        _keep(_folder() / f"{name}.npy", whole.read(), "own-*.npy", MOST_OWN)
    return JsonResponse({"voice": name, "words": f"my own voice, {len(voice) / 24000:.0f} s"})
