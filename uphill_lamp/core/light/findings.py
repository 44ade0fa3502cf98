"""What is wrong in Light, why it matters, and the moves that mend it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from uphill_lamp.core.judging import WANTING, Finding, Measure, Move
from uphill_lamp.core.light import coverings, moves
from uphill_lamp.core.light.falling import Falling, main_source
from uphill_lamp.core.scene.wording import lux


def findings(falling: Falling, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    """All findings of Light, without their moves.

    Args:
        falling: the light of the setup.
        measured: the area's measures by id.
    """
    wanting = {name for name, measure in measured.items() if (measure.utility or 0.0) < WANTING}
    for name, tell in (
        ("light.direct_sun", _sun),
        ("light.exposure", _exposure),
        ("light.face_level", _level),
        ("light.from_above", _above),
        ("light.sides", _sides),
    ):
        if name in wanting:
            title, why = tell(falling, measured[name].value or 0.0)
            yield Finding(name, "light", title, why, (name,))


def moves_for(falling: Falling) -> Iterator[Move]:
    """The moves of Light; which finding each of them mends, its effect tells."""
    yield from moves.overhead_off(falling.setup)
    yield from moves.place_lamps(falling)
    yield from moves.turn_to_window(falling)
    yield from coverings.move_panes(falling.setup)
    yield from moves.buy_lamp(falling)
    yield from moves.fewer_pictures(falling.setup)
    yield from moves.rear_camera(falling.setup)


def _sun(_falling: Falling, share: float) -> tuple[str, str]:
    return f"The sun falls on your face ({round(5 * share)} of 5 places)", "It burns out one part and leaves hard shadows, and you squint."


def _exposure(falling: Falling, stops: float) -> tuple[str, str]:
    if stops > 0:
        return f"Your face comes out {stops:.1f} stops too bright", "Skin loses its shape when the camera shows it near white."
    why = "What is behind you is brighter than you are, so the camera darkens the whole picture."
    if stops < -2:
        return f"You are a silhouette: your face comes out {-stops:.1f} stops too dark", why
    return f"Your face comes out {-stops:.1f} stops too dark", why


def _level(falling: Falling, level_lx: float) -> tuple[str, str]:
    if level_lx > 5000:
        return f"Glaring light on your face ({lux(level_lx)})", "It makes you squint, and the camera cannot hold the bright side."
    return f"Too little light on your face ({lux(level_lx)})", "The camera turns up its gain: the picture turns grainy and smears."


def _above(falling: Falling, stops: float) -> tuple[str, str]:
    return (
        f"The light comes from above ({stops:.1f} stops more on your crown than on your face)",
        "Your eyes lie in shadow and look hollow.",
    )


def _sides(falling: Falling, stops: float) -> tuple[str, str]:
    face, look = falling.face_lx, falling.setup.preferences.look
    if look != "even" and stops < 1:
        return f"Your face is lit flat ({stops:.1f} stops from side to side)", f"The look you chose, {look}, wants one side darker."
    dark = "left" if face["left_cheek"] < face["right_cheek"] else "right"
    source = main_source(falling)
    from_where = "" if source is None else " Most light comes from one side."
    return f"The {dark} half of your face is {stops:.1f} stops darker", f"Half your face is lost to shadow.{from_where}"
