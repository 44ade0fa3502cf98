"""What is wrong in Light, why it matters, and the moves that mend it."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Set
from dataclasses import dataclass
from functools import cached_property

from uphill_lamp.core.areas.light import accent_moves as accents
from uphill_lamp.core.areas.light import colour_moves as whiter
from uphill_lamp.core.areas.light import diffusion_moves as softer
from uphill_lamp.core.areas.light import exposure_and_backdrop_moves as pictured
from uphill_lamp.core.areas.light import glare_moves as shining
from uphill_lamp.core.areas.light import lamp_moves as moves
from uphill_lamp.core.areas.light import rim_moves as rims
from uphill_lamp.core.areas.light import white_balance
from uphill_lamp.core.areas.light import window_covering_moves as coverings
from uphill_lamp.core.areas.light.glare import mirrored
from uphill_lamp.core.areas.light.key_light import key_light
from uphill_lamp.core.areas.light.measures import BANDS_SHOW, COLOUR, COLOURED_SIDES
from uphill_lamp.core.field.camera.metering import Metered
from uphill_lamp.core.field.camera.spectral_mix import SpectralMix
from uphill_lamp.core.field.light.lit_scene import LitScene, main_source
from uphill_lamp.core.field.light.windows import Source
from uphill_lamp.core.judging import Finding, Measure, Move
from uphill_lamp.core.scene.wording import in_stops, kelvin, lux, percent, sentence, the, times


def moves_beside(lit_scene: LitScene, metered: Metered) -> Iterator[Move]:
    """What mends the matter that no score holds."""
    yield from white_balance.moves_for(lit_scene, SpectralMix(lit_scene, metered))


Told = tuple[str, str]  # title and why it matters


WALLS = "walls and ceiling"


@dataclass(frozen=True)
class Seen:
    """What the words of Light are made from."""

    lit_scene: LitScene
    metered: Metered

    @cached_property
    def mixture(self) -> SpectralMix:
        """What the light is made of."""
        return SpectralMix(self.lit_scene, self.metered)

    def name_of(self, source: Source | None) -> str:
        """What a source is called in the setup."""
        setup = self.lit_scene.setup
        known = {thing.id: thing.name for thing in (*setup.lights, *setup.screens, *setup.reflectors, *setup.room.windows)}
        return WALLS if source is None else the(known.get(source.id.removesuffix("/sun"), source.id))


def _many(what: str) -> bool:
    return what == WALLS or what.endswith("s")


def _s(what: str) -> str:
    return "" if _many(what) else "s"


def _is(what: str) -> str:
    return "are" if _many(what) else "is"


def _off(what: str) -> str:
    return f"off {what}" if what == WALLS else f"from {what}"


def findings(lit_scene: LitScene, metered: Metered, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    """All findings of Light, without their moves.

    Args:
        falling: the light of the setup.
        metered: what its camera makes of it.
        measured: the area's measures by id.
    """
    wanting, seen = wanting_of(measured), Seen(lit_scene, metered)
    for name, tell in _TOLD.items():
        if name in wanting:
            title, why = tell(seen, measured[name].value or 0.0)
            yield Finding(name, "light", title, why, TOGETHER.get(name, (name,)))
    if (finding := white_balance.told(lit_scene, seen.mixture)) is not None:
        title, why, severity = finding
        yield Finding("light.white_balance", "light", title, why, (), severity=severity)


def wanting_of(measured: Mapping[str, Measure]) -> set[str]:
    """Ids of the measures that are visibly off."""
    return {name for name, measure in measured.items() if measure.wanting}


def moves_for(lit_scene: LitScene, metered: Metered, wanting: Set[str]) -> Iterator[Move]:
    """The moves of Light; which finding each of them mends, its effect tells.

    Args:
        falling: the light of the setup.
        metered: what its camera makes of it.
        wanting: measures that are visibly off; moves that could mend none of them are not worked out.
    """
    if wanting & BY_PLACE:
        yield from moves.overhead_off(lit_scene)
        yield from moves.place_lamps(lit_scene)
        yield from moves.turn_to_window(lit_scene)
        yield from coverings.move_panes(lit_scene)
        yield from coverings.lamp_for_window(lit_scene)
        yield from moves.borrow_lamp(lit_scene)
        yield from moves.buy_lamp(lit_scene)
        yield from moves.fewer_pictures(lit_scene.setup)
        yield from moves.rear_camera(lit_scene.setup)
    yield from softer.moves_for(lit_scene, wanting)
    yield from whiter.moves_for(SpectralMix(lit_scene, metered), wanting)
    yield from pictured.moves_for(lit_scene, metered, wanting)
    yield from shining.moves_for(lit_scene, wanting)
    yield from accents.moves_for(SpectralMix(lit_scene, metered), wanting)
    if "light.rim" in wanting:
        yield from rims.rim_lights(lit_scene)


def _sun(_: Seen, share: float) -> Told:
    return f"The sun falls on your face ({round(5 * share)} of 5 places)", "It burns out one part and leaves hard shadows, and you squint."


def _exposure(_: Seen, stops: float) -> Told:
    if stops > 0:
        return f"Your face comes out {times(stops)} too bright", "Skin loses its shape when the camera shows it near white."
    why = "What is behind you is brighter than you are, so the camera darkens the whole picture."
    if stops < -2:
        return f"You are a silhouette: your face comes out {times(stops)} too dark", why
    return f"Your face comes out {times(stops)} too dark", why


def _level(_: Seen, level_lx: float) -> Told:
    if level_lx > 5000:
        return f"Glaring light on your face ({lux(level_lx)})", "It makes you squint, and the camera cannot hold the bright side."
    return f"Too little light on your face ({lux(level_lx)})", "The camera turns up its gain: the picture turns grainy and smears."


def _above(_: Seen, stops: float) -> Told:
    return (
        f"Most light comes from above: your crown gets {times(stops)} what your face gets",
        "Your eyes lie in shadow and look hollow.",
    )


def _sides(seen: Seen, stops: float) -> Told:
    face, look = seen.lit_scene.face_lx, seen.lit_scene.setup.preferences.look
    if look in ("shaped", "dramatic") and stops < 1:
        return f"Your face is lit flat (only {in_stops(stops)} from side to side)", "The light you chose wants one side darker."
    dark = "left" if face["left_cheek"] < face["right_cheek"] else "right"
    source = main_source(seen.lit_scene)
    from_where = "" if source is None else " Most light comes from one side."
    return f"The {dark} half of your face is darker by {times(stops)}", f"Half your face is lost to shadow.{from_where}"


def _below(seen: Seen, stops: float) -> Told:
    return (
        f"The light comes from below: under your chin it is {times(stops)} what your brow gets",
        "Shadows point up: it looks like a torch held under the face.",
    )


def _soft(seen: Seen, angle_deg: float) -> Told:
    lead = key_light(seen.lit_scene)
    what = seen.name_of(lead.source if lead else None)
    return (
        f"The light is hard: {what} fill{_s(what)} only {angle_deg:.0f}° of what your face sees",
        "A small light draws sharp shadows and shines on skin.",
    )


def _key(seen: Seen, height_deg: float) -> Told:
    lead = key_light(seen.lit_scene)
    what = seen.name_of(lead.source if lead else None)
    if height_deg > 0:
        return (
            f"Most light reaches you from too high: {_off(what)} ({height_deg:.0f}° above your eyes)",
            "Brow and nose throw their shadows over eyes and mouth.",
        )
    return (
        f"Most light reaches you from too low: {_off(what)} ({-height_deg:.0f}° below your eyes)",
        "Light from below the eyes turns every shadow upside down.",
    )


def _burnt(_: Seen, share: float) -> Told:
    return f"{percent(share)} of the picture is burnt out", "Plain white draws the eye away from you, and nothing can bring it back."


def _behind(_: Seen, stops: float) -> Told:
    if stops > 0:
        return f"Behind you it is brighter than on your face, by {times(stops)}", "Eyes go to what is brightest; that ought to be you."
    if stops > -1:
        return (
            f"Behind you it is about as bright as your face (only {in_stops(stops)} darker)",
            "You do not stand out; a little darker behind sets you off.",
        )
    return f"Behind you it is darker than on your face, by {times(stops)}", "A face in a black hole: hair and shoulders melt into the dark."


def _rim(_: Seen, stops: float) -> Told:
    if stops > 0:
        return f"Your hair and shoulders get {times(stops)} what your face gets, from behind", "They glow white, and eyes go there first."
    return (
        f"No light from behind: your hair and shoulders get {in_stops(-stops)} less than your face",
        "Dark hair melts into what is behind you; a rim of light sets you off.",
    )


def _grain(_: Seen, snr: float) -> Told:
    return (
        f"The picture is grainy (only {snr:.0f} times above its own grain)",
        "It looks cheap, and fine hair and cloth smear when it is sent.",
    )


def _screens(_: Seen, share: float) -> Told:
    return f"Your face is lit by screens alone ({percent(share)} of its light)", "It changes colour with every page, and comes from below."


_PLACES = {"left_cheek": "your left cheek", "right_cheek": "your right cheek", "behind": "behind you"}


def _colours(seen: Seen, spread_mired: float) -> Told:
    whites_k = seen.mixture.cct_k
    if coloured := accents.colouring(seen.mixture):
        return (
            f"{sentence(the(coloured[0].name))} and white light meet on your face",
            f"The camera can get only one of them right ({spread_mired:.0f} mired apart; more than {COLOUR.ideal_high:.0f} shows).",
        )
    warm, cool = min(whites_k, key=lambda name: whites_k[name]), max(whites_k, key=lambda name: whites_k[name])
    return (
        f"Light of two colours meets: {kelvin(whites_k[warm])} on {_PLACES[warm]}, {kelvin(whites_k[cool])} on {_PLACES[cool]}".replace(
            "on behind", "behind"
        ),
        f"The camera can get only one of them right: the other turns orange or blue ({spread_mired:.0f} mired apart; more than {COLOUR.ideal_high:.0f} shows).",
    )


def _tint(seen: Seen, duv: float) -> Told:
    if coloured := accents.colouring(seen.mixture):
        return (
            f"{sentence(the(coloured[0].name))} colours your face (Duv {duv:+.3f})",
            "Colour on purpose belongs on the wall behind you; on a face it makes skin look unwell.",
        )
    colour = "green" if duv > 0 else "pink"
    return f"The light on your face is {colour} (Duv {duv:+.3f})", "Skin looks unwell, and setting the white does not mend it."


def _coloured_sides(_: Seen, stops: float) -> Told:
    if stops >= (COLOURED_SIDES.outer_high or 0.0):
        return (
            "No coloured light on either side of your face",
            "You chose coloured sides: a lamp of one colour beside you, away from the main light.",
        )
    if stops < (COLOURED_SIDES.ideal_low or 0.0):
        return (
            f"The coloured light on your cheek is too strong ({in_stops(abs(stops))} {'under' if stops >= 0 else 'over'} the white)",
            "It paints half your face instead of its edge.",
        )
    return (
        f"The coloured light on your cheek is faint ({in_stops(stops)} under the white)",
        "It looks like a fault of the camera, not like a choice.",
    )


def _rendering(seen: Seen, rendering: float) -> Told:
    what = seen.name_of(seen.mixture.most)
    return (
        f"Colours look dull under {what} (colour rendering, Ra, {rendering:.0f} of 100)",
        "Skin turns grey: its reds are missing from the light.",
    )


def _flicker(seen: Seen, ripple: float) -> Told:
    setup, by_lamp = seen.lit_scene.setup, seen.mixture.ripple_by_lamp
    worst = max(by_lamp, key=lambda name: by_lamp[name])
    lamp = sentence(the(next(light.name for light in setup.lights if light.id == worst)))
    title = f"{lamp} flickers in the picture by {percent(ripple)} ({setup.main_camera.fps:g} fps, {setup.place.mains_hz} Hz mains)"
    if ripple > BANDS_SHOW:
        return title, "Each frame ends in the middle of a flicker, so dark bands wander through the picture."
    return title, f"The picture shimmers a little. Over {percent(BANDS_SHOW)} bands are seen to wander through it."


def _glare(seen: Seen, margin_deg: float) -> Told:
    nearest = next(iter(mirrored(seen.lit_scene)), None)
    what = seen.name_of(nearest.source if nearest else None)
    if margin_deg < 0:
        return (
            f"{sentence(what)} shine{_s(what)} back in your glasses ({-margin_deg:.0f}° inside them)",
            "They see a bright patch instead of your eyes.",
        )
    return (
        f"{sentence(what)} {_is(what)} about to shine in your glasses (only {margin_deg:.0f}° clear)",
        "A small nod, and they see a bright patch instead of your eyes.",
    )


BY_PLACE = {f"light.{name}" for name in ("face_level", "sides", "from_above", "from_below", "direct_sun", "softness", "key_height", "exposure",
                                         "burnt_out", "separation", "colour", "rendering", "tint", "glare", "noise", "from_screens")}  # fmt: skip
TOGETHER = {"light.face_level": ("light.face_level", "light.darkness")}  # figures of one matter
_TOLD: dict[str, Callable[[Seen, float], Told]] = {
    "light.direct_sun": _sun, "light.exposure": _exposure, "light.face_level": _level, "light.from_above": _above, "light.sides": _sides,
    "light.from_below": _below, "light.softness": _soft, "light.key_height": _key, "light.burnt_out": _burnt, "light.separation": _behind,
    "light.colour": _colours, "light.tint": _tint, "light.rendering": _rendering, "light.flicker": _flicker, "light.glare": _glare,
    "light.noise": _grain, "light.rim": _rim,
    "light.coloured_sides": _coloured_sides, "light.from_screens": _screens,
}  # fmt: skip
