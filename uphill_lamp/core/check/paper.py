"""White paper in a picture: how white the camera makes it, and how much light falls on it (docs/method/measuring.md, "White paper")."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.field.light.colour import cct_and_duv
from uphill_lamp.core.measuring.figure import Figure, refused
from uphill_lamp.core.measuring.still import LINEAR

PAPER_REFLECTANCE = 0.80
GREY_CARD, CALIBRATED = 0.18, 15.4  # H_10 = 10/S: what a meter's grey comes out at, ISO 2720's K 12.5 and a usual lens
TOO_BRIGHT, TOO_DARK = 0.85, 0.02  # of full, linear: where a camera bends, and where it is noise
PATCH = 0.012  # of the picture's width, to each side
# Linear sRGB to CIE XYZ (IEC 61966-2-1); its white is D65.
TO_XYZ = np.array([[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]])
LIKELY = ((0.5, 64.0), (1e-6, 60.0), (5.0, 1e6))  # f-number, time, sensitivity
NO_PAPER = "put the mark of the white paper on it"


@dataclass(frozen=True)
class Exposure:
    """How a camera says that it took a picture: f-number, time [s], sensitivity [ISO]."""

    f_number: float
    time_s: float
    iso: float

    @classmethod
    def of(cls, given: object) -> Exposure | None:
        """From three figures, in that order; None where they are none of a camera's."""
        values = [float(part) for part in given if isinstance(part, int | float)] if isinstance(given, list | tuple) else []
        fit = len(values) == 3 and all(low < value < high for value, (low, high) in zip(values, LIKELY, strict=True))
        return cls(*values) if fit else None

    def data(self) -> list[float]:
        """As it is written to a file."""
        return [self.f_number, self.time_s, self.iso]

    @property
    def full_lx(self) -> float:
        """Illuminance under which a white surface of reflectance 1 comes out at a level of 0.18 [lx]: pi 15.4 N2 / (t S)."""
        return math.pi * CALIBRATED * self.f_number**2 / (self.time_s * self.iso)


def paper_figures(picture: NDArray[np.uint8], place: FloatArray | None, exposure: Exposure | None) -> tuple[Figure, Figure]:
    """Colour and illuminance of white paper.

    Args:
        picture: RGB, shape (rows, columns, 3).
        place: of the paper, x and y [px]; None where nobody has said.
        exposure: how it was taken, as far as the file says.
    """
    if place is None:
        return refused("picture.paper_cct", NO_PAPER, "K"), refused("picture.paper_lx", NO_PAPER, "lx")
    rows, columns = picture.shape[:2]
    reach = max(round(PATCH * columns), 2)
    left, top = (int(np.clip(value, 0, side - 1)) for value, side in zip(place, (columns, rows), strict=True))
    patch = picture[max(top - reach, 0) : top + reach + 1, max(left - reach, 0) : left + reach + 1].reshape(-1, 3)
    level = np.median(LINEAR[patch], axis=0)
    luminance = float(TO_XYZ[1] @ level)
    why = (
        "the paper is too bright to tell"
        if float(level.max()) > TOO_BRIGHT
        else "the paper is too dark to tell"
        if luminance < TOO_DARK
        else ""
    )
    if why:
        return refused("picture.paper_cct", why, "K"), refused("picture.paper_lx", why, "lx")
    return _white(level), _light(luminance, exposure)


def _white(level: FloatArray) -> Figure:
    x, y, z = TO_XYZ @ level
    below = x + 15 * y + 3 * z
    cct_k, duv = (float(value[0]) for value in cct_and_duv(np.array([[4 * x / below, 6 * y / below]])))
    if not 1500 < cct_k < 20_000 or abs(duv) > 0.04:
        return refused("picture.paper_cct", "it is no white: another place, or a lamp that is meant to be coloured", "K")
    return Figure("picture.paper_cct", cct_k, "K", 100.0, "fair")


def _light(luminance: float, exposure: Exposure | None) -> Figure:
    if exposure is None:
        return refused("picture.paper_lx", "the file does not say how it was exposed: take a phone's own picture", "lx")
    level_lx = exposure.full_lx / PAPER_REFLECTANCE * luminance / GREY_CARD
    return Figure("picture.paper_lx", level_lx, "lx", level_lx * (math.sqrt(2) - 1), "rough")
