"""Clips decoded once, picture by picture, each looked at as it comes; nothing but figures is held."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np

from uphill_lamp.core.document.faults import Fault, Refused
from uphill_lamp.looking.decoding import FASTEST_HZ, SLOWEST_HZ, Hearing, Sound
from uphill_lamp.looking.watcher import Watched, Watcher

CLIPS = "a clip (WebM, MP4, MOV, MKV, AVI)"
PICTURE_CODECS = {
    "h264",
    "hevc",
    "vp8",
    "vp9",
    "av1",
    "libdav1d",
    "mjpeg",
    "mpeg4",
    "ffv1",
    "rawvideo",
    "prores",
    "dnxhd",
    "huffyuv",
    "png",
}
SOUND_CODECS = ("aac", "opus", "vorbis", "mp3", "flac", "alac", "ac3", "eac3", "libopus", "libvorbis", "mp3float", "pcm_", "amrnb", "amrwb")
LOSSLESS_SOUNDS = ("pcm_", "flac", "alac")
MOST_S, MOST_PICTURES, MOST_PIXELS, LEAST_SIDE_PX = 720.0, 45_000, 9_500_000, 64
MOST_PROCESSOR_S = 200.0  # after so much work what was seen so far has to do
MOST_CORRUPT = 400  # packets that cannot be read, one after another or not
TOLD_S = 0.3  # between two words on how far it is
APART_S = 1.0  # picture and sound that last so much longer than the other have lost something


@dataclass(frozen=True, eq=False)
class Clip:
    """What a clip holds: what was seen, its sound, and what is to be told of the file. Either may be missing."""

    watched: Watched | None
    sound: Sound | None
    notes: tuple[str, ...]


def clip_of(path: Path, container: str, gaze: bool = False, tell: Callable[[float], None] = lambda share: None) -> Clip:
    """What a clip holds, decoded in one pass.

    Args:
        path, container: the file and its kind.
        gaze: whether it is looked for where somebody looks.
        tell: told now and then how much of the file is done, 0-1.

    Raises:
        Refused: if nothing of it can be read, or it is too large.
    """
    import av

    try:
        # The kind is told, so that no playlist is taken for a clip; no address is opened but this file.
        with av.open(str(path), format=container, options={"protocol_whitelist": "file"}, metadata_errors="ignore") as file:
            return _decoded(file, gaze, _Progress(tell, path.stat().st_size))
    except Refused:
        raise
    except (av.error.FFmpegError, ValueError, OSError, OverflowError, IndexError):
        raise Refused([Fault("", "a clip that is broken or cut off", CLIPS)]) from None


def _decoded(file: Any, gaze: bool, progress: _Progress) -> Clip:
    pictures = _chosen(file.streams.video, lambda name: name in PICTURE_CODECS)
    sounds = _chosen(file.streams.audio, lambda name: name.startswith(SOUND_CODECS))
    if pictures is None and sounds is None:
        raise Refused([Fault("", "a file with neither picture nor sound that we can read", CLIPS)])
    watcher = _Pictures(pictures, gaze) if pictures is not None else None
    hearer = _Hearer(sounds) if sounds is not None else None
    for number, frame in enumerate(_frames(file, [stream for stream in (pictures, sounds) if stream is not None], progress)):
        if number > 20 * MOST_PICTURES:
            break
        target = watcher if hasattr(frame, "width") else hearer
        if target is not None:
            target.take(frame)
        if (watcher is None or watcher.full) and (hearer is None or hearer.full):
            break
    watched, sound = watcher.done() if watcher else None, hearer.done() if hearer else None
    if watched is None and sound is None:
        raise Refused([Fault("", "a clip of which nothing can be read", CLIPS)])
    return Clip(watched, sound, tuple(_notes(watcher, watched, sound)))


def _chosen(streams: Any, readable: Any) -> Any:
    """The first stream that can be read, decoded in this one thread."""
    for stream in streams:
        context = stream.codec_context
        if context is None or not readable(context.name):
            continue
        if stream.type == "video":
            wide, high = context.width, context.height
            if wide * high > MOST_PIXELS:
                raise Refused([Fault("", f"pictures of {wide} × {high} px", f"{MOST_PIXELS / 1e6:g} million pixels at most")])
            if 0 < min(wide, high) < LEAST_SIDE_PX:
                raise Refused([Fault("", f"pictures of {wide} × {high} px", f"{LEAST_SIDE_PX} px a side at least")])
        context.thread_count = 1
        context.thread_type = "NONE"
        return stream
    return None


class _Progress:
    """Tells how much of a file is done by where its packets lie, a few times a second at most."""

    def __init__(self, tell: Callable[[float], None], size: int) -> None:
        self._tell, self._size, self._last_s = tell, max(size, 1), 0.0

    def at(self, place: int | None) -> None:
        if place is not None and time.monotonic() - self._last_s > TOLD_S:
            self._last_s = time.monotonic()
            self._tell(min(place / self._size, 1.0))


def _frames(file: Any, streams: list[Any], progress: _Progress) -> Iterator[Any]:
    """Frames of both streams as they come; packets that cannot be read are passed over."""
    import av

    corrupt = 0
    packets = file.demux(streams)
    while True:
        try:
            packet = next(packets)
        except StopIteration:
            return
        except (av.error.FFmpegError, ValueError, OSError):
            return  # the file ends here, whatever it says
        progress.at(packet.pos)
        try:
            yield from packet.decode()
        except (av.error.FFmpegError, ValueError):
            corrupt += 1
            if corrupt > MOST_CORRUPT:
                return


class _Pictures:
    """Takes pictures as they are shown, upright, and has them watched."""

    def __init__(self, stream: Any, gaze: bool) -> None:
        self._watcher: Watcher | None = None
        self._gaze = gaze
        self._codec = stream.codec_context.name
        self.full, self.went_on, self._first_s, self._last_s = False, False, 0.0, -1.0
        self._begun_s = time.process_time()

    def take(self, frame: Any) -> None:
        if self.full:
            self.went_on = True
            return
        if frame.width * frame.height > MOST_PIXELS or min(frame.width, frame.height) < LEAST_SIDE_PX:
            raise Refused([Fault("", f"pictures of {frame.width} × {frame.height} px", f"{MOST_PIXELS / 1e6:g} million pixels at most")])
        at = frame.time
        if at is None or not np.isfinite(at):
            return
        if self._watcher is None:
            self._watcher, self._first_s = Watcher(self._codec in ("ffv1", "rawvideo", "huffyuv", "png"), self._gaze), at
        if at <= self._last_s:
            return  # shown no later than the one before: never seen
        self._last_s = at
        self._watcher.look(frame, at)
        self.full = (
            at - self._first_s > MOST_S or self._watcher.count >= MOST_PICTURES or time.process_time() - self._begun_s > MOST_PROCESSOR_S
        )

    def done(self) -> Watched | None:
        return self._watcher.done() if self._watcher and self._watcher.count else None


class _Hearer:
    """Takes sound as it comes, two channels at most."""

    def __init__(self, stream: Any) -> None:
        self._name = stream.codec_context.name
        self._hearing: Hearing | None = None
        self._resampler: Any = None
        self.full = False

    def take(self, frame: Any) -> None:
        import av

        if self.full or not SLOWEST_HZ <= frame.sample_rate <= FASTEST_HZ:
            self.full = True
            return
        if self._hearing is None:
            layout = "stereo" if frame.layout.nb_channels > 1 else "mono"
            self._hearing = Hearing(frame.sample_rate, self._name.startswith(LOSSLESS_SOUNDS))
            self._resampler = av.AudioResampler(format="fltp", layout=layout, rate=frame.sample_rate)
        for out in self._resampler.resample(frame):
            self._hearing.take(np.ascontiguousarray(out.to_ndarray().T, dtype=np.float32))
        self.full = self._hearing.full

    def done(self) -> Sound | None:
        return None if self._hearing is None or self._hearing.broken else self._hearing.done()


def _notes(pictures: _Pictures | None, watched: Watched | None, sound: Sound | None) -> Iterator[str]:
    if watched is not None and pictures is not None and pictures.went_on:
        yield f"only the first {watched.track.times_s[-1] - watched.track.times_s[0]:.0f} s of the picture are looked at"
    if sound is not None and sound.goes_on:
        yield f"only the first {sound.seconds:.0f} s of the sound are looked at"
    if watched is not None and sound is not None and not sound.goes_on:
        seen_s, heard_s = float(watched.track.times_s[-1] - watched.track.times_s[0]), sound.seconds
        if abs(seen_s - heard_s) > APART_S:
            lost = "picture" if seen_s < heard_s else "sound"
            yield f"the {lost} ends {abs(seen_s - heard_s):.0f} s before the rest: part of the file may be lost"
