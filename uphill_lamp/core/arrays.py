"""The arrays of the computation, by type."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

FloatArray = NDArray[np.floating[Any]]  # 64 bits where figures are worked out, 32 where pictures are
