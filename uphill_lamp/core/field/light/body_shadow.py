"""What the presenter's body, and the chair, keep off what is behind: how much of a source each place does not see."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.field.light.sources import AreaSource
from uphill_lamp.core.field.light.windows import Source, SunBeam
from uphill_lamp.core.scene.body import Ellipsoid, head_frame, round_shape, squeezes_of
from uphill_lamp.core.scene.chair import padded_m
from uphill_lamp.core.scene.placing import Face, Pane

FINENESS = 4  # spots along each side of a pane
ON_PANE_M = 2e-3  # a place nearer to a pane than this lies on it
SUN_M = 1000.0  # so far off rays of the sun may start


def hidden_share(source: Source, shape: tuple[Ellipsoid, ...], face: Face, places: FloatArray) -> FloatArray:
    """How much of a source the body hides from places, shape (N,) 0-1; a pane is seen from spots all over it, each counting alike.

    Args:
        source: where the light comes from.
        shape: the body, placed relative to the eyes.
        face: where the head is.
        places: shape (N, 3) [m].
    """
    return np.asarray(behind_body(spots_of(source, face), shape, face, places).mean(axis=0))


def also_hidden(share: FloatArray, source: Source, panes: Iterable[Pane], face: Face, places: FloatArray) -> FloatArray:
    """Share of a source hidden by the body, and by the padded parts of a chair as well, shape (N,) 0-1.

    Args:
        share: what the body hides, shape (N,).
        source: where the light comes from.
        panes: the chair's parts.
        face: where the head is.
        places: shape (N, 3) [m].
    """
    return np.asarray(1 - (1 - share) * (1 - behind_panes(spots_of(source, face), panes, places).mean(axis=0)))


def behind_body(spots: FloatArray, shape: tuple[Ellipsoid, ...], face: Face, places: FloatArray) -> NDArray[np.bool_]:
    """Whether a body, placed relative to the eyes, hides spots (K, 3) from places (N, 3) [m], shape (K, N)."""
    frame = head_frame(face)
    start, end = ((rows - face.eyes) @ frame.T for rows in (spots, places))
    hidden = np.zeros((len(spots), len(places)), dtype=bool)
    near = np.flatnonzero(_hidden(round_shape(shape), start, end).any(axis=0))  # most ways pass far from it
    if len(near):
        hidden[:, near] = _hidden(shape, start, end[near])
    return hidden


def _hidden(shape: tuple[Ellipsoid, ...], start: FloatArray, end: FloatArray) -> NDArray[np.bool_]:
    """The same, from the eyes and along the head's axes."""
    squeezes, middles = squeezes_of(shape), np.array([part.middle for part in shape])[:, None]
    # Each part drawn to a ball: what lies in it is hidden; so is a place where the way from a spot comes nearest to its middle between
    # the two, and within it: (s.s) (e-s)^2 - (s.(e-s))^2 < (e-s)^2. Few steps, for the arrays are large.
    start, end = ((rows - middles) @ squeezes.transpose(0, 2, 1) for rows in (start, end))
    from_start, from_end = (start * start).sum(axis=2)[:, :, None], (end * end).sum(axis=2)[:, None]
    together = start @ end.transpose(0, 2, 1)
    before, beyond = from_start - together, from_end - together
    between = (before > 0) & (beyond > 0)
    beyond += before
    beyond *= from_start - 1
    before *= before
    hidden = (between & (beyond < before)) | (from_start < 1) | (from_end < 1)
    return np.asarray(hidden.any(axis=0))


def behind_panes(spots: FloatArray, panes: Iterable[Pane], places: FloatArray) -> NDArray[np.bool_]:
    """Whether padded parts of a chair hide spots (K, 3) from places (N, 3) [m], shape (K, N)."""
    hidden = np.zeros((len(spots), len(places)), dtype=bool)
    for pane in panes:
        hidden |= _crosses(pane, spots, places)
    return hidden


def _crosses(pane: Pane, spots: FloatArray, places: FloatArray) -> NDArray[np.bool_]:
    """Whether the ways from spots (K, 3) to places (N, 3) pass through a padded part, shape (K, N)."""
    before, behind = ((ends - pane.middle) @ pane.normal for ends in (spots, places))
    opposite = (before[:, None] * behind[None] < 0) & (np.abs(behind) > ON_PANE_M)[None]
    share = before[:, None] / np.where(opposite, before[:, None] - behind[None], 1.0)
    across, down = (
        ((spots - pane.middle) @ axis)[:, None] * (1 - share) + ((places - pane.middle) @ axis)[None] * share
        for axis in (pane.right, -pane.up)
    )
    return np.asarray(opposite & (padded_m(pane, across / pane.width_m + 0.5, down / pane.height_m + 0.5) >= 0))


def spots_of(source: Source, face: Face) -> FloatArray:
    """Where a source's light comes from, shape (K, 3) [m]."""
    if isinstance(source, SunBeam):
        return np.array([face.eyes + SUN_M * source.towards])
    return source.patches(FINENESS)[0] if isinstance(source, AreaSource) else np.array([source.place])
