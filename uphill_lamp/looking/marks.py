"""Marks of a face from what the nets found: irises, chin, crown, patches on both sides of the face."""

from __future__ import annotations

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.measuring.still import Marks, crown_of
from uphill_lamp.looking.faces import CHIN, FOREHEAD, Found

LOWER = 0.03  # the mesh's chin lies higher than the head's by so much of its height
OVER_FOREHEAD, APART = 0.315, 0.15  # a skull over the mesh's top, against what lies below it; beyond this hair or a hat decides, the more
LEFT_CHEEK, RIGHT_CHEEK = (280, 330, 266, 425, 411, 352), (50, 101, 36, 205, 187, 123)


def marks_of(face: Found) -> Marks:
    """Marks of a face."""
    chin = face.mesh[CHIN]
    crown = _crown(face)
    chin = chin + LOWER * (chin - crown)
    cheeks = face.mesh[list(LEFT_CHEEK)], face.mesh[list(RIGHT_CHEEK)]
    return Marks(face.left, face.right, chin, crown, cheeks, face.person, (face.turn_deg, face.view_deg))


def _crown(face: Found) -> FloatArray:
    """The top of the head: midway between where a skull of this face ends and where the person does; the further the latter lies over the
    former, the nearer to it."""
    chin, forehead = face.mesh[CHIN], face.mesh[FOREHEAD]
    skull = forehead + OVER_FOREHEAD * (forehead - chin)
    outline = crown_of(face.person, (face.left + face.right) / 2, chin, float(np.linalg.norm(face.left - face.right)))
    if outline is None:
        return np.asarray(skull)
    over = float(np.linalg.norm(outline - skull) / np.linalg.norm(skull - chin)) if outline[1] < skull[1] else 0.0
    share = min(max(0.5 * over / APART, 0.5), 1.0)
    return np.asarray(share * outline + (1 - share) * skull)
