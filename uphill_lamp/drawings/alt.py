"""What the far side's picture shows, in words made from the measures, for those who cannot see it."""

from __future__ import annotations

from uphill_lamp.core.appraisal.appraise import Appraisal

SILHOUETTE, DARK, BRIGHT = -2.0, -1.0, 1.0  # of the face's exposure [stops]
SIDED, ABOVE, BELOW, TINTED = 1.0, 1.0, 0.5, 0.006  # from where on light is told [stops, Duv]


def alt_text(appraisal: Appraisal) -> str:
    """Where you are in the picture, how large and how lit; then what else would strike whoever sees it."""
    share, x, exposure = (_value(appraisal, name) for name in ("frame.head_share", "frame.side_position", "light.exposure"))
    if share is None or x is None or exposure is None:
        return "The room; your face is not in the picture."
    where = "in the middle" if 0.42 <= x <= 0.58 else "left of the middle" if x < 0.5 else "right of the middle"
    light = (
        "in silhouette"
        if exposure < SILHOUETTE
        else "too dark"
        if exposure < DARK
        else "too bright"
        if exposure > BRIGHT
        else "well exposed"
    )
    first = f"You, {where}, your head {share * 100:.0f} % of the picture's height, your face {light}."
    more = _more(appraisal)
    return first if not more else f"{first} {more[0].upper()}{more[1:]}."


def _more(appraisal: Appraisal) -> str:
    sides, above, below, view, duv, behind = (
        _value(appraisal, name)
        for name in ("light.sides", "light.from_above", "light.from_below", "frame.view_angle", "light.tint", "light.separation")
    )
    lit = appraisal.lit_scene.face_lx
    phrases = []
    if view is not None and abs(view) > 8:
        phrases.append("seen from below" if view < 0 else "seen from above")
    if sides is not None and sides > SIDED:
        # The picture is not mirrored: your own left is on its right.
        phrases.append(f"the {'left' if lit['left_cheek'] > lit['right_cheek'] else 'right'} of your face in shadow")
    if above is not None and above > ABOVE:
        phrases.append("the eyes in shadow from above")
    if below is not None and below > BELOW:
        phrases.append("lit from below")
    if duv is not None and abs(duv) > TINTED:
        phrases.append("greenish" if duv > 0 else "pinkish")
    if _value(appraisal, "light.glare") is not None and (_value(appraisal, "light.glare") or 0) < 0:
        phrases.append("a bright patch in the glasses")
    if behind is not None and behind > 0:
        phrases.append("what is behind you brighter than you")
    return ", ".join(phrases)


def _value(appraisal: Appraisal, name: str) -> float | None:
    measure = appraisal.measures.get(name)
    return measure.value if measure else None
