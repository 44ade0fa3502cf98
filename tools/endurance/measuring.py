"""How long it takes to measure what somebody sent, and how much memory: a picture, a sound, and a clip against its decoding alone."""

from __future__ import annotations

import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

LIMIT_S, LONG_LIMIT_S, LIMIT_MB = 10.0, 90.0, 400.0
CLIP_TIMES, CLIP_BESIDE_S = 2.5, 4.0  # of a clip's decoding alone, and so much beside


def files_measured() -> list[str]:
    """Measures one of each kind and prints what it took; the names of those over their limit."""
    missed = []
    begun_s = time.monotonic()
    from uphill_lamp.looking.children import Forker, Heard

    Forker.at_hand().asked([], Heard()).join()
    print(f"the process that measuring children are forked from: up after {time.monotonic() - begun_s:.1f} s, once")
    with tempfile.TemporaryDirectory() as folder:
        for name, path in _files_to_measure(Path(folder)):
            limit_s = LONG_LIMIT_S if path.stem == "long" else LIMIT_S
            limit_s = CLIP_TIMES * decoding_s(path) + CLIP_BESIDE_S if path.suffix == ".mp4" else limit_s
            took_s, held_mb = _measured(path)
            print(f"{name} measured: {took_s:.1f} s of processor time (limit {limit_s:.1f} s), {held_mb:.0f} MB (limit {LIMIT_MB:g})")
            if took_s > limit_s or held_mb > LIMIT_MB:
                missed.append(name)
    return missed


def _measured(path: Path) -> tuple[float, float]:
    """Processor time [s] and most memory [MB] of the child that measures a file."""
    from uphill_lamp.looking.children import Forker, Heard, resident_bytes
    from uphill_lamp.looking.measured import Job

    heard, most = Heard(), 0
    reader = Forker.at_hand().asked([Job(path).data()], heard)
    while reader.is_alive():  # what the kernel tells of a child that has ended counts the process it was forked from too
        most = max(most, resident_bytes(heard.pid) if heard.pid else 0)
        reader.join(0.01)
    return heard.cpu_s, most / 1e6


def _files_to_measure(folder: Path) -> Iterator[tuple[str, Path]]:
    """A picture as large as phones take them, a minute of noise, twelve of them, which is as long as is looked at, and a clip."""
    import numpy as np
    import soundfile
    from PIL import Image

    from uphill_lamp.core.appraisal.appraise import appraise
    from uphill_lamp.core.document import read_setup
    from uphill_lamp.drawings.far_side.render import render
    from uphill_lamp.web.setups.flows import DEMO

    still, sound, long = folder / "still.jpg", folder / "sound.wav", folder / "long.wav"
    document = read_setup((DEMO / "room-that-works.uphill.json").read_bytes())
    Image.fromarray(render(appraise(document)).pixels).resize((4000, 2250)).save(still, quality=92)
    noise = 0.1 * np.random.default_rng(1).standard_normal((48000 * 60, 2))
    soundfile.write(sound, noise, 48000)
    with soundfile.SoundFile(long, "w", 48000, 2) as file:
        for _ in range(12):
            file.write(noise)
    yield "a picture of 9 million pixels", still
    yield "a minute of sound", sound
    yield "twelve minutes of sound", long
    yield "a clip of 15 s, 1920 × 1080 at 30", _clip(folder / "clip.mp4", render(appraise(document)).pixels)


def _clip(path: Path, picture: Any) -> Path:
    """A clip as phones take them: somebody who sways a little, grain, and a sound."""
    import av
    import cv2
    import numpy as np

    random, large = np.random.default_rng(2), cv2.resize(picture, (1960, 1102))
    grain = [random.normal(0, 2, (1080, 1920, 1)) for _ in range(4)]
    with av.open(str(path), "w") as file:
        seen, heard = file.add_stream("libx264", rate=30), file.add_stream("aac", rate=48000)
        seen.width, seen.height, seen.pix_fmt, seen.options = 1920, 1080, "yuv420p", {"preset": "veryfast", "crf": "23"}
        heard.layout = "mono"
        for number in range(450):
            left, top = round(20 + 18 * np.sin(number / 20)), round(10 + 8 * np.cos(number / 27))
            rows = np.clip(large[top : top + 1080, left : left + 1920] + grain[number % 4], 0, 255).astype(np.uint8)
            for packet in seen.encode(av.VideoFrame.from_ndarray(rows, format="rgb24")):
                file.mux(packet)
        part = av.AudioFrame.from_ndarray((0.1 * random.standard_normal((1, 48000 * 15))).astype(np.float32), format="fltp", layout="mono")
        part.rate = 48000
        for packet in (*seen.encode(), *heard.encode(part), *heard.encode()):
            file.mux(packet)
    return path


def decoding_s(path: Path) -> float:
    """Processor time of decoding a clip's pictures and nothing else, in a process and thread of its own [s]."""
    work = (
        "import av, sys, time; begin = time.process_time(); file = av.open(sys.argv[1]); stream = file.streams.video[0]; "
        "stream.codec_context.thread_count = 1; sum(1 for _ in file.decode(stream)); print(time.process_time() - begin)"
    )
    return float(subprocess.run([sys.executable, "-c", work, str(path)], check=True, capture_output=True, text=True).stdout)
