"""Surfaces and furnishings: how much light they send back and how much sound they soak up.

Working values of the usual textbook tables (reflectance for light; absorption coefficient, or equivalent area in m2 per
piece, for the octaves 125 Hz to 8 kHz). One table each, to be corrected in one place.
"""

from __future__ import annotations

from dataclasses import dataclass

Seven = tuple[float, float, float, float, float, float, float]


@dataclass(frozen=True, slots=True)
class FinishValues:
    """What a surface does: ``reflectance`` 0-1 for light, ``absorption`` 0-1 per octave for sound."""

    label: str
    reflectance: float
    absorption: Seven


FINISHES: dict[str, FinishValues] = {
    "plaster_white": FinishValues("white painted plaster", 0.80, (0.02, 0.02, 0.03, 0.04, 0.05, 0.05, 0.05)),
    "plaster_light": FinishValues("light painted plaster", 0.60, (0.02, 0.02, 0.03, 0.04, 0.05, 0.05, 0.05)),
    "plaster_mid": FinishValues("mid-tone painted plaster", 0.40, (0.02, 0.02, 0.03, 0.04, 0.05, 0.05, 0.05)),
    "plaster_dark": FinishValues("dark painted plaster", 0.12, (0.02, 0.02, 0.03, 0.04, 0.05, 0.05, 0.05)),
    "board_white": FinishValues("white plasterboard on studs", 0.80, (0.29, 0.10, 0.05, 0.04, 0.07, 0.09, 0.09)),
    "board_light": FinishValues("light plasterboard on studs", 0.60, (0.29, 0.10, 0.05, 0.04, 0.07, 0.09, 0.09)),
    "wallpaper_light": FinishValues("light wallpaper", 0.55, (0.02, 0.03, 0.04, 0.05, 0.07, 0.08, 0.08)),
    "brick_bare": FinishValues("bare brick", 0.25, (0.03, 0.03, 0.03, 0.04, 0.05, 0.07, 0.07)),
    "wood_panel": FinishValues("wood panelling", 0.30, (0.28, 0.22, 0.17, 0.09, 0.10, 0.11, 0.11)),
    "tiles": FinishValues("tiles", 0.60, (0.01, 0.01, 0.01, 0.01, 0.02, 0.02, 0.02)),
    "floor_wood": FinishValues("wooden floor", 0.30, (0.15, 0.11, 0.10, 0.07, 0.06, 0.07, 0.07)),
    "floor_laminate": FinishValues("laminate floor", 0.35, (0.02, 0.03, 0.04, 0.05, 0.05, 0.06, 0.06)),
    "floor_stone": FinishValues("stone or tiled floor", 0.35, (0.01, 0.01, 0.01, 0.02, 0.02, 0.02, 0.02)),
    "carpet_thin": FinishValues("thin carpet", 0.20, (0.02, 0.04, 0.08, 0.20, 0.35, 0.40, 0.40)),
    "carpet_thick": FinishValues("carpet on underlay", 0.20, (0.08, 0.24, 0.57, 0.69, 0.71, 0.73, 0.73)),
    "curtain_wall": FinishValues("heavy curtain along the wall", 0.30, (0.14, 0.35, 0.55, 0.72, 0.70, 0.65, 0.65)),
    "books_wall": FinishValues("full bookshelves along the wall", 0.20, (0.30, 0.40, 0.40, 0.30, 0.30, 0.20, 0.20)),
    "open": FinishValues("open to the next room", 0.0, (1.0, 1.0, 1.0, 1.0, 1.0, 1.0, 1.0)),
    "acoustic_ceiling": FinishValues("soft ceiling boards", 0.80, (0.25, 0.45, 0.75, 0.90, 0.90, 0.85, 0.85)),
}
GLASS = FinishValues("window glass", 0.10, (0.35, 0.25, 0.18, 0.12, 0.07, 0.04, 0.04))


@dataclass(frozen=True, slots=True)
class FurnishingValues:
    """Equivalent absorption area of one piece, ``area_m2`` per octave [m2]."""

    label: str
    area_m2: Seven


FURNISHINGS: dict[str, FurnishingValues] = {
    "sofa": FurnishingValues("sofa", (0.45, 0.80, 1.20, 1.45, 1.50, 1.40, 1.40)),
    "armchair": FurnishingValues("armchair", (0.20, 0.35, 0.55, 0.65, 0.70, 0.65, 0.65)),
    "bed": FurnishingValues("made bed", (0.70, 1.30, 2.00, 2.40, 2.50, 2.40, 2.40)),
    "bookcase": FurnishingValues("full bookcase", (0.50, 0.65, 0.65, 0.50, 0.50, 0.35, 0.35)),
    "rug": FurnishingValues("rug, 2 m²", (0.08, 0.16, 0.40, 0.80, 1.10, 1.20, 1.20)),
    "heavy_curtain": FurnishingValues("heavy curtain, 3 m²", (0.40, 1.00, 1.60, 2.10, 2.00, 1.90, 1.90)),
    "light_curtain": FurnishingValues("light curtain, 3 m²", (0.10, 0.15, 0.35, 0.50, 0.70, 0.90, 0.90)),
    "person": FurnishingValues("person", (0.15, 0.25, 0.40, 0.45, 0.45, 0.40, 0.40)),
    "duvet": FurnishingValues("hung duvet, 3 m²", (0.30, 0.90, 1.90, 2.40, 2.50, 2.50, 2.50)),
    "wardrobe_clothes": FurnishingValues("open wardrobe of clothes", (0.40, 0.70, 0.95, 1.05, 1.05, 1.00, 1.00)),
    "chair_wood": FurnishingValues("wooden chair", (0.01, 0.02, 0.02, 0.03, 0.04, 0.04, 0.04)),
}
