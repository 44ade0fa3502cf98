"""Small sketches of the kinds of things that can be put into a setup; decoration only, the words stand beside them."""

from __future__ import annotations

from uphill_lamp.drawings.svg import Node, SvgText, path

WIDTH, HEIGHT = 48.0, 36.0
_STAND = "M24,22 v10 M17,33 h14"
SKETCHES: dict[str, str] = {
    "lights.desk_lamp": "M16,33 h16 M24,33 v-8 l-8,-10 M10,18 l12,-8 l-5,-5 l-9,7 z",
    "lights.daylight_desk_lamp": "M16,33 h16 M24,33 v-8 l-8,-10 M10,18 l12,-8 l-5,-5 l-9,7 z M34,6 v-4 M34,14 v4 M30,10 h-3 M38,10 h4",
    "lights.floor_lamp": "M17,34 h14 M24,34 v-20 M15,14 h18 l-4,-10 h-10 z",
    "lights.ceiling_lamp": "M24,1 v8 M12,22 q12,-24 24,0 z M20,25 q4,5 8,0",
    "lights.small_panel": f"M10,4 h28 v18 h-28 z M14,8 h20 v10 h-20 z {_STAND}",
    "lights.ring": f"M24,2 a11,11 0 1 0 .1,0 M24,6 a7,7 0 1 0 .1,0 {_STAND}",
    "lights.strip": "M4,15 h40 v6 h-40 z M9,18 h3 M18,18 h3 M27,18 h3 M36,18 h3",
    "lights.phone_torch": "M20,8 h13 v25 h-13 z M23,12 l-9,-8 M23,13 h-10 M25,11 v-8",
    "lights.accent": "M17,34 h14 M24,34 v-14 M16,20 h16 l-3,-9 h-10 z M12,8 l-4,-4 M24,7 v-6 M36,8 l4,-4",
    "windows.window": "M10,4 h28 v28 h-28 z M24,4 v28 M10,17 h28",
    "windows.wide_window": "M3,8 h42 v20 h-42 z M17,8 v20 M31,8 v20",
    "windows.glass_door": "M15,2 h18 v32 h-18 z M19,6 h10 v24 h-10 z",
    "windows.curtained": "M10,4 h28 v28 h-28 z M8,4 q5,14 0,29 M40,4 q-5,14 0,29 M16,4 q-3,14 1,28 M32,4 q3,14 -1,28",
    "doors.door": "M14,2 h20 v32 h-20 z M29,19 v2 M18,6 h12 v9 h-12 z",
    "cameras.webcam": "M14,7 h20 v12 h-20 z M21,13 a3,3 0 1 0 6,0 a3,3 0 1 0 -6,0 M20,19 l-4,6 h16 l-4,-6",
    "cameras.phone_rear": "M16,3 h16 v30 h-16 z M19,6 h5 v5 h-5 z M21.5,8.5 h.1",
    "cameras.capture": "M7,12 h34 v18 h-34 z M17,21 a7,7 0 1 0 14,0 a7,7 0 1 0 -14,0 M12,12 v-4 h8 v4",
    "screens.laptop": "M10,6 h28 v18 h-28 z M5,30 h38 M10,24 l-5,6 M38,24 l5,6",
    "screens.monitor": "M5,4 h38 v22 h-38 z M24,26 v6 M16,33 h16",
    "screens.tablet": "M9,5 h30 v22 h-30 z M16,27 l-3,6 M32,27 l3,6",
    "screens.phone": "M4,9 h40 v19 h-40 z M8,18 h.1",
    "screens.prompter_glass": "M12,6 l24,4 v16 l-24,4 z M6,14 l6,3 M6,20 l6,-1 M18,12 h10 M18,17 h12",
    "screens.projection": "M4,3 h40 v2 h-40 z M7,5 h34 v24 h-34 z M12,11 h14 M12,17 h20",
    "microphones.headset": "M10,22 v-6 a14,13 0 0 1 28,0 v6 M8,20 h6 v9 h-6 z M34,20 h6 v9 h-6 z M11,29 q2,5 11,4",
    "microphones.earbuds": "M14,6 a4,4 0 1 0 .1,0 M34,6 a4,4 0 1 0 .1,0 M14,14 q0,10 10,12 M34,14 q0,10 -10,12 M24,26 v8 M26,16 v5",
    "microphones.lapel": "M10,2 l14,16 l14,-16 M24,18 v16 M30,20 h5 v8 h-5 z",
    "microphones.usb_desk": "M19,4 h10 v14 h-10 z M24,18 v10 M15,33 l9,-5 l9,5 M19,10 h10",
    "microphones.usb_arm": "M5,33 v-14 l18,-12 M23,7 l6,4 M28,9 h9 v14 h-9 z M28,15 h9",
    "microphones.xlr_dynamic": "M16,8 a8,7 0 0 1 16,0 v3 h-16 z M18,11 l3,22 h6 l3,-22",
    "microphones.xlr_condenser": "M15,4 h18 v17 h-18 z M24,21 v12 M15,12 h18 M19,4 v8 M29,4 v8",
    "microphones.shotgun": "M3,15 h42 v5 h-42 z M9,15 v5 M15,15 v5 M21,15 v5 M24,20 v12 M18,33 h12",
    "noises.street": "M3,30 h42 M8,30 v-8 l5,-5 h14 l6,5 h7 v8 M14,30 a3,3 0 1 0 6,0 M31,30 a3,3 0 1 0 6,0",
    "noises.fan": "M24,3 a13,13 0 1 0 .1,0 M24,16 q-8,-8 0,-10 q5,4 0,10 q10,1 7,8 q-6,1 -7,-8 q-6,8 -10,3 q0,-7 10,-3 M24,29 v5 M17,34 h14",
    "noises.fridge": "M14,2 h20 v32 h-20 z M14,13 h20 M18,6 v4 M18,17 v8",
    "noises.computer": "M14,3 h20 v30 h-20 z M24,14 a6,6 0 1 0 .1,0 M18,7 h12",
    "noises.clocks": "M24,4 a14,14 0 1 0 .1,0 M24,18 v-8 M24,18 l6,4",
    "noises.people": "M14,8 a5,5 0 1 0 .1,0 M34,8 a5,5 0 1 0 .1,0 M5,32 q9,-16 18,0 M25,32 q9,-16 18,0",
    "noises.hum": "M3,18 q5,-14 10.5,0 t10.5,0 t10.5,0 t10.5,0",
    "noises.own": "M8,14 v8 h6 l9,8 v-24 l-9,8 z M30,12 q5,6 0,12 M36,8 q9,10 0,20",
    "backdrop.shelf": "M8,3 v30 M40,3 v30 M8,12 h32 M8,23 h32 M12,5 v7 M16,5 v7 M28,15 h8 v8 M14,26 h12 v7",
    "backdrop.plant": "M17,24 h14 l-2,10 h-10 z M24,24 v-14 M24,16 q-10,0 -11,-11 q10,0 11,11 q10,-1 11,-9 q-9,-1 -11,9",
    "backdrop.picture": "M7,5 h34 v26 h-34 z M11,9 h26 v18 h-26 z M13,25 l7,-9 l6,6 l4,-4 l5,7",
    "backdrop.clock": "M24,4 a14,14 0 1 0 .1,0 M24,18 v-9 M24,18 h6",
    "backdrop.bed": "M5,10 v22 M5,22 h38 v10 M5,28 h38 M9,22 v-5 h10 v5",
    "backdrop.clutter": "M6,33 h36 M9,33 v-12 h12 v12 M13,21 l4,-8 l10,3 l-3,17 M30,33 l3,-12 l9,4 l-4,8",
    "backdrop.screen": "M6,6 h36 v22 h-36 z M10,10 h28 v14 h-28 z M18,33 h12",
    "backdrop.green_screen": "M8,4 h32 v28 h-32 z M8,4 l32,28 M40,4 l-32,28",
    "backdrop.plain_wall": "M8,4 h32 v28 h-32 z",
    "backdrop.door": "M14,2 h20 v32 h-20 z M29,19 v2",
    "clothing.top": "M16,5 q8,6 16,0 l10,6 l-4,8 l-4,-2 v16 h-20 v-16 l-4,2 l-4,-8 z",
    "clothing.jacket": "M16,4 l8,12 l8,-12 l10,6 l-4,9 l-3,-2 v17 h-22 v-17 l-3,2 l-4,-9 z M24,16 v18",
    "clothing.scarf": "M12,8 q12,10 24,0 l2,6 q-8,6 -12,5 l4,14 h-8 l-3,-14 q-6,0 -9,-5 z",
    "clothing.jewellery": "M10,6 q14,30 28,0 M24,22 l-4,5 l4,6 l4,-6 z",
    "clothing.hat": "M4,26 q20,8 40,0 M13,27 v-12 q11,-14 22,0 v12",
    "reflectors.sheet": "M14,3 h20 v30 h-20 z M19,9 l8,8 M22,8 l9,9",
    "furnishings": "M6,18 v14 h36 v-14 M6,18 q0,-5 5,-5 q5,0 5,5 v6 h16 v-6 q0,-5 5,-5 q5,0 5,5 M14,13 v-5 q10,-4 20,0 v5",
    "furnishings.bookcase": "M8,3 h32 v30 h-32 z M8,13 h32 M8,23 h32 M13,5 v8 M18,5 v8 M30,15 v8",
    "furnishings.rug": "M6,14 h36 l3,14 h-42 z M10,18 h28 M9,24 h31",
    "furnishings.heavy_curtain": "M6,4 h36 M9,4 q4,14 0,29 M17,4 q4,14 0,29 M25,4 q4,14 0,29 M33,4 q4,14 0,29 M40,4 q3,14 0,29",
    "furnishings.person": "M24,5 a6,6 0 1 0 .1,0 M10,34 q14,-26 28,0",
    "furnishings.bed": "M5,10 v22 M5,22 h38 v10 M5,28 h38 M9,22 v-5 h10 v5",
    "furnishings.armchair": "M13,19 v-9 q11,-8 22,0 v9 M9,20 q0,-5 4,-5 v11 h22 v-11 q4,0 4,5 v11 h-30 z M13,31 v3 M35,31 v3",
    "furnishings.light_curtain": "M6,4 h36 M10,4 v29 M18,4 v29 M30,4 v29 M38,4 v29 M10,33 q4,-3 8,0 M30,33 q4,-3 8,0",
    "furnishings.duvet": "M5,5 h38 M9,5 v24 q7,5 15,0 q8,5 15,0 v-24 M9,17 q7,5 15,0 q8,5 15,0 M24,5 v24",
    "furnishings.wardrobe_clothes": "M9,3 h30 v30 h-30 z M9,8 h30 M15,8 l-3,4 v15 h6 v-15 z M24,8 l-3,4 v11 h6 v-11 z M33,8 l-3,4 v17 h6 v-17 z",
    "furnishings.chair_wood": "M14,3 v30 M14,18 h18 v15 M14,8 h10",
}  # fmt: skip


def kind_sketch(key: str) -> SvgText:
    """The sketch of a kind; that of its sort where it has none of its own."""
    drawn = SKETCHES.get(key) or SKETCHES.get(key.partition(".")[0], "M10,6 h28 v24 h-28 z")
    return Node("svg", path(drawn, class_="ink"), xmlns="http://www.w3.org/2000/svg", viewBox=f"0 0 {WIDTH:g} {HEIGHT:g}",
        class_="kind-sketch", aria_hidden="true").text()  # fmt: skip
