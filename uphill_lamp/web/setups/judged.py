"""What a revision was judged to be, kept with it: its score, its worst finding, its picture in words."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from uphill_lamp.web import heavy
from uphill_lamp.web.method import method
from uphill_lamp.web.setups.models import Revision

if TYPE_CHECKING:
    from uphill_lamp.core.appraisal.appraise import Appraisal


@dataclass(frozen=True)
class Judged:
    """Whole score 0-100, the title of the worst finding (empty if there is none), and what the picture shows."""

    score: float
    worst: str
    alt: str


def judged(revision: Revision) -> Judged:
    """As it was judged before, by the method in force; else judged now, and kept."""
    if revision.judged_by != method() or revision.score is None:
        heavy.load()  # what was kept is shown without it
        from uphill_lamp.web.setups.documents import appraised

        _, appraisal = appraised(revision.document)
        remember(revision, appraisal)
    assert revision.score is not None
    return Judged(revision.score, revision.worst, revision.alt)


def remember(revision: Revision, appraisal: Appraisal) -> None:
    """Keeps what an appraisal says of a revision."""
    if revision.judged_by == method():
        return
    from uphill_lamp.drawings.alt import alt_text  # it stands on the whole computation

    worst = next(iter(appraisal.findings), None)
    revision.score, revision.worst = appraisal.score, worst.title[:300] if worst else ""
    revision.alt, revision.judged_by = alt_text(appraisal), method()
    revision.save(update_fields=["score", "worst", "alt", "judged_by"])
