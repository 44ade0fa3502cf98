"""Straight lines in a picture, outside the person."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray

LEAST_PX = 60.0
BESIDE = 0.2  # a pixel is surely not the person below this


def segments_of(picture: NDArray[np.uint8], person: FloatArray | None = None) -> FloatArray:
    """Straight lines of 60 px and more whose middle is not on the person, shape (N, 4): x and y of both ends [px].

    Args:
        picture: RGB.
        person: how much each pixel is the person, shape (rows, columns) 0-1.
    """
    grey = cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY)
    detected = cv2.createLineSegmentDetector(cv2.LSD_REFINE_STD).detect(grey)[0]
    if detected is None:
        return np.zeros((0, 4))
    lines = np.asarray(detected, float).reshape(-1, 4)
    lines = lines[np.hypot(lines[:, 2] - lines[:, 0], lines[:, 3] - lines[:, 1]) >= LEAST_PX]
    if person is None or not len(lines):
        return lines
    middles = ((lines[:, :2] + lines[:, 2:]) / 2).astype(int)
    rows, columns = person.shape
    return lines[person[np.clip(middles[:, 1], 0, rows - 1), np.clip(middles[:, 0], 0, columns - 1)] < BESIDE]
