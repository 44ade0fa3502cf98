"""Sculpts all parts and packs them for the app: python -m sculpture.build [PART ...]  (some two minutes).

Packed: vertices in steps of 0.006 cm and normals in 2047ths (in 127ths, light that only grazes a sleeve rippled), faces as differences, all deflated.
"""

from __future__ import annotations

import sys
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import numpy as np

from sculpture import worn
from sculpture.fields import FloatArray
from sculpture.head import head
from sculpture.mesh import Mesh, both_sides, meshed, steps
from sculpture.spectacles import spectacles

PACKED = Path(__file__).parent.parent / "uphill_lamp" / "drawings" / "figure" / "parts.npz"
STEP_CM, BURIED_CM = 0.006, 0.4
Lines = tuple[FloatArray, FloatArray, FloatArray]

FACE: Lines = (
    steps([(-20, 0.7), (-12, 0.45), (-8, 0.40), (-3.5, 0.21), (3.6, 0.18)]),
    both_sides(steps([(0, 0.18), (4.7, 0.18), (6, 0.35), (9, 0.35), (15, 1.0)])),
    steps([(-25, 1.0), (-17, 0.36), (-11.5, 0.24), (-8.8, 0.22), (-7.0, 0.17), (-5, 0.18), (-3, 0.22), (-1, 0.16), (1.3, 0.16), (2.6, 0.26),
    (4, 0.45), (13, 0.7)]),
)  # fmt: skip
HAIR: Lines = (steps([(-24, 0.6), (4, 0.45)]), both_sides(steps([(0, 0.5), (16, 0.5)])), steps([(-27, 0.75), (-8, 0.5), (20, 0.45)]))
CLOTH: Lines = (
    steps([(-24, 1.1), (-12, 0.7), (1, 0.6), (5, 1.1), (24, 1.3), (44, 2.0)]), both_sides(steps([(0, 0.5), (8.5, 0.5), (13, 1.0), (29, 1.3)])),
    steps([(-179, 4.0), (-100, 3.2), (-88, 1.9), (-45, 1.3), (-29, 0.7), (-25, 0.45), (-15, 0.45), (-11, 0.55)]),
)  # fmt: skip
# Of half the fineness, for drafts while something is dragged.
LIGHT: dict[int, Lines] = {
    id(FACE): (
        steps([(-20, 1.1), (-8, 0.75), (-3.5, 0.38), (3.6, 0.32)]), both_sides(steps([(0, 0.32), (4.7, 0.34), (6, 0.6), (9, 0.6), (15, 1.6)])),
        steps([(-25, 1.6), (-14, 0.7), (-8.8, 0.4), (-7.0, 0.32), (-3, 0.36), (-1, 0.28), (1.3, 0.28), (2.6, 0.45), (4, 0.8), (13, 1.1)]),
    ),
    id(HAIR): (steps([(-24, 1.0), (4, 0.85)]), both_sides(steps([(0, 0.9), (16, 0.9)])), steps([(-27, 1.3), (-8, 0.9), (20, 0.85)])),
    id(CLOTH): (
        steps([(-24, 1.8), (24, 1.6), (44, 2.6)]), both_sides(steps([(0, 1.2), (29, 1.9)])),
        steps([(-179, 5.0), (-100, 4.2), (-88, 2.6), (-27, 1.2), (-11, 1.1)]),
    ),
}  # fmt: skip
# For the shadows of the whole body, whose map is as coarse.
COARSE: Lines = (
    steps([(-24, 1.5), (24, 1.5), (44, 3.0)]), both_sides(steps([(0, 1.5), (30, 1.5)])), steps([(-179, 6.0), (-90, 2.5), (-30, 1.6), (20, 1.4)]),
)  # fmt: skip
COARSELY, LIGHTLY, POSTURES = "_coarse", "_light", ("sitting", "standing")
PARTS: dict[str, tuple[Callable[[FloatArray], FloatArray], Lines]] = {
    "head": (head, FACE),
    "short": (worn.short, HAIR),
    "long": (worn.long_, HAIR),
    "tied": (worn.tied, HAIR),
    "covered": (worn.covered, HAIR),
    "hat": (worn.hat, HAIR),
    "sitting": (worn.shirt_sitting, CLOTH),
    "standing": (worn.shirt_standing, CLOTH),
}


def sculpted(name: str) -> Mesh:
    """One part by its name, and how finely by the name's end."""
    if name == "spectacles":
        return spectacles()
    field, lines = PARTS[name.removesuffix(COARSELY).removesuffix(LIGHTLY)]
    return meshed(field, *(COARSE if name.endswith(COARSELY) else LIGHT[id(lines)] if name.endswith(LIGHTLY) else lines))


def packed(mesh: Mesh) -> dict[str, np.ndarray]:
    """A mesh as small whole numbers."""
    return {
        "v": np.round(mesh.vertices / STEP_CM).astype(np.int16),
        "n": np.round(mesh.normals * 2047).astype(np.int16),
        "f": np.diff(mesh.faces.astype(np.int32), axis=0, prepend=np.zeros((1, 3), np.int32)),
    }


def buried() -> dict[str, np.ndarray]:
    """Which of the head's vertices lie well inside each thing worn: nobody ever sees them, and they shade nothing; and which of neck and
    shoulders, where one rises into the other, lie inside the other at all: light does not reach them. As bits."""
    found = {}
    for end in ("", LIGHTLY):
        vertices = sculpted("head" + end).vertices
        for name, (field, _) in PARTS.items():
            if name == "head":
                continue
            deep = field(vertices)
            found[f"head{end}.under_{name}"] = np.packbits(deep < -BURIED_CM)
            if name in POSTURES:
                found[f"head{end}.in_{name}"] = np.packbits(deep < 0)
                found[f"{name}{end}.in_head"] = np.packbits(head(sculpted(name + end).vertices) < 0)
    return found


def main(names: list[str]) -> None:
    """Sculpts the parts named, or all, and writes them beside those that are there."""
    names = names or [name + end for end in ("", LIGHTLY, COARSELY) for name in PARTS] + ["spectacles"]
    kept = {name: made for name, made in np.load(PACKED).items() if ".in_" not in name} if PACKED.exists() else {}
    with ProcessPoolExecutor() as workers:
        for name, mesh in zip(names, workers.map(sculpted, names), strict=True):
            kept |= {f"{name}.{key}": values for key, values in packed(mesh).items()}
            sys.stdout.write(f"{name}: {len(mesh.vertices)} vertices\n")
    np.savez_compressed(PACKED, **kept | buried())
    sys.stdout.write(f"{PACKED}: {PACKED.stat().st_size / 1e6:.1f} MB\n")


if __name__ == "__main__":
    main(sys.argv[1:])
