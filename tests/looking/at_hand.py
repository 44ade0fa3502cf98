"""Files measured in the tests' own process, where it is not the child that is tried: to start one takes longer than to measure."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator
from unittest.mock import _patch, patch

from uphill_lamp.core.document import Refused
from uphill_lamp.looking import child, measured
from uphill_lamp.looking.children import Answer


def measured_here() -> _patch[Callable[..., Iterator[Answer]]]:
    """Files are decoded and measured here while this lasts."""
    return patch.object(measured, "_ran", _here)


def _here(jobs: list[measured.Job], cancelled: Callable[[], bool], tell: Callable[[float], None]) -> Iterator[Answer]:
    for job in jobs:
        if cancelled():
            yield Refused([measured.STOPPED])
            return
        asked = json.loads(json.dumps(job.data()))
        try:
            yield json.loads(json.dumps(child.measured(job.path, job.preview, asked["known"], tell)))
        except Refused as wrong:
            yield wrong
