"""A recording, or a piece of one."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.measuring import faults


@dataclass(frozen=True, eq=False)
class Recording:
    """Samples of shape (N, channels), full scale 1; ``lossless`` where nothing was thrown away on the way."""

    samples: FloatArray
    sample_hz: int
    lossless: bool = True

    @property
    def mono(self) -> FloatArray:
        """The mean of the channels that carry something, shape (N,)."""
        dead = faults.dead_channels((self.samples**2).mean(axis=0))
        alive = [index for index in range(self.samples.shape[1]) if index + 1 not in dead]
        return np.asarray(self.samples[:, alive].mean(axis=1))
