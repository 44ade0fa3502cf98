"""Pictures that have been drawn, kept on disk by what they show: none is drawn twice, and the first page needs nothing to draw with."""

from __future__ import annotations

import io
import os
import shutil
import threading
from pathlib import Path

from django.conf import settings

from uphill_lamp.web.method import method

CARD_PX, FULL_PX = 320, 640
KEPT_PX = (CARD_PX, FULL_PX)
MOST_BYTES = 64_000_000  # some two thousand pictures
PRUNED_EVERY = 50
_written = 0
_lock = threading.Lock()


def folder() -> Path:
    """Where pictures of the method in force lie."""
    return Path(settings.STATE) / "pictures" / method()


def kept(digest: str, width: int) -> bytes | None:
    """A picture that was drawn before [JPEG]; a small one is made of a large one where only that is there."""
    if width not in KEPT_PX or not digest.isalnum():
        return None
    path = folder() / f"{digest}-{width}.jpg"
    try:
        drawn = path.read_bytes()
        os.utime(path)  # what is looked at stays longest
        return drawn
    except OSError:
        pass
    large = kept(digest, FULL_PX) if width == CARD_PX else None
    return _smaller(large) if large else None


def keep(digest: str, width: int, drawn: bytes) -> None:
    """Keeps a picture, as far as there is room; that it could not be kept is nobody's trouble."""
    global _written
    path = folder() / f"{digest}-{width}.jpg"
    half = path.with_suffix(f".{os.getpid()}.{threading.get_ident()}")
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        half.write_bytes(drawn)
        half.replace(path)
    except OSError:
        half.unlink(missing_ok=True)
    with _lock:
        _written += 1
        if _written % PRUNED_EVERY == 1:
            prune()


def prune(most_bytes: int = MOST_BYTES) -> None:
    """Drops pictures of older methods, and of this one those that were looked at longest ago where there are too many."""
    for other in folder().parent.glob("*"):
        if other != folder():
            shutil.rmtree(other, ignore_errors=True)
    paths = []
    for path in folder().glob("*"):
        try:
            paths.append((path.stat().st_mtime, path.stat().st_size, path))
        except OSError:
            continue
    room = most_bytes
    for _, size, path in sorted(paths, reverse=True):
        room -= size
        if room < 0:
            path.unlink(missing_ok=True)


def _smaller(large: bytes) -> bytes:
    """A large picture at a card's width [JPEG]."""
    from PIL import Image

    picture = Image.open(io.BytesIO(large))
    out = io.BytesIO()
    picture.resize((CARD_PX, round(picture.height * CARD_PX / picture.width)), Image.Resampling.LANCZOS).save(out, "JPEG", quality=88)
    return out.getvalue()
