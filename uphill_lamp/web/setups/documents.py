"""Documents in memory: read once, appraised once, found again by what they say."""

from __future__ import annotations

import hashlib
import threading
from collections import OrderedDict
from typing import TYPE_CHECKING

from uphill_lamp.core.document import Setup as Document
from uphill_lamp.core.document import read_setup, written

if TYPE_CHECKING:
    from uphill_lamp.core.appraisal import Appraisal

MOST_KEPT = 96

_kept: OrderedDict[str, Appraisal] = OrderedDict()
_lock = threading.Lock()


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
    found = kept(digest)
    if found is None:
        from uphill_lamp.core.appraisal import appraise  # late: the list of setups is shown without it

        found = appraise(document or read_setup(text.encode()), known=known)
        with _lock:
            _kept[digest] = found
            while len(_kept) > MOST_KEPT:
                _kept.popitem(last=False)
    return digest, found


def kept(digest: str) -> Appraisal | None:
    """An appraisal still in memory."""
    with _lock:
        found = _kept.get(digest)
        if found is not None:
            _kept.move_to_end(digest)
        return found


def forget() -> None:
    """Empties the memory, for measuring and tests."""
    with _lock:
        _kept.clear()
