"""Moves that make light larger: paper or cloth before a lamp, a lamp turned to a wall or the ceiling, a phone's torch likewise."""

from __future__ import annotations

from collections.abc import Iterator, Set
from dataclasses import dataclass

import numpy as np

from uphill_lamp.core import cautions
from uphill_lamp.core.areas.light.lamp_placing import best_spot, face_light_utility, lamp_patch
from uphill_lamp.core.areas.light.lamp_words import AIMED_WORDS, level_words, lit_anew, place_words, stood_anew, stood_words
from uphill_lamp.core.areas.light.measures import SIDES, level_band
from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.document import typical
from uphill_lamp.core.document.devices import Diffuser, Light, Reflector
from uphill_lamp.core.document.patch import Patch, add, remove, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.camera.response import need_of
from uphill_lamp.core.field.light.lit_scene import LitScene, face_points, lit_scene_of, thrown_back
from uphill_lamp.core.field.light.sources import lamp_source
from uphill_lamp.core.judging import FREE, OWNED, Move
from uphill_lamp.core.offers import Offer, at_home, offered
from uphill_lamp.core.scene.handling import lamp_cautions
from uphill_lamp.core.scene.placing import Face, room_size
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import UP, Vector, point_at, vector, yaw_tilt_deg
from uphill_lamp.core.scene.wording import length, lux, the

PAPER = Diffuser(transmittance=0.5, width_m=0.4, height_m=0.4)  # a sheet of baking paper, or thin white cloth
PAPER_WORDS = "with a sheet of baking paper in front of it"
CLOTH, SHADE = "diffusion_cloth", "paper_shade"
SHEETS = ("bounce_card", "white_sheet")
SHEET_M = (0.8, 1.0)
SHEETS_ASIDE_M = (0.4, 0.5, 0.6, 0.75, 0.9, 1.1, 1.3)
LEAST_BOUNCED_LM = 150.0
SMALL = ("bulb", "cone", "file")


def moves_for(lit_scene: LitScene, wanting: Set[str]) -> Iterator[Move]:
    """Diffusing and bouncing, where light, sides, softness, height or glare want mending."""
    if wanting & {f"light.{name}" for name in ("softness", "face_level", "sides", "exposure", "separation")}:
        yield from diffused(lit_scene)
    if "light.sides" in wanting:
        yield from white_sheet(lit_scene)
    if wanting & {f"light.{name}" for name in ("softness", "face_level", "sides", "key_height", "glare")}:
        yield from bounced(lit_scene)
        yield from torch(lit_scene)


def diffused(lit_scene: LitScene) -> Iterator[Move]:
    """Paper before each small cool lamp that is aimed, a shade round each bare bulb, where it stands or where it serves best."""
    setup = lit_scene.setup
    paper, shade = _paper(setup), _shade(setup)
    for light in setup.lights:
        if (
            light.kind not in SMALL
            or light.diffuser
            or light.heat != "cool"
            or light.accent
            or not light.owned
            or light.stands == "ceiling"
        ):
            continue
        soft = shade if light.kind == "bulb" else paper
        if soft is None:
            continue
        put = replace(f"/lights/{light.id}/diffuser", soft.cover.model_dump(mode="json"))
        if light.on:
            title = f"{'Put' if soft.cover.around else 'Hang'} {soft.words} {soft.where} {the(light.name)}"
            yield Move(f"light.diffuse.{light.id}", title, (put, *soft.had.patch), soft.had.cost, (cautions.PAPER,))
        spot = best_spot(lit_scene, light.model_copy(update={"diffuser": soft.cover})) if light.stands != "wall" else None
        if spot is not None:
            words = PAPER_WORDS if soft.cover is PAPER else f"with {soft.words} {soft.where} it"
            yield Move(f"light.soft_lamp.{light.id}", f"{place_words(light)}, {words}", (put, *lamp_patch(spot.light, light), *soft.had.patch),
                       soft.had.cost, (cautions.PAPER, *lamp_cautions(spot.light)), detail=stood_words(setup, spot.light),
                       aim=AIMED_WORDS, retold=stood_anew(light.id),
                       extends=f"light.move_lamp.{light.id}")  # fmt: skip


@dataclass(frozen=True, slots=True)
class Soft:
    """What can be put before or round a lamp, in words, and what it costs."""

    cover: Diffuser
    words: str
    had: Offer

    @property
    def where(self) -> str:
        return "round" if self.cover.around else "in front of"


def _paper(setup: Setup) -> Soft:
    """What there is to hang before a lamp: paper, or the cloth that lies in the drawer."""
    had = at_home(setup, (CLOTH,), "Baking paper")
    mine = next((item for item in setup.kit if item.entry == CLOTH), None)
    return Soft(PAPER, "baking paper", had) if mine is None else Soft(_cover(CLOTH) or PAPER, the(mine.name), had)


def _shade(setup: Setup) -> Soft | None:
    """A paper shade to go all round a bulb, one's own or bought; None where there is none to be had."""
    cover, had = _cover(SHADE), offered(setup, SHADE, "A paper shade")
    mine = next((item for item in setup.kit if item.entry == SHADE), None)
    if cover is None or had is None:
        return None
    return Soft(cover, the(mine.name) if mine else "a paper shade", had)


def _cover(entry: str) -> Diffuser | None:
    """A kind of the catalogue as what is in front of a lamp; None where somebody's own figures make none."""
    kind = catalogue().kind(entry)
    if kind is None:
        return None
    wide_m, around = kind.number("width_m", PAPER.width_m), kind.attributes.get("around") == "yes"
    try:
        return Diffuser(transmittance=kind.number("transmittance", PAPER.transmittance), width_m=wide_m, height_m=wide_m, around=around)
    except ValueError:
        return None


def _walls(setup: Setup, face: Face) -> list[tuple[str, Vector]]:
    """What a lamp can be turned to, and where on it [m]: the ceiling ahead, the wall ahead, the walls left and right."""
    size = room_size(setup.room)
    ahead = face.eyes + 0.5 * face.forward
    targets = [("the ceiling in front of you", np.array([*np.clip(ahead[:2], 0.1, size[:2] - 0.1), size[2] - 0.01]))]
    for name, along, up_m in (
        ("the wall in front of you", face.forward, 0.2),
        ("the wall to your left", face.left, 0.1),
        ("the wall to your right", -face.left, 0.1),
    ):
        start = face.eyes + 0.3 * face.forward + up_m * UP
        with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
            reach = np.where(along > 1e-6, (size - 0.01 - start) / along, np.where(along < -1e-6, (0.01 - start) / along, np.inf))
        targets.append((name, start + max(float(reach.min()), 0.0) * along))
    return targets


def _best_bounce(lit_scene: LitScene, light: Light) -> tuple[Light, str, float] | None:
    """A lamp turned to the surface that serves best: the lamp, the surface in words, what the face then gets [lx]."""
    setup, face = lit_scene.setup, scene_of(lit_scene.setup).face
    level, sides = level_band(need_of(setup)), SIDES[setup.preferences.look]
    others = [source for source in lit_scene.sources if source.id != light.id]
    best: tuple[float, Light, str, float] | None = None
    for name, spot in _walls(setup, face):
        yaw_deg, tilt_deg = yaw_tilt_deg(spot - vector(light.position))
        turned = light.model_copy(update={"aim_yaw_deg": round(yaw_deg, 1), "aim_tilt_deg": round(tilt_deg, 1), "on": True, "dim": 1.0})
        source = lamp_source(turned)
        if source is None:
            continue
        face_lx = lit_scene_of(setup, [*others, source]).face_lx
        value = face_light_utility(level, sides, face_lx)
        if best is None or value > best[0] + 1e-9:
            best = value, turned, name, face_lx["front"]
    return best[1:] if best else None


def bounced(lit_scene: LitScene) -> Iterator[Move]:
    """Each lamp that can be aimed, turned to a wall or the ceiling."""
    for light in lit_scene.setup.lights:
        aimed = light.kind != "bulb" or (light.diffuser is not None and not light.diffuser.around)
        if not aimed or light.accent or not light.owned or light.stands == "ceiling" or light.flux_lm < LEAST_BOUNCED_LM:
            continue
        best = _best_bounce(lit_scene, light)
        if best is None:
            continue
        turned, surface, level_lx = best
        title = f"Aim {the(light.name)} at {surface}" if light.on else f"Turn on {the(light.name)} and aim it at {surface}"
        yield Move(f"light.bounce.{light.id}", title, lamp_patch(turned, light), FREE, lamp_cautions(light), detail=level_words(level_lx),
                   promises=(("light.face_level", level_lx),), aim=title if light.on else f" and aim it at {surface}", retold=lit_anew())  # fmt: skip


def white_sheet(lit_scene: LitScene) -> Iterator[Move]:
    """A white sheet or card upright on the darker side, just out of the picture."""
    setup, face = lit_scene.setup, scene_of(lit_scene.setup).face
    left_lx, right_lx = lit_scene.face_lx["left_cheek"], lit_scene.face_lx["right_cheek"]
    if setup.preferences.look not in ("even", "filled") or any(sheet.id == "white-sheet" for sheet in setup.reflectors):
        return
    side, name = (1, "left") if left_lx < right_lx else (-1, "right")
    place = _beside_face(setup, face, side)
    if place is None:
        return
    yaw_deg, _ = yaw_tilt_deg(face.eyes - place)
    sheet = Reflector(
        id="white-sheet",
        name="White sheet",
        position=point_at(np.round(place, 3)),
        yaw_deg=round(yaw_deg, 1),
        width_m=SHEET_M[0],
        height_m=SHEET_M[1],
    )
    thrown = thrown_back(setup.model_copy(update={"reflectors": (sheet,)}), lit_scene.sources)
    places, normals = face_points(face)
    more_lx = sum(float(source.illuminance_lx(places, normals, 6)[1 if side > 0 else 2]) for source in thrown)
    had = at_home(setup, SHEETS, "White cloth, card or paper will do.")
    patch = (add("/reflectors/-", sheet.model_dump(mode="json")), *had.patch)

    def anew(before: Setup, after: Setup) -> tuple[str, ...]:
        more_lx = lit_scene_of(after).face_lx[f"{name}_cheek"] - lit_scene_of(before).face_lx[f"{name}_cheek"]
        return had.words, _sheet_words(after, place, name, max(more_lx, 0.0))

    yield Move("light.white_sheet", f"Hang a white sheet on your {name}", patch, had.cost, (cautions.CLOTH,),
               detail=f"{had.words} {_sheet_words(setup, place, name, more_lx)}", retold=anew)  # fmt: skip


def _sheet_words(setup: Setup, place: Vector, side: str, more_lx: float) -> str:
    away = length(float(np.linalg.norm(place - scene_of(setup).face.eyes)), setup.preferences.units)
    return f"{away} to your {side}, just out of the picture: it gives that cheek {lux(more_lx)} more."


def _beside_face(setup: Setup, face: Face, side: int) -> Vector | None:
    """Where a sheet's middle stands beside the face [m], no nearer than out of the picture; None if a wall is in the way."""
    size, pinhole = room_size(setup.room), scene_of(setup).pinhole
    for aside_m in SHEETS_ASIDE_M:
        place = face.at(0.2, side * aside_m, 0.0)
        if (place < 0.05).any() or (place > size - 0.05).any():
            return None
        edge = pinhole.project(face.at(-0.2, side * (aside_m - 0.1), 0.0))
        if not 0 < edge[0] < 1:
            return np.asarray(place)
    return None


def torch(lit_scene: LitScene) -> Iterator[Move]:
    """The torch of a phone that lies in the drawer, bounced off a wall or the ceiling."""
    setup = lit_scene.setup
    phone = next((item for item in setup.kit if item.entry == "old_phone"), None)
    if phone is None or any(light.id == "phone-torch" for light in setup.lights):
        return
    face, size = scene_of(setup).face, room_size(setup.room)
    place = np.clip(face.at(0.45, 0.35, -0.35), 0.05, size - 0.05)
    lamp = Light.model_validate(
        typical.light("phone_torch", "phone-torch", f"Torch of {the(phone.name)}"[:80].strip(), point_at(np.round(place, 3)).model_dump())
    )
    best = _best_bounce(lit_scene, lamp)
    if best is None:
        return
    turned, surface, level_lx = best
    patch: Patch = (add("/lights/-", turned.model_dump(mode="json")), remove(f"/kit/{phone.id}"))
    basis = "The phone stands on the desk beside you, its back to the wall, and on its charger."
    title = f"Turn on the torch of {the(phone.name)} and aim it at {surface}"
    yield Move(
        "light.phone_torch", title, patch, OWNED, (cautions.PHONE_HOLDER,), detail=f"{basis} {level_words(level_lx)}",
        promises=(("light.face_level", level_lx),), aim=f" and aim it at {surface}", basis=basis, retold=lit_anew(basis),
    )  # fmt: skip
