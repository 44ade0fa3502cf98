"""What the light on face and backdrop is made of: colour, tint, rendering, and how much it flickers (docs/method/light.md)."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.devices import Light
from uphill_lamp.core.field.camera.metering import Metered
from uphill_lamp.core.field.camera.response import ripple_left, shutter_s
from uphill_lamp.core.field.light.colour import cct_and_duv, mired, mixed_uv, white_uv
from uphill_lamp.core.field.light.lit_scene import FACE_POINTS, LEAST_LX, LitScene
from uphill_lamp.core.field.light.windows import Source

DAYLIGHT_CRI, SCREEN_CRI = 100.0, 80.0  # screens make white of three narrow bands
# Ripple of a lamp on the mains, (most - least) / (most + least), where nobody has said how deep it is: an LED with a driver's, and a filament's.
USUAL_DEPTH = 0.1
LEAST_RIPPLE = 0.01  # of the light on the face: less of it cannot be seen, whatever the shutter
_PLACES = ("left_cheek", "right_cheek")


@dataclass(frozen=True)
class SpectralMix:
    """The light of a setup by where it comes from. Deliberate accents take no part in colour or tint."""

    lit_scene: LitScene
    metered: Metered

    @cached_property
    def _lamps(self) -> dict[str, Light]:
        return {light.id: light for light in self.lit_scene.setup.lights}

    @cached_property
    def _whites(self) -> list[tuple[float, float]]:
        return [white_uv(source.cct_k, source.duv) for source in self.lit_scene.sources]

    def is_plain(self, source: Source) -> bool:
        """Whether a source is no deliberate accent."""
        return source.id not in self._lamps or not self._lamps[source.id].accent

    @cached_property
    def _plain(self) -> FloatArray:
        """1 for each source that is no accent, else 0, shape (sources,)."""
        return np.array([float(self.is_plain(source)) for source in self.lit_scene.sources])

    @cached_property
    def _colours(self) -> dict[str, tuple[float, float]]:
        """Colour temperature [K] and Duv at front, cheeks and behind; only where there is light to tell them by."""
        points = list(FACE_POINTS)
        rows = {name: self.lit_scene.whole_by_source_lx[:, points.index(name)] for name in ("front", *_PLACES)}
        if len(self.metered.behind_lx) == len(self.lit_scene.sources):
            rows["behind"] = np.array(self.metered.behind_lx)
        rows = {name: row * self._plain for name, row in rows.items()}
        lit = {name: row for name, row in rows.items() if row.sum() > LEAST_LX}
        if not lit:
            return {}
        temperatures, duvs = cct_and_duv(mixed_uv(self._whites, np.array(list(lit.values()))))
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
