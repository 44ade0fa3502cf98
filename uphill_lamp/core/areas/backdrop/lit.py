"""What the light makes of what is behind, and of what is worn before it (docs/method/backdrop.md, "In this light")."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.areas.backdrop.behind import Behind, behind_of
from uphill_lamp.core.areas.backdrop.points import points
from uphill_lamp.core.areas.backdrop.texture import texture_stops
from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.reads import Texts
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.camera.camera_rays import LIT_BEHIND, CameraRays, camera_rays_of
from uphill_lamp.core.field.camera.metering import BEHIND, LEAST_LUMINANCE_CD_M2, Metered, mean_metered_cd_m2, meter
from uphill_lamp.core.field.light.lit_scene import LEAST_LX, LitScene, lit_scene_of
from uphill_lamp.core.field.light.windows import Source
from uphill_lamp.core.field.reads import FIELD_READS
from uphill_lamp.core.scene.colour_difference import luminance_of
from uphill_lamp.core.scene.in_view import GRID, through_grid
from uphill_lamp.core.scene.optics import blur_m, focal_length_m, focused_at_m
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import vector
from uphill_lamp.core.scene.view import REFERENCE_FACE, shirt_reflectance

COLUMNS, ROWS = GRID
BRIGHTEST = 0.01  # share of what is behind that is looked at
PLAIN_SHIRT = 0.2  # what a garment is held against
OUTSHINES = 0.3  # stops over a face from which on a thing is no point to look at, but a lamp
SHADE_STOPS = 0.1  # from which on a place counts as shaded
SHADE_SHARE = 0.05  # of the picture: a shadow of this size counts in full
MATTERS = 0.03  # a source that gives less of the light behind throws no shadow that is seen


@dataclass(frozen=True, eq=False)
class Shadow:
    """The body's shadow on what is behind it.

    Args:
        stops: the figure: its steepest change across a thirtieth of the picture's width, for how much of the picture it covers.
        share: of the picture that is shaded, 0-1.
        source: id of the source that throws most of it; nothing where there is none.
        shaded: how much darker each ray's place is for it, shape (rows, columns) [stops], 0 or less.
    """

    stops: float
    share: float
    source: str
    shaded: FloatArray


class Lit:
    """Figures of what is behind in its light: of one setup, its lit field and the camera's answer to that."""

    def __init__(self, lit_scene: LitScene, metered: Metered) -> None:
        self.setup, self.lit_scene, self.metered = lit_scene.setup, lit_scene, metered
        self.sight: CameraRays = camera_rays_of(self.setup)
        self.face_cd_m2 = _face_cd_m2(lit_scene)
        self.ground: NDArray[np.bool_] = self.sight.meets(*BEHIND)  # what is behind, lamps before it too
        self.stops: FloatArray = np.log2(np.maximum(metered.luminance_cd_m2, LEAST_LUMINANCE_CD_M2) / self.face_cd_m2)

    def carried_to(self, there: Setup) -> Lit:
        """The same of a setup that came of this one: the light is worked out anew only where something changed that it hangs on."""
        alike = Texts(there).same(Texts(self.setup), FIELD_READS)
        lit_scene = self.lit_scene.carried_to(there) if alike else lit_scene_of(there)
        return Lit(lit_scene, meter(lit_scene))

    @cached_property
    def behind(self) -> Behind:
        """What is seen behind, whatever the light."""
        return behind_of(self.setup)

    def brightest(self) -> tuple[float, int] | None:
        """How much brighter than a face the brightest hundredth of what is behind is, at least [stops], and a ray that meets it; None
        where nothing is seen behind. What is smaller is a point of light, and no ground."""
        rays = np.flatnonzero(self.ground | self.metered.lamps)
        if not len(rays):
            return None
        ray = int(rays[np.argsort(self.stops[rays])[-math.ceil(BRIGHTEST * len(rays))]])
        return float(self.stops[ray]), ray

    def met(self, ray: int) -> tuple[str, str]:
        """Kind and id of what a ray meets: of a lamp, the one that is nearest the ray."""
        thing = self.sight.view.things[self.sight.view.what[ray]]
        if not self.metered.lamps[ray]:
            return thing.kind, thing.name
        places = scene_of(self.setup).pinhole.project(np.array([vector(light.position) for light in self.setup.lights]))
        across, down = through_grid(*GRID)
        away = np.hypot(places[:, 0] - across[ray], places[:, 1] - down[ray])
        return "light", self.setup.lights[int(np.nanargmin(away))].id

    def edge(self) -> float | None:
        """How much the hair differs from what is directly behind it: lowest quartile along the outline [stops]; None where there is none."""
        rim = self.sight.rim
        if rim is None:
            return None
        inner, outer = np.split(np.maximum(self.metered.rim_cd_m2, LEAST_LUMINANCE_CD_M2), 2)
        free = rim.mask(*BEHIND, "chair")[len(inner) :] & rim.mask("head")[: len(inner)]
        if not free.any():
            return None
        hair = inner * outline_reflectance(self.setup) / REFERENCE_FACE
        apart = np.sort(np.abs(np.log2(hair / outer))[free])
        return float(np.interp(0.25 * (len(apart) - 1), np.arange(len(apart)), apart))

    def looked_at(self) -> list[str]:
        """Ids of the points of interest that are no brighter than a face."""
        return [name for name in points(self.setup, self.behind) if not self._outshines(name)]

    def _outshines(self, name: str) -> bool:
        """Whether a thing is brighter than a face, as far as the rays that meet it tell."""
        rays = np.array([thing.kind == "backdrop" and thing.name == name for thing in self.sight.view.things])[self.sight.view.what]
        return bool(rays.any()) and float(np.median(self.stops[rays])) > OUTSHINES

    def busy(self, without: str = "") -> float | None:
        """Spread of log2 luminance behind, with the kinds' own patterns after the lens's blur, wanted points apart [stops].

        Args:
            without: id of something that is left out as well.
        """
        apart = {*points(self.setup, self.behind), without}
        left_out = np.array([thing.name in apart for thing in self.sight.view.things])[self.sight.view.what]
        free = self.ground & ~self.metered.lamps & ~left_out
        if not free.any():
            return None
        own = sum(self.pattern(thing) for thing in self.setup.backdrop if thing.id in self.behind.seen.parts and thing.id not in apart)
        return math.sqrt(float(self.stops[free].var()) + own / float(free.mean()))

    def pattern(self, thing: Any) -> float:
        """What a thing's own pattern adds: its share of the picture times its spread squared [stops2]."""
        part = self.behind.seen.parts[thing.id]
        return float(part.share * texture_stops(thing.kind, _drawn_m(self.setup, part.depth_m)) ** 2)

    def shadow(self, carried: Source | None = None) -> Shadow | None:
        """The shadow that the body draws on what is in view; None where no lit thing is seen behind.

        Args:
            carried: one of the sources as it is elsewhere, for a quick look: what the room throws back of it is left as it is.
        """
        lit = self.sight.meets(*LIT_BEHIND) & ~self.metered.lamps
        if not lit.any():
            return None
        total, taken, most, thrower = self.metered.by_source_lx.sum(axis=1), np.zeros(len(lit)), 0.0, ""
        behind_lx, least = self.metered.by_source_lx[lit].sum(axis=0), MATTERS * total[lit].sum()
        for index, there in enumerate(self.lit_scene.sources):
            source = carried if carried is not None and there.id == carried.id else there
            if source is not there:
                total += self.sight.direct_lx(source) - self.sight.direct_lx(there)
            elif behind_lx[index] < least:
                continue
            kept_off = np.where(lit, self.sight.kept_off_lx(source), 0.0)
            taken += kept_off
            if kept_off.sum() > most:
                most, thrower = float(kept_off.sum()), source.id
        shaded = np.where(lit, np.log2(np.maximum(1 - taken / np.maximum(total, LEAST_LX), 0.01)), 0.0).reshape(ROWS, COLUMNS)
        share = float((shaded < -SHADE_STOPS).mean())
        return Shadow(self._steepest(shaded, lit) * math.sqrt(share / SHADE_SHARE), share, thrower, shaded)

    def _steepest(self, shaded: FloatArray, lit: NDArray[np.bool_]) -> float:
        """The largest change between rays side by side, a thirtieth of the picture's width apart, on one and the same thing."""
        what, here = self.sight.view.what.reshape(shaded.shape), lit.reshape(shaded.shape)
        steps = []
        for axis in (0, 1):
            first, second = (slice(None, -1), slice(1, None))
            one, other = (first, second) if axis == 0 else ((slice(None), first), (slice(None), second))
            both = here[one] & here[other] & (what[one] == what[other])
            steps.append(np.abs(shaded[one] - shaded[other])[both])
        return float(max((step.max() for step in steps if len(step)), default=0.0))

    def garment(self) -> float | None:
        """How far what is worn puts the exposure off, against a middling garment [stops], 0 or more; None where exposure is locked."""
        camera = self.setup.main_camera
        if camera.metering == "locked" and camera.locked_exposure_lx:
            return None
        luminance, worn = self.metered.luminance_cd_m2, self.sight.meets("shirt") & ~self.metered.lamps
        plain = np.where(worn, luminance * PLAIN_SHIRT / max(shirt_reflectance(self.setup), 0.01), luminance)
        means = [mean_metered_cd_m2(camera, self.sight, seen) for seen in (luminance, plain)]
        return abs(math.log2(means[0] / means[1]))

    def melts(self) -> float | None:
        """How much the garment differs from what is beside it in the picture [stops], 0 or more; None where nothing is."""
        worn = self.sight.meets("shirt").reshape(ROWS, COLUMNS)
        free, stops = (self.ground & ~self.metered.lamps).reshape(ROWS, COLUMNS), self.stops.reshape(ROWS, COLUMNS)
        pairs: list[FloatArray] = []
        for left, right in ((slice(None, -1), slice(1, None)), (slice(1, None), slice(None, -1))):
            meet = worn[:, left] & free[:, right]
            pairs.append((stops[:, left] - stops[:, right])[meet])
        differ = np.concatenate(pairs)
        return abs(float(np.median(differ))) if len(differ) else None


def surely_bright(lit_scene: LitScene) -> float:
    """How bright the brightest hundredth of what is behind is at the least [stops over a face], whatever the rays meet that are not looked
    along: a quick look, to rule out what is too bright. Minus infinity where it tells nothing."""
    sight = CameraRays.few(lit_scene.setup)
    luminance, lamps = sight.luminance_cd_m2(lit_scene, sight.by_source_lx(lit_scene))
    counted, most = np.sort(luminance[sight.meets(*BEHIND) | lamps]), math.ceil(BRIGHTEST * COLUMNS * ROWS)
    if len(counted) < most:
        return -math.inf
    return math.log2(max(float(counted[-most]), LEAST_LUMINANCE_CD_M2) / _face_cd_m2(lit_scene))


def _face_cd_m2(lit_scene: LitScene) -> float:
    """Luminance of the reference face from the front [cd/m2]."""
    return max(lit_scene.face_lx["front"], LEAST_LX) * REFERENCE_FACE / math.pi


def lit_of(setup: Setup) -> Lit:
    """The same of a setup alone, its light worked out anew."""
    lit_scene = lit_scene_of(setup)
    return Lit(lit_scene, meter(lit_scene))


def outline_reflectance(setup: Setup) -> float:
    """Reflectance of what the head's outline is of: hair, a covering, a hat, or skin where there is no hair [no unit]."""
    hats = [garment.reflectance for garment in setup.presenter.clothing if garment.kind == "hat"]
    if hats:
        return hats[-1]
    return setup.presenter.skin_reflectance if setup.presenter.hair == "none" else luminance_of(setup.presenter.hair_colour)


def _drawn_m(setup: Setup, away_m: float) -> float:
    """How wide the lens draws a point at a depth, at that depth [m]."""
    camera, pinhole = setup.main_camera, scene_of(setup).pinhole
    focal_m = focal_length_m(camera)
    focused_m = focused_at_m(camera, float(pinhole.depth(scene_of(setup).face.eyes[None])[0]))
    return blur_m(focal_m, camera.lens.f_number, focused_m, away_m) * away_m / focal_m if away_m > 0 else 0.0
