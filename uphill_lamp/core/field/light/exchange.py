"""How the patches of a room and the cells of boards in it see one another: form factors with what boards hide taken out.

What is thrown straight on a surface is sent on from where on it it falls (cells of WITHIN by WITHIN on a patch of the room, the cells of a board);
what has gone round already, from whole patches. Every cell sends out all it has: columns are brought to that.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.field.light.boards import Board, Boards, visible
from uphill_lamp.core.field.light.patches import Patches
from uphill_lamp.core.locked_lru import LockedLru

WITHIN = 3  # cells along each side of a patch, for the first bounce
LOOKS = 2  # each patch looks out from LOOKS x LOOKS places on it
MOST_BASES, MOST_BYTES = 6, 60_000_000
MOST_MENDED = 2.0  # no column is brought further than so many times up or down
AT_ONCE = 400  # places, which bounds the memory

_bases: LockedLru[tuple[float, ...], FloatArray] = LockedLru(MOST_BASES, MOST_BYTES, lambda made: made.nbytes)


@dataclass(frozen=True, eq=False)
class Exchange:
    """E elements: the P patches of a room, then of each board the D cells of its top and of its underside.

    ``area_m2`` (E,); ``first`` (E, P WITHIN^2 + E - P): form factors to cells of patches and to boards' cells; ``sees`` (E, E) to whole elements.
    """

    area_m2: FloatArray
    first: FloatArray
    sees: FloatArray


def exchange_of(patches: Patches, boards: Boards) -> Exchange:
    """What sees what in a room with boards."""
    key = tuple(patches.size.tolist())
    base, count = _bases.get_or_compute(key, lambda: _first_of(patches)), len(patches.middle)
    area = np.concatenate([patches.area_m2, *(np.repeat(board.cell_m2, 2 * len(board.cells)) for board in boards)])
    within = np.concatenate([np.repeat(patches.area_m2 / WITHIN**2, WITHIN**2), area[count:]])
    first = np.zeros((len(area), count * WITHIN**2 + len(area) - count))
    room = base.astype(float).reshape(count, count, WITHIN**2)
    seen = _seen_shares(patches, boards)
    first[:count, : count * WITHIN**2] = (room if seen is None else room * seen[:, :, None]).reshape(count, -1)
    _with_boards(patches, boards, first)
    caught = area @ first
    first *= np.clip(within / np.maximum(caught, 1e-12), 1 / MOST_MENDED, MOST_MENDED)
    return Exchange(area, first.astype(np.float32), _whole(patches, boards, area, first, seen))


def _first_of(patches: Patches) -> FloatArray:
    """Form factors from whole patches to cells of patches, nothing between them, shape (P, P WITHIN^2)."""
    places = patches.places(LOOKS).reshape(-1, 3)
    normals = np.repeat(patches.normal, LOOKS**2, axis=0)
    made = np.empty((len(patches.middle), len(patches.middle) * WITHIN**2), np.float32)
    for begin in range(0, len(places), AT_ONCE):
        part = slice(begin, begin + AT_ONCE)
        seen = patches.seen_from(places[part], normals[part], WITHIN).reshape(-1, LOOKS**2, made.shape[1]).mean(axis=1)
        made[begin // LOOKS**2 : begin // LOOKS**2 + len(seen)] = seen
    return made


def _seen_shares(patches: Patches, boards: Boards) -> FloatArray | None:
    """Share of each patch that each other sees past the boards, shape (P, P); None where nothing is hidden."""
    shares = None
    places = patches.places(LOOKS)
    for board in boards:
        level = board.pane.middle[2]
        upper, lower = (np.flatnonzero(apart.any(axis=1)) for apart in (places[:, :, 2] > level, places[:, :, 2] < level))
        hidden = board.between(places[upper].reshape(-1, 3), patches.middle[lower]).reshape(len(upper), LOOKS**2, len(lower))
        part = 1 - np.count_nonzero(hidden, axis=1) / LOOKS**2
        shares = np.ones((len(places), len(places))) if shares is None else shares
        shares[np.ix_(upper, lower)] = np.minimum(shares[np.ix_(upper, lower)], part)
        shares[np.ix_(lower, upper)] = np.minimum(shares[np.ix_(lower, upper)], part.T)
    return shares


def _with_boards(patches: Patches, boards: Boards, first: FloatArray) -> None:
    """Writes what boards see, and how they are seen, into ``first``: what two exchange is the same seen from either."""
    count = len(patches.middle)
    at = count
    for board in boards:
        others = tuple(other for other in boards if other is not board)
        inside = np.tile(board.inside(patches.size), 2)
        end = at + len(inside)
        places, facing = board.lit_places(1)
        out = patches.seen_from(places, facing, WITHIN)
        if others and (free := visible(others, places, patches.places(WITHIN).reshape(-1, 3))) is not None:
            out *= free.reshape(out.shape)
        out *= inside[:, None, None]
        first[at:end, : count * WITHIN**2] = out.reshape(len(inside), -1)
        column = slice(count * WITHIN**2 + at - count, count * WITHIN**2 + end - count)
        first[:count, column] = out.sum(axis=2).T * board.cell_m2 / patches.area_m2[:, None]
        _among(patches, boards, board, slice(at, end), first)
        at = end


def _among(patches: Patches, boards: Boards, board: Board, rows: slice, first: FloatArray) -> None:
    """Writes how a board sees the others; a third between two of them is left out."""
    count, begin = len(patches.middle), 0
    for other in boards:
        cells = 2 * len(other.cells)
        if other is not board:
            seen = other.seen_from(*board.lit_places(1))
            first[rows, count * WITHIN**2 + begin : count * WITHIN**2 + begin + cells] = seen * np.tile(other.inside(patches.size), 2)
        begin += cells


def _whole(patches: Patches, boards: Boards, area: FloatArray, first: FloatArray, seen: FloatArray | None) -> FloatArray:
    """Form factors between whole elements: exact ones between patches that nothing parts; exchanges alike from both ends; rows sum to 1."""
    count = len(patches.middle)
    if not boards:
        return patches.sees
    sees = np.concatenate([first[:, : count * WITHIN**2].reshape(len(area), count, -1).sum(axis=2), first[:, count * WITHIN**2 :]], axis=1)
    sees[:count, :count] = patches.sees if seen is None else patches.sees * seen
    exchanged = area[:, None] * sees
    sees = (exchanged + exchanged.T) / (2 * area[:, None])
    return np.asarray(sees / np.maximum(sees.sum(axis=1, keepdims=True), 1e-12))
