"""Documents in memory: read once, appraised once, found again by what they say."""

from __future__ import annotations

import hashlib
from typing import TYPE_CHECKING

from uphill_lamp.core.document import Setup as Document
from uphill_lamp.core.document import read_setup, written
from uphill_lamp.core.locked_lru import LockedLru

if TYPE_CHECKING:
    from uphill_lamp.core.appraisal.appraise import Appraisal

MOST_KEPT = 96

_kept: LockedLru[str, Appraisal] = LockedLru(MOST_KEPT)


def text_of(document: Document) -> str:
    """A document as it is stored."""
    return written(document)


def digest_of(text: str) -> str:
    """A name for a document by its content."""
    return hashlib.sha256(text.encode()).hexdigest()


def appraised(text: str, known: Appraisal | None = None, document: Document | None = None) -> tuple[str, Appraisal]:
    """Digest and appraisal of a stored document, computed once.

    Args:
        text: the document as stored.
        known: an appraisal of a like document, whose unchanged areas are taken over.
        document: what the text says, where it is at hand already.
    """
    digest = digest_of(text)

    def work() -> Appraisal:
        from uphill_lamp.core.appraisal.appraise import appraise  # late: the list of setups is shown without it

        return appraise(document or read_setup(text.encode()), known=known)

    return digest, _kept.get_or_compute(digest, work)


def kept(digest: str) -> Appraisal | None:
    """An appraisal still in memory."""
    return _kept.get(digest)


def forget() -> None:
    """Empties the memory, for measuring and tests."""
    _kept.forget()
