"""What can be done with takes: measure a file, take figures over into the setup, forget them by request and by age."""

from __future__ import annotations

import base64
import os
import tempfile
from datetime import datetime
from pathlib import Path
from typing import Any

from django.core.files.uploadedfile import UploadedFile
from django.utils import timezone

from uphill_lamp.core.check.accept import acceptable
from uphill_lamp.core.check.sheet import sheet
from uphill_lamp.core.document.fields import OriginNote
from uphill_lamp.core.measuring.figure import METHOD
from uphill_lamp.looking.measured import measured
from uphill_lamp.web.check.models import Take
from uphill_lamp.web.check.state import KEPT_FOR
from uphill_lamp.web.settings import STATE
from uphill_lamp.web.setups import flows
from uphill_lamp.web.setups.documents import appraised
from uphill_lamp.web.setups.models import Setup

MOST_KEPT, MOST_NOTES = 40, 4


def taken(setup: Setup, upload: UploadedFile[Any], notes: str = "") -> Take:
    """A take of a file, which goes as soon as it is measured.

    Raises:
        Refused: if it is neither a picture nor a sound that can be looked at.
    """
    assert setup.head is not None
    folder = STATE / "takes"
    folder.mkdir(parents=True, exist_ok=True)
    handle, name = tempfile.mkstemp(dir=folder)
    path = Path(name)
    try:
        with os.fdopen(handle, "wb") as file:
            for chunk in upload.chunks():
                file.write(chunk)
        report = measured(path, preview=True)
    finally:
        path.unlink(missing_ok=True)
    report["notes"] += [_short(note) for note in notes.split(";")[:MOST_NOTES] if note.strip()]
    preview = base64.b64decode(report.pop("preview", ""))
    _, appraisal = appraised(setup.head.document)
    off = sum(1 for line in sheet(appraisal, report) if line.state == "off")
    take = Take.objects.create(setup=setup, revision=setup.head, name=_short(upload.name or ""), kind=report["kind"], report=report,
                               preview=preview, off=off)  # fmt: skip
    forget_old(timezone.now())
    return take


def _short(name: str) -> str:
    """A file's own name as far as it is to be shown."""
    plain = "".join(letter if letter.isprintable() else " " for letter in name).strip()
    return plain[-60:] or "without a name"


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


def forget_old(now: datetime) -> None:
    """Takes older than a month go, and all but the newest of each setup; those marked good stay while the setup does."""
    Take.objects.filter(made_at__lt=now - KEPT_FOR, good=False).delete()
    for setup_id in Take.objects.values_list("setup_id", flat=True).distinct():
        beyond = Take.objects.filter(setup_id=setup_id, good=False).values_list("pk", flat=True)[MOST_KEPT:]
        Take.objects.filter(pk__in=list(beyond)).delete()
