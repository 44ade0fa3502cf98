"""Samples of the body's picture: what colour each is of, and the light on it, compiled."""

from __future__ import annotations

import numpy as np

from uphill_lamp.drawings.figure.compiled import compiled

SKIN, CLOTH, LEGS = 0, 3, 6
FRONT_M, TURNED = np.float32(-0.062), np.float32(0.12)  # from where and how far turned the skin carries the face's paint
# The neckline of the tops, as sculpture/worn.py cuts it: middle back, longer in front, shorter behind, narrower aside, radius, foot [m].
COLLAR = np.array([0.094, 1.12, 0.98, 0.94, 0.074, -0.30], np.float32)
EYE_M, EYE_REACH_M, EYE_FRONT_M = np.float32(0.0315), np.float32(0.0060), np.float32(0.0012)
HEM_M = np.float32(0.008)
BODY_M = np.float32(-0.15)  # what is of skin and lies below this is painted as a top is
# Where a top ends and sleeves do: hips, how far aside hanging arms are and how far down their hands begin, how far forward those of arms that lie.
HIPS_M, ASIDE_M, HANGING_M, LYING_M, LAP_M = (np.float32(value) for value in (-0.70, 0.195, -0.755, 0.172, -0.62))


@compiled
def coloured(which, shares, faces, rest, normals, kind, tones, paint, corner, grain, cloth, out, eye):  # type: ignore[no-untyped-def]
    """Albedo of each sample.

    Args:
        which: triangle of each sample, shape (N,) int32; negative for none.
        shares: of its first two corners, shape (N, 2) float32.
        faces, rest, normals, kind: the figure's.
        tones: albedo of each kind, and of the legs, shape (7, 3) float32.
        paint: the face's albedo over its front, shape (rows, columns, 3) float32.
        corner: half width, top, foot of that [m], shape (3,) float32.
        grain: how much hair varies, 0-1.
        cloth: pattern (0 plain, 1 stripes, 2 checks) and pitch [m], shape (2,) float32.
        out: shape (N, 3) float32; written to.
        eye: whether it is of an eye's ball, shape (N,) uint8; written to.
    """
    rows, columns = paint.shape[0], paint.shape[1]
    for i in range(which.shape[0]):
        if which[i] < 0:
            continue
        a, b, c = faces[which[i], 0], faces[which[i], 1], faces[which[i], 2]
        u, v = shares[i, 0], shares[i, 1]
        w = np.float32(1) - u - v
        x = rest[a, 0] * u + rest[b, 0] * v + rest[c, 0] * w
        y = rest[a, 1] * u + rest[b, 1] * v + rest[c, 1] * w
        z = rest[a, 2] * u + rest[b, 2] * v + rest[c, 2] * w
        k = kind[a]
        tint = np.float32(1)
        if k == SKIN:
            ahead = normals[a, 0] * u + normals[b, 0] * v + normals[c, 0] * w
            if x > FRONT_M and ahead > TURNED and abs(y) < corner[0] and z < corner[1] and z > corner[2]:
                beside = abs(y) - EYE_M
                eye[i] = 1 if beside * beside + z * z < EYE_REACH_M**2 and x < EYE_FRONT_M else 0
                across = (y + corner[0]) / (2 * corner[0]) * (columns - 1.001)
                down = (corner[1] - z) / (corner[1] - corner[2]) * (rows - 1.001)
                m, n = int(across), int(down)
                p, q = across - m, down - n
                for channel in range(3):
                    upper = paint[n, m, channel] * (1 - p) + paint[n, m + 1, channel] * p
                    lower = paint[n + 1, m, channel] * (1 - p) + paint[n + 1, m + 1, channel] * p
                    out[i, channel] = upper * (1 - q) + lower * q
                continue
        elif k == 1:
            turn = np.arctan2(y - np.float32(0.02), z + np.float32(0.02))
            fine = np.sin(turn * 210 + x * 60) * np.sin(turn * 83 + x * 140 + 1)
            tint = 1 + grain * fine
        if k == CLOTH or (k == SKIN and z < BODY_M):
            fore = x + COLLAR[0]
            wide = COLLAR[1] if fore > 0 else COLLAR[2]
            out_m = np.sqrt((fore / wide) ** 2 + (y * COLLAR[3]) ** 2) - COLLAR[4]
            k = np.uint8(CLOTH)
            hand = (x > LYING_M and z > LAP_M) or (abs(y) > ASIDE_M and z < HANGING_M)
            if hand or (out_m < 0 and z > COLLAR[5]):
                k = np.uint8(SKIN)
            elif z < HIPS_M and abs(y) < ASIDE_M:
                k = np.uint8(LEGS)
            elif out_m < HEM_M and z > COLLAR[5]:
                tint = np.float32(0.78)
        if k == CLOTH and cloth[0] > 0:
            dark = np.sin(2 * np.pi * z / cloth[1]) > 0
            if cloth[0] > 1 and np.sin(2 * np.pi * y / cloth[1]) > 0:
                dark = not dark
            tint = np.float32(0.45) if dark else np.float32(1.35)
        for channel in range(3):
            out[i, channel] = tones[k, channel] * tint


@compiled
def lit(which, shares, first, faces, falls, albedo, sheen, fine, begin, end, out):  # type: ignore[no-untyped-def]
    """Luminance of the body in the pixels of rows ``begin`` to ``end``: E albedo / pi and what its surface throws back.

    Args:
        which, shares: of the body's samples alone, row by row, shapes (N,) int32 and (N, 2) float32.
        first: where in them each row of samples begins, and their columns, shapes (rows + 1,) and (N,).
        faces: shape (F, 3) int32.
        falls: light on each vertex, shape (V, 3) float32 [lx].
        albedo: of each sample, shape (N, 3) float32.
        sheen: luminance added at each vertex, shape (V, 3) float32 [cd/m2].
        fine: samples a side of a pixel.
        out: shape (pixel rows, pixel columns, 3) float32 [cd/m2]; added to.
    """
    per_sr = np.float32(1 / np.pi)
    part = np.float32(1) / (fine * fine)
    starts, columns = first
    for row in range(begin * fine, end * fine):
        for i in range(starts[row], starts[row + 1]):
            a, b, c = faces[which[i], 0], faces[which[i], 1], faces[which[i], 2]
            u, v = shares[i, 0], shares[i, 1]
            w = np.float32(1) - u - v
            column = columns[i] // fine
            for channel in range(3):
                light = falls[a, channel] * u + falls[b, channel] * v + falls[c, channel] * w
                shine = sheen[a, channel] * u + sheen[b, channel] * v + sheen[c, channel] * w
                out[row // fine, column, channel] += part * (light * albedo[i, channel] * per_sr + shine)


@compiled
def sheen(places, normals, level, spot, lens, gloss, power, begin, end, out):  # type: ignore[no-untyped-def]
    """What a source's light throws back at the skin's surface towards the lens, for vertices ``begin`` to ``end``.

    Args:
        places, normals: shapes (V, 3) float32.
        level: the source's light on each, shape (V,) float32 [lx].
        spot: its middle, shape (3,) float32 [m].
        lens: shape (3,) float32 [m].
        gloss: reflectance straight on of each vertex, shape (V,) float32.
        power: how tight the lobe is, shape (V,) float32.
        out: shape (V,) float32 [cd/m2]; written to.
    """
    for i in range(begin, end):
        if level[i] <= 0 or gloss[i] <= 0:
            continue
        lx, ly, lz = spot[0] - places[i, 0], spot[1] - places[i, 1], spot[2] - places[i, 2]
        vx, vy, vz = lens[0] - places[i, 0], lens[1] - places[i, 1], lens[2] - places[i, 2]
        ll = 1 / np.sqrt(lx * lx + ly * ly + lz * lz + np.float32(1e-9))
        vl = 1 / np.sqrt(vx * vx + vy * vy + vz * vz + np.float32(1e-9))
        lx, ly, lz, vx, vy, vz = lx * ll, ly * ll, lz * ll, vx * vl, vy * vl, vz * vl
        hx, hy, hz = lx + vx, ly + vy, lz + vz
        hl = 1 / np.sqrt(hx * hx + hy * hy + hz * hz + np.float32(1e-9))
        nh = (normals[i, 0] * hx + normals[i, 1] * hy + normals[i, 2] * hz) * hl
        vh = (vx * hx + vy * hy + vz * hz) * hl
        if nh <= 0:
            continue
        edge = 1 - max(vh, np.float32(0))
        fresnel = gloss[i] + (1 - gloss[i]) * edge * edge * edge * edge * edge
        lobe = (power[i] + 2) / np.float32(8 * np.pi) * nh ** power[i]
        out[i] = level[i] * fresnel * lobe / max(vh, np.float32(0.2))


@compiled
def before(behind, covers, body):  # type: ignore[no-untyped-def]
    """Puts a body over what is behind it.

    Args:
        behind: shape (rows, columns, 3) float32; written to.
        covers: the body's share of each pixel, shape (rows, columns) float32.
        body: its light times that, shape (rows, columns, 3) float32.
    """
    for row in range(covers.shape[0]):
        for column in range(covers.shape[1]):
            open_ = np.float32(1) - covers[row, column]
            for channel in range(3):
                behind[row, column, channel] = behind[row, column, channel] * open_ + body[row, column, channel]
