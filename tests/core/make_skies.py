"""Makes tests/reference/light_sky_open.json: daylight through clear panes, from the standard's formulas alone; nothing of the project is used.

    python tests/core/make_skies.py > tests/reference/light_sky_open.json

Sky: ISO 15469:2004/CIE S 011, L(Z, chi) = L0 phi(Z) f(chi), phi = 1 + a exp(b / cos Z), f = 1 + c (exp(d chi) - exp(d pi/2)) + e cos^2 chi, with L0 such that
the whole sky gives the horizontal illuminance of IES daylight availability. The sky is summed in elevation and azimuth by Gauss and Legendre's
rule. A pane is summed over its area by the same rule, piece by piece: cut where horizon and top of what stands outside lie, seen from a place,
so that what is summed is smooth in each piece. Axes: x east, y north, z up; a pane lies in the plane y = 0 and looks to the room at y > 0.
"""

from __future__ import annotations

import json
import math
from itertools import pairwise

import numpy as np

TYPES = {  # a, b, c, d, e of types 12, 7 and 1; then sky in klx (base, rise, power of the sine) and the sun's c
    "clear": ((-1.0, -0.32, 10.0, -3.0, 0.45), (0.8, 15.5, 0.5), 0.21),
    "partly": ((0.0, -1.0, 5.0, -2.5, 0.30), (0.3, 45.0, 1.0), 0.80),
    "overcast": ((4.0, -0.70, 0.0, -1.0, 0.0), (0.3, 21.0, 1.0), None),
}
GROUND = 0.2
NODES, WEIGHTS = np.polynomial.legendre.leggauss(80)


def over(low: float, high: float) -> tuple[np.ndarray, np.ndarray]:
    """Nodes and weights between two ends."""
    return (high + low) / 2 + (high - low) / 2 * NODES, (high - low) / 2 * WEIGHTS


def relative(kind: str, up: np.ndarray, near: np.ndarray) -> np.ndarray:
    """phi f for sines of elevation and cosines to the sun."""
    a, b, c, d, e = TYPES[kind][0]
    chi = np.arccos(np.clip(near, -1, 1))
    return (1 + a * np.exp(b / up)) * (1 + c * (np.exp(d * chi) - math.exp(d * math.pi / 2)) + e * np.cos(chi) ** 2)


def sky_of(kind: str, sun: np.ndarray) -> tuple[float, float, float]:
    """L0 [cd/m2], horizontal illuminance of the sky and normal one of the sun [lx]."""
    rise = math.asin(sun[2])
    base, more, power = TYPES[kind][1]
    horizontal = 1000 * (base + more * math.sin(rise) ** power)
    turbidity = TYPES[kind][2]
    beam = 0.0 if turbidity is None else 127_500 * math.exp(-turbidity / math.sin(rise))
    whole = 0.0
    for low, high in ((0.0, rise), (rise, math.pi / 2)):  # cut at the sun, where f has its peak
        tilt, by_tilt = over(low, high)
        for start in (0.0, math.pi):
            turn, by_turn = over(start, start + math.pi)
            t, p = np.meshgrid(tilt, turn, indexing="ij")
            near = np.sin(t) * math.sin(rise) + np.cos(t) * math.cos(rise) * np.cos(p)
            whole += float(by_tilt @ (relative(kind, np.sin(t), near) * np.sin(t) * np.cos(t)) @ by_turn)
    return horizontal / whole, horizontal, beam


def through(case: dict, place: np.ndarray, normal: np.ndarray) -> float:
    """Illuminance at a place from what is seen through a case's pane [lx]."""
    azimuth, rise = math.radians(case["sun_azimuth_deg"]), math.radians(case["sun_elevation_deg"])
    sun = np.array([math.sin(azimuth) * math.cos(rise), math.cos(azimuth) * math.cos(rise), math.sin(rise)])
    zenith, horizontal, beam = sky_of(case["sky"], sun)
    ground = GROUND * (horizontal + beam * sun[2]) / math.pi
    left, foot, wide, high = (case["window"][key] for key in ("left_m", "sill_m", "width_m", "height_m"))
    top_of_outside = place[2] + place[1] * math.tan(math.radians(case["obstruction_deg"]))  # a long row parallel to the wall
    cuts = sorted({foot, foot + high, *(cut for cut in (place[2], top_of_outside) if foot < cut < foot + high)})
    level = 0.0
    for low, up in pairwise(cuts):
        x, by_x = over(left, left + wide)
        z, by_z = over(low, up)
        spots = np.stack(np.broadcast_arrays(x[None], 0.0, z[:, None]), axis=-1)
        beyond = spots - place
        away = np.linalg.norm(beyond, axis=-1)
        rays = beyond / away[..., None]
        open_sky = (low + up) / 2 > max(place[2], top_of_outside)
        seen = zenith * relative(case["sky"], np.maximum(rays[..., 2], 1e-3), rays @ sun) if open_sky else np.full(away.shape, ground)
        facing = np.maximum(rays @ normal, 0) * np.maximum(-rays[..., 1], 0)
        level += float(by_z @ (seen * facing / away**2) @ by_x)
    return case["transmittance"] * level


def made() -> list[dict]:
    """Cases drawn once and for all, each with five places such as a face has."""
    draw, cases = np.random.default_rng(15469), []
    for number in range(12):
        kind = ("clear", "partly", "overcast")[number % 3]
        window = {"left_m": round(draw.uniform(-1.5, -0.3), 2), "sill_m": round(draw.uniform(0.0, 1.1), 2),
                  "width_m": round(draw.uniform(0.6, 2.4), 2), "height_m": round(draw.uniform(0.7, 1.9), 2)}  # fmt: skip
        case = {"sky": kind, "sun_elevation_deg": round(draw.uniform(6, 62), 1), "sun_azimuth_deg": round(draw.uniform(0, 360), 1), "window": window,
                "transmittance": round(draw.uniform(0.55, 0.85), 2), "obstruction_deg": float(draw.choice([0, 0, 10, 25, 40])), "samples": []}  # fmt: skip
        eyes = np.array([draw.uniform(-1.2, 1.2), draw.uniform(0.9, 3.2), draw.uniform(1.1, 1.7)])
        facing = math.radians(draw.uniform(-75, 75))  # off straight to the window
        ahead, left = np.array([math.sin(facing), -math.cos(facing), 0.0]), np.array([math.cos(facing), math.sin(facing), 0.0])
        up, half = np.array([0.0, 0.0, 1.0]), math.sqrt(0.5)
        side = math.radians(50)
        for normal in (ahead, math.cos(side) * ahead + math.sin(side) * left, math.cos(side) * ahead - math.sin(side) * left,
                       half * (ahead + up), half * (ahead - up)):  # fmt: skip
            place = eyes + 0.05 * normal
            case["samples"].append({"place_m": place.round(4).tolist(), "normal": normal.round(6).tolist(),
                                    "direct_lx": round(through(case, place.round(4), normal.round(6)), 3)})  # fmt: skip
        cases.append(case)
    return cases


if __name__ == "__main__":
    print(json.dumps({"cases": made()}, indent=1))
