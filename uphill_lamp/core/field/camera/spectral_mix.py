"""What the light on face and backdrop is made of: colour, tint, rendering, and how much it flickers (docs/method/light.md)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.devices import Light
from uphill_lamp.core.field.camera.metering import Metered
from uphill_lamp.core.field.camera.response import ripple_left, shutter_s
from uphill_lamp.core.field.light.colour import cct_and_duv, hue_uv, mired, mixed_uv, white_uv
from uphill_lamp.core.field.light.lit_scene import FACE_POINTS, LEAST_LX, LitScene
from uphill_lamp.core.field.light.windows import Source, SunBeam
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import Vector, angle_between_deg

DAYLIGHT_CRI, SCREEN_CRI = 100.0, 80.0  # screens make white of three narrow bands
# Ripple of a lamp on the mains, (most - least) / (most + least), where nobody has said how deep it is: an LED with a driver's, and a filament's.
USUAL_DEPTH = 0.1
AWAY_FROM_KEY_DEG = 50.0  # nearer to the main light a coloured one mixes with it
LEAST_RIPPLE = 0.01  # of the light on the face: less of it cannot be seen, whatever the shutter
_PLACES = ("left_cheek", "right_cheek")


@dataclass(frozen=True, slots=True)
class Accent:
    """A coloured lamp as the face gets it.

    Args:
        cheek: the one that gets more of it.
        stops_under: how far its light there lies under that of all white light [stops].
        from_key_deg: between it and the main light, seen from the eyes; 180 where no white light leads.
    """

    id: str
    cheek: str
    stops_under: float
    from_key_deg: float


@dataclass(frozen=True)
class SpectralMix:
    """The light of a setup by where it comes from.

    A coloured lamp on purpose counts in colour and tint with what it throws on the face, and not with what it throws on the wall; where
    coloured sides are wanted it does not count either as long as it stands AWAY_FROM_KEY_DEG or more from the main light.
    """

    lit_scene: LitScene
    metered: Metered

    @cached_property
    def _lamps(self) -> dict[str, Light]:
        return {light.id: light for light in self.lit_scene.setup.lights}

    @cached_property
    def whites(self) -> list[tuple[float, float]]:
        """Chromaticity (CIE 1960 u, v) of each source: of its white, or of a coloured lamp's hue."""
        return [
            white_uv(source.cct_k, source.duv) if source.hue_deg is None else hue_uv(source.hue_deg) for source in self.lit_scene.sources
        ]

    def is_accent(self, source: Source) -> bool:
        """Whether a source is a coloured lamp on purpose."""
        return source.id in self._lamps and self._lamps[source.id].accent

    @cached_property
    def plain(self) -> FloatArray:
        """1 for each source that is no coloured lamp, else 0, shape (sources,)."""
        return np.array([float(not self.is_accent(source)) for source in self.lit_scene.sources])

    @cached_property
    def accents(self) -> list[Accent]:
        """The coloured lamps that shine, as the face gets them."""
        points, whole = list(FACE_POINTS), self.lit_scene.whole_by_source_lx
        key, listed = self.key_ray, []
        for index, source in enumerate(self.lit_scene.sources):
            if not self.is_accent(source):
                continue
            cheeks = [points.index(cheek) for cheek in _PLACES]
            cheek = max(cheeks, key=lambda at: float(whole[index, at]))
            stops = math.log2(max(float(self.plain @ whole[:, cheek]), LEAST_LX) / max(float(whole[index, cheek]), LEAST_LX))
            apart = 180.0 if key is None else angle_between_deg(self._towards(source), key)
            listed.append(Accent(source.id, points[cheek], stops, apart))
        return listed

    @cached_property
    def key_ray(self) -> Vector | None:
        """Direction from the eyes to the source of white light that gives the face most directly; None where none does."""
        direct = self.lit_scene.by_source_lx[:, 0] * self.plain
        return self._towards(self.lit_scene.sources[int(direct.argmax())]) if direct.any() else None

    def _towards(self, source: Source) -> Vector:
        return source.towards if isinstance(source, SunBeam) else source.place - scene_of(self.lit_scene.setup).face.eyes

    @cached_property
    def rows_lx(self) -> dict[str, FloatArray]:
        """Illuminance by source that counts in colour at the front, the cheeks and behind, each of shape (sources,) [lx]."""
        points = list(FACE_POINTS)
        rows: dict[str, FloatArray] = {
            name: self.lit_scene.whole_by_source_lx[:, points.index(name)] * self._on_face for name in ("front", *_PLACES)
        }
        if len(self.metered.behind_lx) == len(self.lit_scene.sources):
            rows["behind"] = np.array(self.metered.behind_lx) * self.plain
        return rows

    @cached_property
    def _on_face(self) -> FloatArray:
        """1 for each source whose light on the face counts, else 0, shape (sources,)."""
        wanted = self.lit_scene.setup.preferences.look == "coloured"
        aside = {accent.id for accent in self.accents if wanted and accent.from_key_deg >= AWAY_FROM_KEY_DEG}
        return np.array([float(source.id not in aside) for source in self.lit_scene.sources])

    @cached_property
    def _colours(self) -> dict[str, tuple[float, float]]:
        """Colour temperature [K] and Duv at front, cheeks and behind; only where there is light to tell them by."""
        lit = {name: row for name, row in self.rows_lx.items() if row.sum() > LEAST_LX}
        if not lit:
            return {}
        temperatures, duvs = cct_and_duv(mixed_uv(self.whites, np.array(list(lit.values()))))
        return {name: (float(cct_k), float(duv)) for name, cct_k, duv in zip(lit, temperatures, duvs, strict=True)}

    @property
    def cct_k(self) -> dict[str, float]:
        """Colour temperature of the light on cheeks and behind [K]; only where there is light."""
        return {name: cct_k for name, (cct_k, _) in self._colours.items() if name != "front"}

    @property
    def face_cct_k(self) -> float | None:
        """Colour temperature of the light on the front of the face [K]."""
        return self._colours["front"][0] if "front" in self._colours else None

    @property
    def spread_mired(self) -> float | None:
        """How far the colours of the light on cheeks and backdrop lie apart [mired]; None where fewer than two are lit."""
        mireds = [mired(cct_k) for cct_k in self.cct_k.values()]
        return max(mireds) - min(mireds) if len(mireds) > 1 else None

    @property
    def duv(self) -> float | None:
        """How far the light on the face is off the Planckian locus, positive to green [no unit]."""
        return self._colours["front"][1] if "front" in self._colours else None

    @cached_property
    def most(self) -> Source | None:
        """The source that gives the front of the face most, reflections included."""
        front = self.lit_scene.whole_by_source_lx[:, 0]
        return self.lit_scene.sources[int(front.argmax())] if len(front) and front.max() > 0 else None

    @property
    def rendering(self) -> float | None:
        """CRI of the main source [no unit]."""
        if self.most is None:
            return None
        if self.most.id in self._lamps:
            return self._lamps[self.most.id].cri
        screens = {screen.id for screen in self.lit_scene.setup.screens}
        return SCREEN_CRI if self.most.id in screens else DAYLIGHT_CRI

    @cached_property
    def ripple_by_lamp(self) -> dict[str, float]:
        """Ripple that each lamp brings to the light on the front of the face, as a share of all of it, 0-1."""
        front = self.lit_scene.whole_by_source_lx[:, 0]
        whole = max(float(front.sum()), LEAST_LX)
        lamps = ((source.id, self._lamps.get(source.id), lx) for source, lx in zip(self.lit_scene.sources, front, strict=True))
        return {name: flicker_depth(light) * float(lx) / whole for name, light, lx in lamps if light is not None}

    @property
    def flicker(self) -> float | None:
        """Amplitude of the ripple that the shutter leaves in the picture, 0-1; None where nothing flickers.

        All lamps on the mains brighten at once: their ripples add.
        """
        ripple = sum(self.ripple_by_lamp.values())
        if ripple < LEAST_RIPPLE:
            return None
        setup = self.lit_scene.setup
        return ripple * ripple_left(shutter_s(setup.main_camera, setup.place.mains_hz), setup.place.mains_hz)


def flicker_depth(light: Light) -> float:
    """How deep a lamp's ripple at twice the mains is, (most - least) / (most + least), 0-1: entered, or usual of its kind."""
    if light.drive != "mains":
        return 0.0
    return USUAL_DEPTH if light.flicker_depth is None else light.flicker_depth
