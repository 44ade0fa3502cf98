"""Moves for what shines from where one looks: glare in glasses cleared, a screen as a lamp."""

from __future__ import annotations

import math
from collections.abc import Iterator, Set

from uphill_lamp.core import cautions
from uphill_lamp.core.areas.light.glare import margins_deg, mirrored, noticed_cd_m2, spots_of
from uphill_lamp.core.areas.light.lamp_moves import borrowed_lamp, can_borrow, own_lamps
from uphill_lamp.core.areas.light.lamp_placing import aimed_at_face, best_spot, lamp_patch
from uphill_lamp.core.areas.light.lamp_words import place_words, stood_words
from uphill_lamp.core.areas.light.measures import GLARE
from uphill_lamp.core.document.devices import Light, Screen
from uphill_lamp.core.document.faults import Refused
from uphill_lamp.core.document.patch import add, applied, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.light.lit_scene import LitScene, lit_scene_of
from uphill_lamp.core.field.light.sources import lamp_source, screen_source
from uphill_lamp.core.judging import FREE, Move
from uphill_lamp.core.offers import offered
from uphill_lamp.core.scene.handling import lamp_cautions, moved
from uphill_lamp.core.scene.placing import room_size
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import UP, vector
from uphill_lamp.core.scene.wording import degrees, length, lux, percent, the
from uphill_lamp.core.standing.limits import SCREEN_BY_DAY_SHARE, SCREEN_BY_NIGHT_CD_M2
from uphill_lamp.core.standing.sight import by_day

SHIFTS_M = tuple(round(0.05 * step, 2) for step in range(25))
PAGE_SHARE = 0.5  # of a screen that a white page covers
SCREEN_SHIFTS_M = (0.05, 0.1, 0.15, 0.2, 0.3, 0.4)
DARK_SHARE = 0.1  # of a screen that shines under a dark page: letters and edges
ARM_M = 0.145  # of a pair of glasses, hinge to ear
TIPPED_DEG = (2.0, 4.0, 6.0, 8.0, 10.0)  # how far glasses can be tipped on the ears and still be looked through
LEAST_PAGE_LX = 3.0


def moves_for(lit_scene: LitScene, wanting: Set[str]) -> Iterator[Move]:
    """What glare and too little light want."""
    if "light.glare" in wanting:
        yield from glare_cleared(lit_scene)
    if wanting & {"light.face_level", "light.from_above", "light.sides"}:
        yield from white_pages(lit_scene)


def glare_cleared(lit_scene: LitScene) -> Iterator[Move]:
    """Every source too near to being mirrored: lamps moved, screens turned down, or lenses that mirror less."""
    setup = lit_scene.setup
    lamps, screens = {light.id: light for light in setup.lights}, {screen.id: screen for screen in setup.screens}
    for glare in mirrored(lit_scene):
        if GLARE.holds(glare.margin_deg):
            break
        if glare.source.id in lamps:
            yield from _lamp_moved(setup, lamps[glare.source.id])
        elif glare.source.id in screens:
            yield from _screen_down(lit_scene, screens[glare.source.id])
            yield from _screen_dark(lit_scene, screens[glare.source.id])
            yield from _screen_moved(setup, screens[glare.source.id])
    yield from _lamp_and_dark_page(lit_scene)
    yield from _tipped(lit_scene)
    coated = offered(setup, "glasses_coating", "With your next lenses")
    if setup.presenter.glasses == "plain" and coated is not None:
        patch = (replace("/presenter/glasses", "anti_reflective"), *coated.patch)
        yield Move("light.coated_glasses", "Glasses with an anti-reflective coating", patch, coated.cost,
                   detail=f"{coated.words}. They mirror a fifth as much.")  # fmt: skip


def _lamp_moved(setup: Setup, light: Light) -> Iterator[Move]:
    """The smallest shift, up or aside, after which the lamp is clear of the glasses."""
    if light.stands in ("ceiling", "wall"):
        return
    face, lens, size = scene_of(setup).face, scene_of(setup).lens.place, room_size(setup.room)
    lamp = the(light.name).replace("{", "{{").replace("}", "}}")  # whatever it is called, it is put into a pattern
    ways = [
        (f"Raise {lamp} by {{}}", UP),
        (f"Move {lamp} {{}} to your left", face.left),
        (f"Move {lamp} {{}} to your right", -face.left),
    ]
    patches = []
    for words, way in ways:
        for shift_m in SHIFTS_M[1:]:
            place = vector(light.position) + shift_m * way
            if (place < 0.05).any() or (place > size - 0.05).any():
                break
            moved = aimed_at_face(light, face, place)
            source = lamp_source(moved)
            if source is not None and margins_deg(face, lens, spots_of(source)).min() >= (GLARE.ideal_low or 0.0):
                patches.append((shift_m, words, moved))
                break
    for shift_m, words, moved in sorted(patches, key=lambda row: row[0])[:1]:
        title = words.format(length(shift_m, setup.preferences.units))
        yield Move(
            f"light.clear_glare.{light.id}",
            title,
            lamp_patch(moved, light),
            FREE,
            lamp_cautions(light),
            detail="It stays turned to your face.",
        )


def _screen_down(lit_scene: LitScene, screen: Screen) -> Iterator[Move]:
    """A screen turned down until its reflection is too faint to be noticed."""
    setup = lit_scene.setup
    shining, noticed = screen.luminance_cd_m2 * screen.white_share, noticed_cd_m2(lit_scene)
    ids, front = [source.id for source in lit_scene.sources], lit_scene.whole_by_source_lx[:, 0]
    of_face = float(front[ids.index(screen.id)] / front.sum())
    # The face loses what the screen gave it, and with that the reflection is noticed sooner.
    share = 0.9 * noticed * (1 - of_face) / max(shining - noticed * of_face, 1e-6)
    least = SCREEN_BY_DAY_SHARE if by_day(setup) else SCREEN_BY_NIGHT_CD_M2 / screen.luminance_cd_m2
    if least <= share < 1:
        patch = (replace(f"/screens/{screen.id}/luminance_cd_m2", float(math.floor(screen.luminance_cd_m2 * share))),)
        yield Move(f"light.screen_down.{screen.id}", f"Turn the brightness of {the(screen.name)} down to {percent(share)} of what it is", patch, FREE,
                   detail="Its reflection is then under a tenth as bright as your face.")  # fmt: skip


def _screen_dark(lit_scene: LitScene, screen: Screen) -> Iterator[Move]:
    """A dark page on a screen, and it turned down as well where that alone is too bright and legibility allows it."""
    setup = lit_scene.setup
    if screen.white_share <= DARK_SHARE:
        return
    least = SCREEN_BY_DAY_SHARE * screen.luminance_cd_m2 if by_day(setup) else SCREEN_BY_NIGHT_CD_M2
    wanted = 0.9 * _noticed_without(lit_scene, screen) / DARK_SHARE
    luminance = float(math.floor(max(wanted, min(least, screen.luminance_cd_m2))))
    patch = [replace(f"/screens/{screen.id}/white_share", DARK_SHARE)]
    title = f"Show dark pages alone on {the(screen.name)}"
    if luminance < screen.luminance_cd_m2:
        patch.append(replace(f"/screens/{screen.id}/luminance_cd_m2", luminance))
        title += f", and turn it down to {percent(luminance / screen.luminance_cd_m2)}"
    yield Move(f"light.dark_page.{screen.id}", title, tuple(patch), FREE,
               detail="Dark mode, a dark background, and no white window open behind the call.")  # fmt: skip


def _screen_moved(setup: Setup, screen: Screen) -> Iterator[Move]:
    """The smallest shift to a side, or up, after which a monitor is clear of the glasses; what stands on it comes along."""
    if screen.kind != "monitor":
        return
    face = scene_of(setup).face
    ways = (("{} to your left", face.left), ("{} to your right", -face.left), ("up by {}", UP))
    clear = []
    for words, way in ways:
        for shift_m in SCREEN_SHIFTS_M:
            patch = moved(setup, f"screens/{screen.id}", shift_m * way)
            try:
                after = applied(setup, patch)
            except Refused:  # out of the room
                break
            source = screen_source(next(other for other in after.screens if other.id == screen.id))
            if source is None or margins_deg(face, scene_of(after).lens.place, spots_of(source)).min() >= (GLARE.ideal_low or 0.0):
                clear.append((shift_m, words, patch))
                break
    for shift_m, words, patch in sorted(clear, key=lambda row: row[0])[:1]:
        title = f"Move {the(screen.name)} {words.format(length(shift_m, setup.preferences.units))}"
        yield Move(
            f"light.move_screen.{screen.id}", title, patch, FREE, (cautions.MONITOR,), detail="Its light is then mirrored past the lens."
        )


def _lamp_and_dark_page(lit_scene: LitScene) -> Iterator[Move]:
    """A lamp on the face and dark pages together, where a screen's light is much of what the face has: neither does it alone."""
    setup = lit_scene.setup
    screens = {screen.id: screen for screen in setup.screens}
    shining = next((screens[glare.source.id] for glare in mirrored(lit_scene) if glare.source.id in screens), None)
    if shining is None:
        return
    first = _lamp_first(lit_scene)
    if first is None:
        return
    try:
        after = lit_scene_of(applied(setup, first.patch))
    except Refused:  # the room is full of lamps
        return
    for page in _screen_dark(after, shining):
        title = f"{first.title}, and {page.title[0].lower()}{page.title[1:]}"
        name = "light.lamp_and_dark_page" if first.cautions else "light.lamp_on_and_dark_page"
        yield Move(f"{name}.{shining.id}", title, (*first.patch, *page.patch), FREE, first.cautions,
                   detail=f"{first.detail} {page.detail}", parts=(first, page))  # fmt: skip


def _lamp_first(lit_scene: LitScene) -> Move | None:
    """A lamp on the face, one's own or borrowed; where none can be placed, one that is off turned on where it is."""
    setup = lit_scene.setup
    mine = next(iter(own_lamps(setup)), None)
    lamp = mine or borrowed_lamp()
    spot = best_spot(lit_scene, lamp) if mine or can_borrow(setup) else None
    if spot is not None:
        lit = lamp_patch(spot.light, mine) if mine else (add("/lights/-", spot.light.model_dump(mode="json")),)
        name, words = (
            (f"light.move_lamp.{mine.id}", place_words(mine)) if mine else ("light.borrow_lamp", "Borrow a lamp from another room")
        )
        return Move(name, words, lit, FREE, lamp_cautions(lamp), detail=stood_words(setup, spot.light))
    off = max((light for light in setup.lights if not light.on and not light.accent), key=lambda light: light.flux_lm, default=None)
    return Move(f"light.lamp_on.{off.id}", f"Turn on {the(off.name)}", (replace(f"/lights/{off.id}/on", True),), FREE) if off else None


def _noticed_without(lit_scene: LitScene, screen: Screen) -> float:
    """Luminance from which on a reflection is noticed once the face has lost what a screen gave it [cd/m2]."""
    ids, front = [source.id for source in lit_scene.sources], lit_scene.whole_by_source_lx[:, 0]
    return noticed_cd_m2(lit_scene) * (1 - float(front[ids.index(screen.id)]) / max(float(front.sum()), 1e-6))


def _tipped(lit_scene: LitScene) -> Iterator[Move]:
    """The glasses tipped a little on the ears: the least that clears everything bright, or what clears most of it."""
    setup, face, lens = lit_scene.setup, scene_of(lit_scene.setup).face, scene_of(lit_scene.setup).lens.place
    spots = [spots_of(glare.source) for glare in mirrored(lit_scene)]  # type: ignore[arg-type]
    now_deg = setup.presenter.glasses_tipped_deg
    margins = {tipped_deg: min(float(margins_deg(face, lens, each, tipped_deg).min()) for each in spots)
               for tipped_deg in (now_deg, *TIPPED_DEG) if tipped_deg >= now_deg}  # fmt: skip
    enough = [tipped_deg for tipped_deg, margin_deg in margins.items() if GLARE.holds(margin_deg)]
    best = enough[0] if enough else max(margins, key=lambda tipped_deg: (margins[tipped_deg], -tipped_deg))
    if best > now_deg:
        up_m = ARM_M * math.tan(math.radians(best - now_deg))
        yield Move("light.tip_glasses", f"Raise the arms of your glasses {length(up_m, setup.preferences.units)} at the ears",
                   (replace("/presenter/glasses_tipped_deg", best),), FREE,
                   detail=f"The lenses then lean {degrees(best - now_deg)} further forward, and mirror what lies lower.")  # fmt: skip


def white_pages(lit_scene: LitScene) -> Iterator[Move]:
    """A white page over half of each screen that shines on the face."""
    setup = lit_scene.setup
    ids = [source.id for source in lit_scene.sources]
    for screen in setup.screens:
        if screen.id not in ids or screen.kind == "projection" or screen.white_share > PAGE_SHARE:  # one page is enough
            continue
        white_share = round(PAGE_SHARE + (1 - PAGE_SHARE) * screen.white_share, 3)
        now_lx = float(lit_scene.whole_by_source_lx[ids.index(screen.id), 0])
        more_lx = now_lx * (white_share / screen.white_share - 1)
        if more_lx >= LEAST_PAGE_LX:
            yield Move(f"light.white_page.{screen.id}", f"Show a white page on half of {the(screen.name)}'s screen",
                (replace(f"/screens/{screen.id}/white_share", white_share),),
                       FREE, (cautions.SCREEN_LAMP,), detail=_more_words(more_lx), retold=_more_anew,
                       promises=(("light.face_level", lit_scene.face_lx["front"] + more_lx),))  # fmt: skip


def _more_words(more_lx: float) -> str:
    return f"It gives your face {lux(more_lx)} more."


def _more_anew(before: Setup, after: Setup) -> tuple[str, ...]:
    return (_more_words(max(lit_scene_of(after).face_lx["front"] - lit_scene_of(before).face_lx["front"], 0.0)),)
