"""Pictures and sounds from files: a white list of formats, sizes looked at before anything is decoded."""

from __future__ import annotations

import struct
import time
import warnings
import zlib
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.document.faults import Fault, Refused

if TYPE_CHECKING:
    from uphill_lamp.core.measuring.heard import Heard

PICTURES = ("JPEG", "PNG", "WEBP")
SOUNDS = ("WAV", "WAVEX", "RF64", "FLAC", "OGG", "MP3", "AIFF", "CAF")
LOSSLESS_SOUNDS = ("WAV", "WAVEX", "RF64", "FLAC", "AIFF", "CAF")
PCM = ("PCM_S8", "PCM_U8", "PCM_16", "PCM_24", "PCM_32", "FLOAT", "DOUBLE")
MOST_PIXELS, LEAST_SIDE_PX = 60_000_000, 64
MOST_SIDE_PX = 1920  # larger pictures are looked at so large; grain on a piece of them as they are
GRAIN_PX = 1200
EXPOSURE_NOTES = 0x8769  # the part of a picture's notes in which cameras write how it was taken
SLOWEST_HZ, FASTEST_HZ, MOST_CHANNELS, USED_CHANNELS = 8000, 192_000, 32, 2
MOST_SOUND_S, MOST_HEARING_S = 720.0, 90.0  # of sound, and of work for it: what came so far has to do then
AT_ONCE = 1_000_000  # samples read at once, of all channels
LOUDEST = 1e6  # of full scale 1: a file of floating numbers may hold what overflows once it is added up
KINDS = "a picture (JPEG, PNG, WebP), a sound (WAV, FLAC, Ogg, MP3) or a clip (WebM, MP4, MOV, MKV, AVI)"


@dataclass(frozen=True, eq=False)
class Still:
    """A picture, upright: RGB of at most MOST_SIDE_PX, how much larger the file's is, and a piece as it is; f-number, time [s] and
    sensitivity where the file tells them."""

    picture: NDArray[np.uint8]
    scale: float
    piece: NDArray[np.uint8]
    lossless: bool
    exposure: tuple[float, float, float] | None = None


@dataclass(frozen=True, eq=False)
class Sound:
    """A recording as it was heard, piece by piece; none where it is too short. How long it is [s], and whether the file goes on."""

    pieces: list[Heard]
    seconds: float
    goes_on: bool


def container_of(path: Path) -> str | None:
    """The kind of container that a file's first bytes tell; None where it is no clip."""
    with path.open("rb") as file:
        begin = file.read(16)
    if begin[4:8] in (b"ftyp", b"moov", b"mdat", b"wide"):
        return "mov"
    if begin[:4] == b"RIFF" and begin[8:11] == b"AVI":
        return "avi"
    return "matroska" if begin.startswith(b"\x1a\x45\xdf\xa3") else None


def decoded(path: Path, tell: Callable[[float], None] = lambda share: None) -> Still | Sound:
    """What a file holds.

    Args:
        tell: told now and then how much of a sound is done, 0-1.

    Raises:
        Refused: if it is neither a picture nor a sound that can be read, or too large.
    """
    with path.open("rb") as file:
        begin = file.read(16)
    if not begin:
        raise Refused([Fault("", "an empty file", KINDS)])
    return _still(path) if begin[:3] == b"\xff\xd8\xff" or begin[:4] == b"\x89PNG" or begin[8:12] == b"WEBP" else _sound(path, tell)


def _still(path: Path) -> Still:
    from PIL import Image, ImageOps

    Image.MAX_IMAGE_PIXELS = MOST_PIXELS
    with warnings.catch_warnings():
        warnings.simplefilter("error", Image.DecompressionBombWarning)
        try:
            with Image.open(path, formats=PICTURES) as image:
                wide, high = image.size
                if min(wide, high) < LEAST_SIDE_PX:
                    raise Refused([Fault("", f"a picture of {wide} × {high} px", f"{LEAST_SIDE_PX} px a side at least")])
                lossless = image.format == "PNG"
                exposure = _exposure(image)
                if image.format == "JPEG":  # a large one is decoded smaller at once; it has no grain of its own
                    image.draft("RGB", (MOST_SIDE_PX, MOST_SIDE_PX))
                ImageOps.exif_transpose(image, in_place=True)  # no copy more than is needed: they are large
                upright = image if image.mode == "RGB" else image.convert("RGB")
                upright.load()
        except (Image.DecompressionBombError, Image.DecompressionBombWarning):
            raise Refused([Fault("", "a picture of too many pixels", f"{MOST_PIXELS // 1_000_000} million at most")]) from None
        except Refused:
            raise
        except (OSError, ValueError, SyntaxError, EOFError, struct.error, zlib.error, TypeError, IndexError, KeyError):
            raise Refused([Fault("", "a picture that is broken or cut off", KINDS)]) from None
    reduced, small = max(upright.size) / MOST_SIDE_PX, upright
    if reduced > 1:
        small = upright.resize(
            (round(upright.width / reduced), round(upright.height / reduced)), Image.Resampling.LANCZOS, reducing_gap=3.0
        )
    scale = max(wide, high) / max(small.size)
    left, top = max((upright.width - GRAIN_PX) // 2, 0), max((upright.height - GRAIN_PX) // 2, 0)
    piece = upright.crop((left, top, min(left + GRAIN_PX, upright.width), min(top + GRAIN_PX, upright.height)))
    return Still(np.asarray(small), max(scale, 1.0), np.asarray(piece), lossless, exposure)


def _exposure(image: Any) -> tuple[float, float, float] | None:
    """F-number, time and sensitivity from a file's own notes; None where they are missing or no numbers."""
    try:
        notes = image.getexif().get_ifd(EXPOSURE_NOTES)
        sensitivity = notes.get(0x8827)
        values = float(notes[0x829D]), float(notes[0x829A]), float(sensitivity[0] if isinstance(sensitivity, tuple) else sensitivity)
    except (KeyError, ValueError, TypeError, ZeroDivisionError, IndexError, OSError, SyntaxError, struct.error, AttributeError):
        return None
    return values if all(np.isfinite(values)) else None


def _sound(path: Path, tell: Callable[[float], None]) -> Sound:
    import soundfile

    with _unread_refused():
        file = soundfile.SoundFile(str(path))
    with file:
        if file.format not in SOUNDS:
            raise Refused([Fault("", f"a file of the kind {file.format}", KINDS)])
        if not SLOWEST_HZ <= file.samplerate <= FASTEST_HZ or file.channels > MOST_CHANNELS:
            raise Refused(
                [Fault("", f"{file.channels} channels at {file.samplerate} Hz", f"up to {MOST_CHANNELS} channels at 8 to 192 kHz")]
            )
        hearing = Hearing(int(file.samplerate), file.format in LOSSLESS_SOUNDS and file.subtype in PCM)
        while not hearing.full:
            with _unread_refused():
                samples = file.read(AT_ONCE // file.channels, dtype="float32", always_2d=True)[:, :USED_CHANNELS]
            if not len(samples):
                break
            hearing.take(np.ascontiguousarray(samples))
            tell(min(hearing.seconds * file.samplerate / max(file.frames, 1), 1.0))
        with _unread_refused():
            more = hearing.full and len(file.read(1)) > 0
    if hearing.broken:
        raise Refused([Fault("", "samples that are no numbers of a recording", KINDS)])
    return replace(hearing.done(), goes_on=more)


@contextmanager
def _unread_refused() -> Iterator[None]:
    """Whatever a reader of sounds says is told in our own words."""
    import soundfile

    try:
        yield
    except (soundfile.SoundFileError, RuntimeError, ValueError, TypeError, OSError):
        raise Refused([Fault("", "a file that is neither a picture nor a sound we can read", KINDS)]) from None


class Hearing:
    """Samples heard as they come, until there are enough of them, it took too long, or they are no numbers of a recording."""

    def __init__(self, sample_hz: int, lossless: bool) -> None:
        from uphill_lamp.core.measuring.pieces import Pieces

        self._pieces, self._worked_s = Pieces(sample_hz, lossless), 0.0
        self.broken, self.full = False, False

    @property
    def seconds(self) -> float:
        """How much came so far [s]."""
        return self._pieces.seconds

    def take(self, samples: NDArray[np.float32]) -> None:
        """Hears samples, shape (N, channels)."""
        if not np.isfinite(samples).all() or float(np.abs(samples).max(initial=0.0)) > LOUDEST:
            self.broken = self.full = True
            return
        begun_s = time.process_time()
        self._pieces.take(samples)
        self._worked_s += time.process_time() - begun_s
        self.full = self.seconds >= MOST_SOUND_S or self._worked_s > MOST_HEARING_S

    def done(self) -> Sound:
        """All that was heard."""
        seconds = self.seconds
        return Sound(self._pieces.ended(), seconds, self.full)
