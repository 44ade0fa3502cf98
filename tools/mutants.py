"""``./uphill mutants [NUMBER ...]``: puts a list of deliberate faults into a copy of the tree, one at a time, and tells which the tests let live."""

from __future__ import annotations

import argparse
import os
import shutil
import subprocess
import sys
import tempfile
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
LEFT_OUT = shutil.ignore_patterns(".git", ".uphill", "__pycache__", "screenshots")
PATIENCE_S = 900


@dataclass(frozen=True)
class Fault:
    """A deliberate fault: in a file of the package, a piece of text and what it becomes; and the tests that ought to see it."""

    what: str
    file: str
    text: str
    wrong: str
    tests: str


FAULTS = (
    Fault("roll the wrong way", "core/scene/pinhole.py", "level_right * math.cos(roll) - level_up", "level_right * math.cos(roll) + level_up", "tests.core.test_projection"),
    Fault("looks left and right swapped", "core/areas/eyes/glances.py", "atan2(float(look @ left), along)", "atan2(-float(look @ left), along)", "tests.core.test_hand"),
    Fault("A-weights an octave off", "core/field/sound/octaves.py", "[-16.1, -8.6, -3.2, 0.0, 1.2, 1.0, -1.1]", "[-26.2, -16.1, -8.6, -3.2, 0.0, 1.2, 1.0]", "tests.core.test_sound"),
    Fault("clarity's overlap an octave off", "core/field/sound/clarity.py", "[0.085, 0.078, 0.065, 0.011, 0.047, 0.095]", "[0.078, 0.065, 0.011, 0.047, 0.095, 0.085]", "tests.core.test_clarity"),
    Fault("dBV to dBu the wrong way", "core/field/sound/gain.py", "DBV_TO_DBU = 2.2", "DBV_TO_DBU = -2.2", "tests.core.test_clarity tests.core.test_sound_moves"),
    Fault("exposure's sign", "core/field/camera/metering.py", "math.log2(face_lx * GREY_CARD / math.pi / mean)", "-math.log2(face_lx * GREY_CARD / math.pi / mean)", "tests.core.test_light"),
    Fault("the house's bearing added", "core/field/light/daylight.py", "azimuth_deg - north_bearing_deg", "azimuth_deg + north_bearing_deg", "tests.core.test_daylight"),
    Fault("exchange rate upside down", "core/catalogue/prices.py", "self.rates.get(currency, 1.0) / self.rates.get(kind.currency, 1.0)", "self.rates.get(kind.currency, 1.0) / self.rates.get(currency, 1.0)", "tests.core.test_catalogue"),
    Fault("spectacles tilt up", "core/areas/light/glare.py", "-1, 1))) + tilt_deg)", "-1, 1))) - tilt_deg)", "tests.core.test_light_table"),
    Fault("shutter by hand 1/fps", "core/field/camera/response.py", "round(frame / 2 / flicker)", "round(frame / flicker)", "tests.core.test_worked_cases"),
    Fault("an inch of 2.5 cm", "core/scene/wording.py", "INCH_M = 0.0254", "INCH_M = 0.025", "tests.core.test_hand"),
    Fault("USB 3 over 5 m", "core/wiring/limits.py", '"usb3": 3.0, "hdmi"', '"usb3": 5.0, "hdmi"', "tests.core.test_wiring"),
    Fault("breath to 40 degrees", "core/field/sound/touch.py", "POP_NONE_DEG = 0.12, 0.03, 20.0", "POP_NONE_DEG = 0.12, 0.03, 40.0", "tests.core.test_clarity tests.core.test_sound"),
    Fault("looks aside forgiven to 3 degrees", "core/areas/eyes/glances.py", "ASIDE = Band(None, 1.5, None, 6.0)", "ASIDE = Band(None, 3.0, None, 6.0)", "tests.core.test_method"),
    Fault("thirds swapped", "core/areas/frame/bands.py", "SIDE_LEFT_THIRD if looking_right", "SIDE_RIGHT_THIRD if looking_right", "tests.core.test_method"),
    Fault("Sabine's constant", "core/field/sound/room.py", "SABINE = 0.161", "SABINE = 0.163", "tests.core.test_sound"),
    Fault("top light upside down", "core/areas/light/lamp_placing.py", "for a, b in ((left, right), (top, front))", "for a, b in ((left, right), (front, top))", "tests.core.test_areas"),
    Fault("hull turned inside out", "core/steps/pareto_front.py", "_slope(hull[-2], hull[-1]) <= _slope(hull[-2], point)", "_slope(hull[-2], hull[-1]) >= _slope(hull[-2], point)", "tests.core.test_ladder_exact"),
    Fault("critical distance doubled", "core/field/sound/room.py", "CRITICAL = 0.0032", "CRITICAL = 0.0128", "tests.core.test_sound"),
    Fault("warm lamps not warned of", "core/scene/handling.py", 'if light.heat != "cool":', 'if light.heat == "cool":', "tests.core.test_method"),
    Fault("a camera on a monitor left behind when the desk turns", "core/scene/handling.py", "(item.yaw_deg or 0.0) + turn_deg), 2)))", "(item.yaw_deg or 0.0) - turn_deg), 2)))", "tests.core.test_hand"),
    Fault("clarity wanted 0.60", "core/areas/sound/measures.py", "STI = Band(0.75, None, 0.45, None)", "STI = Band(0.60, None, 0.45, None)", "tests.core.test_method"),
    Fault("view angle from -3", "core/areas/frame/bands.py", '"eye_level": Band(-1, 3, -6, 12)', '"eye_level": Band(-3, 3, -6, 12)', "tests.core.test_method"),
    Fault("glare counts half", "core/areas/light/measures.py", '"light.glare": (2.0,', '"light.glare": (1.0,', "tests.core.test_method"),
    Fault("spectacles mirror half", "core/areas/light/glare.py", '"plain": 0.08', '"plain": 0.04', "tests.core.test_judgement"),
    Fault("what costs all there is cannot be had", "core/offers.py", "if amount <= setup.preferences.budget", "if amount < setup.preferences.budget", "tests.core.test_judgement"),
    Fault("panes throw light back", "core/field/light/radiosity.py", "reflectance *= 1 - _covered(patches, *opening)", "reflectance *= 1 - 0 * _covered(patches, *opening)", "tests.core.test_judgement"),
    # Ten of our own.
    Fault("sound reads no noises", "core/areas/sound/record.py", '    Read("noises", without=frozenset({"name"})),\n', "", "tests.core.test_areas"),
    Fault("frame reads no lid", "core/areas/frame/record.py", 'SHINES | {"windows"})', 'SHINES | {"windows", "hinge_deg"})', "tests.core.test_areas"),
    Fault("the mean becomes arithmetic", "core/judging.py", "reciprocals = reciprocals + weight / (0.1 + 0.9 * utility)", "reciprocals = reciprocals + weight * (1.1 - utility)", "tests.core.test_areas"),
    Fault("findings from 0.75 on", "core/judging.py", "WANTING = 0.85", "WANTING = 0.75", "tests.core.test_method"),
    Fault("sound counts 30", "core/document/areas.py", 'AreaName("sound", "Sound", 33)', 'AreaName("sound", "Sound", 30)', "tests.core.test_method"),
    Fault("no word of hanging cloth", "core/areas/light/window_covering_moves.py", "had.cost, words, cautions.CLOTH)", "had.cost, words, cautions.SUN)", "tests.core.test_method"),
    Fault("a lens looks through screens before it", "core/scene/view.py", "for name, pane in screen_backs(setup, pinhole.place)]", "for name, pane in ()]", "tests.core.test_seen"),
    Fault("a memory that never lets go", "core/locked_lru.py", "while len(self._found) > self._most or", "while len(self._found) > 10**9 or", "tests.core.test_kept"),
    Fault("no bound on marks in a script", "core/areas/eyes/script.py", "if counted > most:", "if counted > 10**9:", "tests.web.test_hostile.Scripts"),
    Fault("quality judged as a fault", "core/judging.py", 'elif measure.counts == "quality":', 'elif measure.counts == "none":', "tests.core.test_appraisal.Bands"),
    Fault("the dark counts as quality", "core/areas/light/measures.py", '"light.darkness": "factor"', '"light.darkness": "quality"', "tests.core.test_method"),
    Fault("glasses tipped back", "core/areas/light/glare.py", "tilt_deg = LENS_TILT_DEG + (", "tilt_deg = LENS_TILT_DEG - (", "tests.core.test_coach.SaidByACoach"),
    Fault("a fixed desk turned", "core/areas/light/lamp_moves.py", "_turns_at_desk(setup, middle_m) if setup.desk.fixed else", "_desk_turns(setup, middle_m) if setup.desk.fixed else", "tests.core.test_coach.SaidByACoach"),
    Fault("minutes cost nothing", "core/steps/hands.py", "return 0.0 if setup.preferences.rig_stays else sum(", "return 0.0 if not setup.preferences.rig_stays else sum(", "tests.core.test_ladder.Nila.test_minutes_are_a_price_where_nothing_stays_set_up"),
    Fault("foreign pages let in", "web/guard.py", 'OWN_SITES = ("same-origin", "none", "")', 'OWN_SITES = ("same-origin", "none", "", "cross-site")', "tests.web.test_hostile.Foreign"),
    Fault("what is unwanted hardly counts", "core/areas/backdrop/measures.py", "UNWANTED = Band(None, 0.0, None, 0.12)", "UNWANTED = Band(None, 0.0, None, 0.5)", "tests.core.test_method"),
    Fault("what is wanted counts as unwanted", "core/areas/backdrop/behind.py", "if not thing.wanted and thing.id in parts", "if thing.wanted and thing.id in parts", "tests.core.test_behind"),
    Fault("how near the wall is, upside down", "core/areas/backdrop/behind.py", "eyes_m / np.median(depth_m[beside])", "np.median(depth_m[beside]) / eyes_m", "tests.core.test_behind"),
    Fault("a mirror that one sees through", "drawings/far_side/cast.py", "way - 2 * float(way @ pane.normal)", "way - 0 * float(way @ pane.normal)", "tests.drawings.test_behind"),
    Fault("light behind a body goes through it", "core/field/light/body_shadow.py", "hidden.any(axis=0)", "hidden.all(axis=0)", "tests.core.test_behind_lit"),
    Fault("a large shadow counts less", "core/areas/backdrop/lit.py", "math.sqrt(share / SHADE_SHARE)", "math.sqrt(SHADE_SHARE / max(share, 0.01))", "tests.core.test_behind_lit tests.drawings.test_behind_lit"),
    Fault("hair as bright as skin", "core/areas/backdrop/lit.py", "inner * outline_reflectance(self.setup) / REFERENCE_FACE", "inner", "tests.core.test_behind_lit"),
    Fault("a garment against itself", "core/areas/backdrop/lit.py", "luminance * PLAIN_SHIRT / max(shirt_reflectance(self.setup), 0.01)", "luminance", "tests.core.test_behind_lit"),
    Fault("points of light are a ground", "core/areas/backdrop/lit.py", "[-math.ceil(BRIGHTEST * len(rays))]", "[-1]", "tests.core.test_behind_lit"),
    Fault("a blur makes it more restless", "core/areas/backdrop/texture.py", "stops / (1 + blur_m / halved_m)", "stops * (1 + blur_m / halved_m)", "tests.core.test_behind_lit tests.drawings.test_behind_lit"),
    Fault("a mirror looked through", "core/areas/backdrop/mirrors.py", "rays - 2 * (rays @ normal)[:, None] * normal", "rays - 0 * (rays @ normal)[:, None] * normal", "tests.core.test_behind"),
    Fault("skin shines where the lamp is", "core/areas/backdrop/shine.py", "2 * float(towards @ out) * out - towards", "towards - 2 * float(towards @ out) * out", "tests.core.test_behind_lit"),
    Fault("a clamp for any load", "core/offers.py", 'get("load_kg", load_kg) < load_kg', 'get("load_kg", load_kg) < 0', "tests.core.test_catalogue"),
    Fault("Light is not told what it does behind", "core/steps/score_cache.py", "score += moved * self.shares[other] / self.shares[area]", "score += 0 * moved", "tests.core.test_ladder_exact"),
    Fault("what cannot be better is worked out all the same", "core/steps/score_cache.py", "or 0.0) - at_most[area])", "or 0.0) - self._at_most(area, setup))", "tests.core.test_score_cache"),
    Fault("what is told soon is told too low", "core/areas/area.py", "if measure.id not in names", "if not names", "tests.core.test_score_cache"),
    Fault("on the picture left is right", "web/bench/actions.py", "right_m * dict(backdrop_panes(setup))[item.id].right +", "-right_m * dict(backdrop_panes(setup))[item.id].right +", "tests.browser.test_on_picture"),
    Fault("the chair before the sitter", "core/scene/chair.py", "face.at(-part.behind_m,", "face.at(part.behind_m,", "tests.drawings.test_chair"),
    Fault("the meter forgets the chair", "core/field/camera/camera_rays.py", "places) if self._chair else share", "places) if not self._chair else share", "tests.drawings.test_chair"),
    Fault("legs cast no shadow", "drawings/far_side/chair.py", "    if len(below):", "    if not len(below):", "tests.drawings.test_chair"),
    Fault("coloured lamps light white", "core/field/light/sources.py", "360.0, light.cct_k, duv=light.duv, hue_deg=light.hue_deg", "360.0, light.cct_k, duv=light.duv", "tests.drawings.test_chair"),
    Fault("what moves is told of where nobody sees it", "core/areas/backdrop/findings.py", "if thing.moves and thing.id in parts)", "if thing.moves)", "tests.core.test_behind"),
    Fault("light taken over where a thing now hangs", "core/field/camera/camera_rays.py", "np.flatnonzero(same), np.flatnonzero(~same)", "np.arange(len(same)), np.flatnonzero(np.zeros_like(same))", "tests.core.test_in_view"),
    Fault("turns ruled out by the brightest spot", "core/areas/backdrop/lit.py", "float(counted[-most])", "float(counted[-1])", "tests.core.test_in_view"),
    Fault("a body's shadow only where it is wide", "core/scene/body.py", "(high - low) * 3**0.5 / 2)", "(high - low) / 4)", "tests.core.test_behind_lit"),
    Fault("a dearer plan undoes what was free", "core/steps/rungs.py", "(other.amount and not any(_goes_with", "(not any(_goes_with", "tests.core.test_ladder.Scenarios"),
    Fault("a budget's plan is the dearest of all", "core/steps/ladder.py", "if rung.cost <= budget + 1e-9)", "if budget >= 0)", "tests.web.test_steps.Ladders"),
    Fault("a bulb for a phone's torch", "core/areas/light/colour_moves.py", ' and light.drive == "mains"', "", "tests.core.test_light_moves"),
    Fault("what a step told before another is told on", "core/steps/candidates.py", "first.basis if elsewhere else", "", "tests.core.test_ladder.Actions"),
    Fault("a step's figures are those of the start", "core/steps/rungs.py", "detail = action.told_between(before, there) if before and there else action.detail", "detail = action.detail", "tests.core.test_ladder.Nila"),
)  # fmt: skip


def lives(fault: Fault, folder: Path) -> bool:
    """Whether the tests pass with a fault in a copy of the tree.

    Raises:
        LookupError: if the text is not in the file once.
    """
    path = folder / "uphill_lamp" / fault.file
    sound = path.read_text()
    if sound.count(fault.text) != 1:
        raise LookupError(f"{fault.file} has {sound.count(fault.text)} times: {fault.text}")
    path.write_text(sound.replace(fault.text, fault.wrong))
    try:
        tests = subprocess.run(
            [sys.executable, "-m", "tests.run", *fault.tests.split()], cwd=folder, env=os.environ | {"PYTHONPATH": str(folder)},
            capture_output=True, timeout=PATIENCE_S, check=False,
        )  # fmt: skip
    finally:
        path.write_text(sound)
    return tests.returncode == 0


def main() -> int:
    """The command; 1 if a fault lives, else 0."""
    options = argparse.ArgumentParser(prog="uphill mutants", description=__doc__)
    options.add_argument("numbers", nargs="*", type=int, metavar="NUMBER", help="of the faults, from 1; all without it")
    wanted = options.parse_args().numbers or range(1, len(FAULTS) + 1)
    living = []
    with tempfile.TemporaryDirectory(prefix="uphill-mutants-") as folder:
        tree = Path(folder) / "tree"
        shutil.copytree(ROOT, tree, ignore=LEFT_OUT)
        (tree / "docs" / "screenshots").mkdir(exist_ok=True)
        for number in wanted:
            fault = FAULTS[number - 1]
            survived = lives(fault, tree)
            living += [fault.what] if survived else []
            print(f"{number:2} {'LIVES' if survived else 'killed'}: {fault.what}", flush=True)
    print(f"{len(wanted) - len(living)} of {len(wanted)} killed")
    return 1 if living else 0


if __name__ == "__main__":
    sys.exit(main())
