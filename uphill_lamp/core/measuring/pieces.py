"""A recording heard as it comes, in pieces that end in a pause: however long it is, no more than a piece of it is held."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.measuring import levels
from uphill_lamp.core.measuring.heard import SHORTEST_S, Heard, heard
from uphill_lamp.core.measuring.recording import Recording

MOST_SAMPLES = 1_500_000  # of a channel in a piece: half a minute at 48 kHz, and some 250 MB to hear it in
PAUSE_S = 5.0  # a piece ends in the quietest moment of so long; what remains is as long at least


class Pieces:
    """Hears a recording of one rate, piece by piece."""

    def __init__(self, sample_hz: int, lossless: bool) -> None:
        self.sample_hz, self._lossless = sample_hz, lossless
        self._waiting: list[NDArray[np.float32]] = []
        self._count, self._done, self._heard = 0, 0, list[Heard]()

    @property
    def seconds(self) -> float:
        """How long what came so far is [s]."""
        return (self._done + self._count) / self.sample_hz

    def take(self, samples: NDArray[np.float32]) -> None:
        """Samples as they come, shape (N, channels)."""
        self._waiting.append(samples)
        self._count += len(samples)
        margin = round(PAUSE_S * self.sample_hz)
        while self._count >= MOST_SAMPLES + margin:
            together = np.concatenate(self._waiting)
            end = MOST_SAMPLES - margin + _quietest(together[MOST_SAMPLES - margin : MOST_SAMPLES], self.sample_hz)
            self._waiting = [together[end:].copy()]
            self._hear(together[:end])

    def _hear(self, samples: NDArray[np.float32]) -> None:
        recording = Recording(samples.astype(np.float64), self.sample_hz, self._lossless)
        self._heard.append(heard(recording, self._done / self.sample_hz))
        self._done, self._count = self._done + len(samples), self._count - len(samples)

    def ended(self) -> list[Heard]:
        """All pieces, the last of them heard now; none of a recording too short to be heard."""
        if self._count >= SHORTEST_S * self.sample_hz:
            self._hear(np.concatenate(self._waiting))
        self._waiting, self._count = [], 0
        return self._heard


def _quietest(samples: FloatArray | NDArray[np.float32], sample_hz: int) -> int:
    """Where the quietest frame begins, in samples."""
    powers = levels.frame_powers(samples.mean(axis=1), sample_hz)
    return int(powers.argmin()) * levels.frame_size(sample_hz)
