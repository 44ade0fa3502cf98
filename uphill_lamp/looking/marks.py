"""Marks of a face from what the nets face: irises, chin, crown, patches on both sides of the face."""

from __future__ import annotations

import numpy as np

from uphill_lamp.core.measuring.still import Marks, crown_of
from uphill_lamp.looking.faces import Found

CHIN, LOWER = 152, 0.03  # the mesh's chin lies higher than the head's by so much of its height
LEFT_CHEEK, RIGHT_CHEEK = (280, 330, 266, 425, 411, 352), (50, 101, 36, 205, 187, 123)
OVER_EYES = 1.0  # a crown against the chin, from the eyes, where the outline tells none


def marks_of(face: Found) -> Marks:
    """Marks of a face."""
    between, chin = (face.left + face.right) / 2, face.mesh[CHIN]
    eyes_px = float(np.linalg.norm(face.left - face.right))
    crown = crown_of(face.person, between, chin, eyes_px)
    if crown is None:
        crown = between + OVER_EYES * (between - chin)
    chin = chin + LOWER * (chin - crown)
    cheeks = face.mesh[list(LEFT_CHEEK)], face.mesh[list(RIGHT_CHEEK)]
    return Marks(face.left, face.right, chin, crown, cheeks, face.person)
