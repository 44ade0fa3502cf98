"""Speaks the dry voices that ship, by Debian's speech synthesiser espeak-ng: text of our own, no room, no noise.

./uphill voices         writes uphill_lamp/listening/voices/*.flac anew
"""

from __future__ import annotations

import subprocess
import tempfile
from pathlib import Path

TEXT = "Welcome to the clock bench. Tonight we open a clock that has stopped, and find out why, step by step."
WORDS_A_MINUTE = 158
VOICES = {"low": "en-gb+m3", "high": "en-gb+f2", "calm": "en-gb-scotland+m7"}
OUT = Path(__file__).parents[1] / "uphill_lamp" / "listening" / "voices"
SAMPLE_HZ = 24000
PEAK = 0.7


def main() -> None:
    """Writes all voices anew."""
    import numpy as np
    import soundfile
    from scipy.signal import resample_poly

    OUT.mkdir(exist_ok=True)
    for name, voice in VOICES.items():
        with tempfile.NamedTemporaryFile(suffix=".wav") as spoken:
            subprocess.run(["espeak-ng", "-v", voice, "-s", str(WORDS_A_MINUTE), "-w", spoken.name, TEXT], check=True)
            samples, rate = soundfile.read(spoken.name)
        samples = resample_poly(samples, SAMPLE_HZ, rate)
        loud = np.flatnonzero(np.abs(samples) > 0.01 * np.abs(samples).max())
        samples = samples[loud[0] : loud[-1] + 1]
        soundfile.write(OUT / f"{name}.flac", samples * PEAK / np.abs(samples).max(), SAMPLE_HZ, subtype="PCM_16")


if __name__ == "__main__":
    main()
