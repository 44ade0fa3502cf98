"""What can be done with takes: measure a file, take figures over into the setup, forget them by request and by age."""

from __future__ import annotations

import base64
import io
import os
import tempfile
from collections.abc import Mapping, Sequence
from contextlib import ExitStack
from datetime import datetime
from pathlib import Path
from typing import Any

import numpy as np
from django.core.files.uploadedfile import TemporaryUploadedFile, UploadedFile
from django.utils import timezone
from PIL import Image

from uphill_lamp.core.areas.eyes.glances import near_lens
from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.check.accept import acceptable
from uphill_lamp.core.check.echo import echo_figure
from uphill_lamp.core.check.paper import Exposure, paper_figures
from uphill_lamp.core.check.sheet import sheet
from uphill_lamp.core.document.faults import Fault, Refused
from uphill_lamp.core.document.fields import OriginNote
from uphill_lamp.core.measuring.clip import known_of
from uphill_lamp.core.measuring.figure import METHOD
from uphill_lamp.core.measuring.still import Marks, still_figures
from uphill_lamp.looking.children import Answer
from uphill_lamp.looking.measured import STOPPED, Job, measured_all
from uphill_lamp.web.check.models import Take
from uphill_lamp.web.check.state import KEPT_FOR
from uphill_lamp.web.check.underway import underway
from uphill_lamp.web.settings import STATE
from uphill_lamp.web.setups import flows
from uphill_lamp.web.setups.documents import appraised
from uphill_lamp.web.setups.models import Setup

MOST_KEPT, MOST_NOTES = 40, 4
LEAST_APART_PX = 4.0
MOST_LOOKS = 8
BY_HAND = "marks put by hand"
PAPER = "paper"
LED_PARTS = {"sound": "sound", "still": "still", "clip": "clip", "sent": "sound", "echo": "sound"}  # parts of a led test, and what each is
SENT = ("sound.speech_active_dbfs", "sound.noise_dbfs", "sound.snr_a_db", "sound.band_edge_hz")  # what a call's own processing changes


def taken(setup: Setup, upload: UploadedFile[Any], name: str = "") -> Take:
    """A take of a file, which goes as soon as it is measured.

    Args:
        name: what its progress is told by, if it is.

    Raises:
        Refused: if it is neither a picture nor a sound that can be looked at.
    """
    assert setup.head is not None
    report = _or_refused(measured_uploads([(upload, True, None)], name)[0])
    preview = base64.b64decode(report.pop("preview", ""))
    _, appraisal = appraised(setup.head.document)
    off = sum(1 for line in sheet(appraisal, report) if line.state == "off")
    take = Take.objects.create(setup=setup, revision=setup.head, name=short_name(upload.name or ""), kind=report["kind"], report=report,
                               preview=preview, off=off)  # fmt: skip
    forget_old(timezone.now())
    return take


def led(setup: Setup, uploads: Mapping[str, UploadedFile[Any]], notes: str, known: Mapping[str, Any], name: str = "") -> Take:
    """A take of the test that the page led through: its sound, its still and its clip make one sheet.

    Args:
        uploads: by ``sound``, ``still``, ``clip``, ``sent``, the sound as a call sends it, and ``echo``, what comes back of the
            loudspeakers; some of them may be missing.
        known: when somebody looks where in the clip.
        name: what their progress is told by, if it is.

    Raises:
        Refused: if one of them cannot be looked at, or there is neither sound nor still.
    """
    assert setup.head is not None
    spans = known_of(known, {})
    read = () if spans.speech_s is None else (spans.speech_s,)
    _, appraisal = appraised(setup.head.document)
    looks = {
        "lens_s": spans.lens_s[:MOST_LOOKS],
        "window_s": spans.window_s[:MOST_LOOKS],
        "speech_s": read,
        "near_lens": near_lens(appraisal.setup),
    }  # and nothing else that was sent
    present = [part for part in LED_PARTS if part in uploads]
    wanted = [(uploads[part], part == "still", looks if part == "clip" else None) for part in present]
    parts = dict(zip(present, (_or_refused(answer) for answer in measured_uploads(wanted, name)), strict=True))
    wrong = [name for name, kind in LED_PARTS.items() if name in parts and parts[name]["kind"] != kind]
    if wrong or not {"sound", "still"} & parts.keys():
        raise Refused([Fault("", wrong[0] if wrong else "neither sound nor picture", "a sound, a still and a clip of one test")])
    kind = "clip" if {"sound", "still"} <= parts.keys() else "sound" if "sound" in parts else "still"
    of = {"sound": "sound.", "still": "picture.", "clip": "clip."}
    figures = [figure for name, start in of.items() if name in parts for figure in parts[name]["figures"] if figure["id"].startswith(start)]
    first = parts.get("still") or parts["sound"]
    report = {**first, "kind": kind, "figures": figures, "notes": [note for part in parts.values() for note in part["notes"]]}
    report["notes"] = list(dict.fromkeys([*report["notes"], *(short_name(note) for note in notes.split(";")[:MOST_NOTES] if note.strip())]))
    if "echo" in parts:
        report["figures"].append(echo_figure(figures, parts["echo"]["figures"]).data())
    if "sent" in parts:
        report["sent"] = [figure for figure in parts["sent"]["figures"] if figure["id"] in SENT]
    preview = base64.b64decode(report.pop("preview", ""))
    off = sum(1 for line in sheet(appraisal, report) if line.state == "off")
    take = Take.objects.create(setup=setup, revision=setup.head, name="led test", kind=kind, report=report, preview=preview, off=off)
    forget_old(timezone.now())
    return take


def _or_refused(answer: Answer) -> dict[str, Any]:
    if isinstance(answer, Refused):
        raise answer
    return answer


def measured_uploads(uploads: Sequence[tuple[UploadedFile[Any], bool, Mapping[str, Any] | None]], name: str = "") -> list[Answer]:
    """What is measured in each of the files that somebody sent, or why it cannot be; they go as soon as that is done.

    Args:
        uploads: files, whether a small copy is wanted, and what is known of it, as of a ``Job``.
        name: what their progress is told by, if it is.
    """
    folder = STATE / "takes"
    folder.mkdir(parents=True, exist_ok=True)
    with underway(name) as files, ExitStack() as until_measured:
        jobs = [Job(_on_disk(upload, folder, until_measured), preview, known) for upload, preview, known in uploads]
        return measured_all(jobs, files.stop.is_set, files.tell)


def _on_disk(upload: UploadedFile[Any], folder: Path, until_measured: ExitStack) -> Path:
    """Where a sent file lies, until all are measured."""
    if isinstance(upload, TemporaryUploadedFile):  # it lies on the disk already, and goes when it is closed
        until_measured.callback(upload.close)
        return Path(upload.temporary_file_path())
    handle, name = tempfile.mkstemp(dir=folder)
    until_measured.callback(Path(name).unlink, missing_ok=True)
    with os.fdopen(handle, "wb") as file:
        for chunk in upload.chunks():
            file.write(chunk)
    return Path(name)


def why_not(refused: Refused, what: str) -> str:
    """Why something cannot be measured, in a sentence."""
    fault = refused.faults[0]
    return (
        "Stopped. Nothing was kept." if fault == STOPPED else f"{what} cannot be measured. Found {fault.found}; expected {fault.expected}."
    )


def short_name(name: str) -> str:
    """A file's own name as far as it is to be shown."""
    plain = "".join(letter if letter.isprintable() else " " for letter in name).strip()
    return plain[-60:] or "without a name"


def marked_by_hand(setup: Setup, take: Take, typed: dict[str, str]) -> None:
    """A picture's figures worked out anew from marks, on the small copy that is kept.

    Raises:
        Refused: if a mark is no place in the picture, or they lie on one another.
    """
    assert setup.head is not None
    size = np.array(take.report["size"], float)
    places = {name: _place(text, size) for name, text in typed.items() if text or name != PAPER}
    picture = np.asarray(Image.open(io.BytesIO(bytes(take.preview))).convert("RGB"))
    scale = picture.shape[1] / size[0]
    marks = Marks(**{name: place * scale for name, place in places.items() if name != PAPER})
    if marks.eyes_px < LEAST_APART_PX or abs(float(marks.chin[1] - marks.crown[1])) < LEAST_APART_PX:
        raise Refused(
            [Fault("", "marks that lie on one another", "eyes beside each other, the chin below and the top of the head above them")]
        )
    paper = paper_figures(picture, places[PAPER] * scale if PAPER in places else None, Exposure.of(take.report.get("exposure")))
    anew = {figure.id: figure.data() for figure in (*still_figures(picture, marks, lossless=False), *paper)}
    for name in (
        "picture.noise",
        "picture.burnt_out",
        "picture.crushed",
        "picture.room_lean",
        "picture.head_turn",
        "picture.view_angle",
    ):  # what hangs on no mark, and was measured on the file itself
        del anew[name]
    take.report["figures"] = list(({figure["id"]: figure for figure in take.report["figures"]} | anew).values())
    take.report["marks"] = {name: [round(float(value), 1) for value in place] for name, place in places.items()}
    if BY_HAND not in take.report["notes"]:
        take.report["notes"] = [*take.report["notes"], BY_HAND]
    _, appraisal = appraised(setup.head.document)
    take.off = sum(1 for line in sheet(appraisal, take.report) if line.state == "off")
    take.save(update_fields=["report", "off"])


def _place(text: str, size: FloatArray) -> FloatArray:
    """A place in a picture from its two figures, shape (2,) [px]."""
    try:
        place = np.array([float(part) for part in text.split()])
    except ValueError:
        place = np.zeros(0)
    if place.shape != (2,) or not (np.isfinite(place).all() and (place >= 0).all() and (place <= size).all()):
        raise Refused([Fault("", repr(text)[:40], f"two figures within {size[0]:.0f} × {size[1]:.0f} px")])
    return place


def take_over(setup: Setup, parent: int, take: Take, wanted: list[str]) -> int:
    """Figures of a take into the setup, each a change whose values count as measured; how many.

    Raises:
        Refused: if they do not fit.
        Stale: if the setup has moved on.
    """
    assert setup.head is not None
    _, appraisal = appraised(setup.head.document)
    chosen = {name: figure for name, figure in acceptable(appraisal, take.report).items() if name in wanted}
    latest = parent
    for name, figure in chosen.items():
        note = OriginNote(
            kind="measured", on=take.made_at.date(), tolerance=figure.tolerance, take=take.name[:80], method=f"{name} {METHOD}"
        )
        latest = flows.change(setup.pk, latest, figure.patch, f"Measured: {figure.words}"[:200], note).pk
    return len(chosen)


def last_good(setup: Setup, take: Take) -> Take | None:
    """The newest take marked as a good one, but for this one, that tells of a picture or a sound what this one tells."""
    kinds = ("clip", "still", "sound") if take.kind == "clip" else (take.kind, "clip")
    return setup.takes.filter(good=True, kind__in=kinds).exclude(pk=take.pk).first()


def forget_old(now: datetime) -> None:
    """Takes older than a month go, and all but the newest of each setup; those marked good stay while the setup does."""
    Take.objects.filter(made_at__lt=now - KEPT_FOR, good=False).delete()
    for setup_id in Take.objects.values_list("setup_id", flat=True).distinct():
        beyond = Take.objects.filter(setup_id=setup_id, good=False).values_list("pk", flat=True)[MOST_KEPT:]
        Take.objects.filter(pk__in=list(beyond)).delete()
