"""Clips made for tests: pictures and a sound packed by the codecs that phones and browsers use."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np


def written(
    path: Path, pictures: list[np.ndarray], fps: int = 25, codec: str = "libx264", times_s: Any = None, sound: Any = None, **options: str
) -> Path:
    """A clip of RGB pictures, at a rate or at given times, with a sound (samples, Hz) beside them if there is one."""
    high, wide = pictures[0].shape[:2]
    base = Fraction(1, 1000 if times_s is not None else fps)
    with av.open(str(path), "w") as file:
        stream = file.add_stream(codec, rate=fps)
        stream.width, stream.height, stream.pix_fmt = wide, high, "yuvj420p" if codec == "mjpeg" else "yuv420p"
        stream.options = options or {"crf": "12", "preset": "ultrafast"}
        stream.codec_context.time_base = base
        heard = file.add_stream("libopus" if path.suffix == ".webm" else "aac", rate=48000) if sound is not None else None
        if heard is not None:
            heard.layout = "mono"
        for number, picture in enumerate(pictures):
            frame = av.VideoFrame.from_ndarray(np.ascontiguousarray(picture), format="rgb24")
            frame.pts, frame.time_base = round(times_s[number] * 1000) if times_s is not None else number, base
            for packet in stream.encode(frame):
                file.mux(packet)
        for packet in stream.encode():
            file.mux(packet)
        if heard is not None:
            part = av.AudioFrame.from_ndarray(np.asarray(sound, np.float32)[None], format="fltp", layout="mono")
            part.rate, part.pts = 48000, 0
            for packet in (*heard.encode(part), *heard.encode()):
                file.mux(packet)
    return path
