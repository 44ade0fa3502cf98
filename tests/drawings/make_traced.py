"""Makes tests/reference/traced_face.json: light on the sculpted face by a path tracer. Not a test; run by hand where it is installed.

    pip install mitsuba && python -m tests.drawings.make_traced

The tracer gets the same mesh and the same five lights: straight light by itself, as each source's light is taken, and what the body,
throwing back REFLECTANCE of it all over, hands on to itself.
"""

from __future__ import annotations

import json
import tempfile
from pathlib import Path
from typing import Any

import numpy as np

FILE = Path(__file__).parent.parent / "reference" / "traced_face.json"
REFLECTANCE, SAMPLES, AWAY_M, DEEP = 0.5, 4096, 0.004, 8
# name: place on the average head (forward, left, up of the eyes) [m], and whether it lies in a fold
POINTS = {
    "forehead": ((0.010, 0.0, 0.050), False), "left_brow": ((0.004, 0.030, 0.036), False), "right_brow": ((0.004, -0.030, 0.036), False),
    "nose_bridge": ((0.016, 0.0, -0.012), False), "nose_tip": ((0.030, 0.0, -0.040), False), "left_cheekbone": ((-0.006, 0.042, -0.022), False),
    "right_cheekbone": ((-0.006, -0.042, -0.022), False), "left_cheek": ((-0.006, 0.040, -0.055), False), "right_cheek": ((-0.006, -0.040, -0.055), False),
    "chin": ((0.007, 0.0, -0.103), False), "under_nose": ((0.010, 0.0, -0.061), True), "under_lip": ((0.006, 0.0, -0.089), True),
    "left_of_nose": ((0.006, 0.0165, -0.040), True), "right_of_nose": ((0.006, -0.0165, -0.040), True), "left_socket": ((-0.002, 0.020, 0.015), True),
    "right_socket": ((-0.002, -0.020, 0.015), True), "throat": ((-0.045, 0.0, -0.135), True),
}  # fmt: skip


def body() -> Any:
    """The bare average figure, eyes 1.2 m up, looking along x."""
    from tests.setups import demo, put
    from uphill_lamp.core.scene.placing import Face
    from uphill_lamp.drawings.figure.fitted import figure_of
    from uphill_lamp.drawings.figure.lit import Stood

    presenter = put(demo(), presenter__hair="none", presenter__glasses="none", presenter__brim_m=0.0, presenter__head={}).presenter
    return Stood(figure_of(presenter), Face(np.array([0.0, 0.0, 1.2]), np.array([1.0, 0, 0]), np.array([0, 1.0, 0]), presenter))


def lights() -> dict[str, Any]:
    """The five: a soft panel ahead, a bulb aside, a bulb above, a large pane aside, and even light from all round (None)."""
    from uphill_lamp.core.field.light.sources import AreaSource, PointSource
    from uphill_lamp.core.scene.placing import Pane
    from uphill_lamp.core.scene.vectors import UP

    def pane(middle: tuple[float, float, float], width_m: float, height_m: float) -> Pane:
        place = np.array(middle)
        normal = np.array([-place[0], -place[1], 0.0]) / np.hypot(*place[:2])
        return Pane(place, normal, np.cross(UP, normal), UP, width_m, height_m)

    def bulb(*place: float) -> PointSource:
        return PointSource("", np.array(place), np.array([1.0, 0, 0]), np.array([0, 1.0, 0]), 800.0, 360.0, 3000.0)

    return {"panel": AreaSource("", pane((0.9, 0.0, 1.35), 0.4, 0.3), 2000.0, 4000.0), "bulb_aside": bulb(0.8, 0.6, 1.45), "bulb_above": bulb(0.3, 0.0, 2.1),
            "pane_aside": AreaSource("", pane((0.7, 1.4, 1.4), 1.2, 1.2), 1500.0, 6500.0), "all_round": None}  # fmt: skip


def spots(stood: Any) -> tuple[np.ndarray, np.ndarray]:
    """Where the POINTS lie: three corners each (N, 3) and their shares (N, 3). Well within triangles: rays may slip through edges."""
    corners = []
    for place, _ in POINTS.values():
        vertex = int(np.linalg.norm(stood.figure.rest - np.array(place), axis=1).argmin())
        triangle = stood.figure.faces[(stood.figure.faces == vertex).any(axis=1)][0]
        corners.append([vertex, *triangle[triangle != vertex]])
    return np.array(corners), np.repeat([[0.8, 0.1, 0.1]], len(corners), axis=0)


def _emitter(mi: Any, source: Any) -> dict[str, Any]:
    from uphill_lamp.core.field.light.sources import AreaSource
    from uphill_lamp.core.scene.view import LAMP_RADIUS_M

    if source is None:
        return {"type": "constant", "radiance": {"type": "rgb", "value": 100.0}}
    if isinstance(source, AreaSource):
        pane = source.pane
        turned = np.eye(4)
        turned[:3, 0], turned[:3, 1], turned[:3, 2], turned[:3, 3] = (
            pane.right * pane.width_m / 2,
            pane.up * pane.height_m / 2,
            pane.normal,
            pane.middle,
        )
        return {"type": "rectangle", "to_world": mi.ScalarTransform4f(turned),
                "light": {"type": "area", "radiance": {"type": "rgb", "value": source.luminance_cd_m2}}}  # fmt: skip
    radiance = source.flux_lm / (4 * np.pi) / (np.pi * LAMP_RADIUS_M**2)
    return {
        "type": "sphere",
        "center": source.place.tolist(),
        "radius": LAMP_RADIUS_M,
        "light": {"type": "area", "radiance": {"type": "rgb", "value": radiance}},
    }


def _mesh(folder: str, stood: Any) -> str:
    vertices = np.concatenate([stood.places, stood.normals], axis=1).astype("<f4")
    faces = np.zeros(len(stood.figure.faces), dtype=[("n", "u1"), ("v", "<i4", 3)])
    faces["n"], faces["v"] = 3, stood.figure.faces
    head = "ply\nformat binary_little_endian 1.0\n" + f"element vertex {len(vertices)}\n"
    head += "".join(f"property float {name}\n" for name in ("x", "y", "z", "nx", "ny", "nz"))
    head += f"element face {len(faces)}\nproperty list uchar int vertex_indices\nend_header\n"
    file = Path(folder) / "body.ply"
    file.write_bytes(head.encode() + vertices.tobytes() + faces.tobytes())
    return str(file)


def main() -> None:
    import mitsuba as mi

    mi.set_variant("scalar_rgb")
    stood = body()
    corners, shares = spots(stood)
    places, normals = (np.einsum("nk,nkc->nc", shares, values[corners].astype(float)) for values in (stood.places, stood.normals))
    traced: dict[str, list[float]] = {}
    handed: dict[str, list[float]] = {}
    with tempfile.TemporaryDirectory() as folder:
        mesh = _mesh(folder, stood)
        for name, source in lights().items():
            scene: dict[str, Any] = {
                "type": "scene", "emitter": _emitter(mi, source),
                "body": {"type": "ply", "filename": mesh, "bsdf": {"type": "twosided", "on_it": {"type": "diffuse",
                "reflectance": {"type": "rgb", "value": REFLECTANCE}}}},
            }  # fmt: skip
            for number, (place, normal) in enumerate(zip(places, normals, strict=True)):
                scene[f"meter_{number}"] = {
                    "type": "radiancemeter", "origin": (place + AWAY_M * normal).tolist(), "direction": (-normal).tolist(),
                    "film": {"type": "hdrfilm", "width": 1, "height": 1, "rfilter": {"type": "box"}, "pixel_format": "luminance"},
                    "sampler": {"type": "independent", "sample_count": SAMPLES},
                }  # fmt: skip
            straight, whole = (
                [float(np.array(mi.render(loaded, sensor=number)).mean()) * np.pi / REFLECTANCE for number in range(len(places))]
                for loaded in (mi.load_dict(scene | {"integrator": {"type": "path", "max_depth": deep}}) for deep in (2, DEEP))
            )
            traced[name] = [round(value, 3) for value in straight]
            handed[name] = [round(after - before, 3) for before, after in zip(straight, whole, strict=True)]
            print(name, traced[name], handed[name])
    FILE.write_text(
        json.dumps(
            {
                "tracer": f"mitsuba {mi.__version__}, path, {SAMPLES} samples",
                "points": list(POINTS),
                "traced_lx": traced,
                "handed_on_lx": handed,
            },
            indent=1,
        )
        + "\n"
    )


if __name__ == "__main__":
    main()
