"""Why a figure of a take is not as planned: the likeliest cause from plan and take together, what proves it, and the move that mends it."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.scene.aiming import tilted_to
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.wording import degrees, length

FAR_OFF_M = 0.35  # nobody sits so far from where they said: then it is the lens


@dataclass(frozen=True)
class Cause:
    """The likeliest cause in a sentence, a test that proves it, a move that mends it, and the seconds that takes."""

    words: str
    proof: str
    move: str
    seconds: int


@dataclass(frozen=True)
class Seen:
    """A take held against the plan: what was measured and expected, by id, and which of it differs."""

    appraisal: Appraisal
    measured: Mapping[str, float]
    expected: Mapping[str, float]
    off: frozenset[str]

    def more(self, name: str) -> float:
        """By how much more than expected was measured."""
        return self.measured[name] - self.expected[name]

    def told_m(self, metres: float) -> str:
        """A length in the setup's units, without its sign."""
        return length(abs(metres), self.appraisal.setup.preferences.units)

    @property
    def away_m(self) -> float:
        """From the lens to the eyes along the lens's axis, as planned [m]."""
        scene = scene_of(self.appraisal.setup)
        return float(scene.pinhole.depth(scene.face.eyes[None])[0])

    @property
    def further_m(self) -> float | None:
        """How much further away than planned the head's size says they sit [m]; None where it was not measured."""
        name = "picture.head_share"
        if name not in self.measured or name not in self.expected or self.measured[name] <= 0:
            return None
        return self.away_m * (self.expected[name] / self.measured[name] - 1)


def cause_of(name: str, seen: Seen) -> Cause:
    """Why a figure that differs from the plan does."""
    return (_WORKED_OUT.get(name) or (lambda _: USUAL.get(name, _UNKNOWN)))(seen)


def _eye_line(seen: Seen) -> Cause:
    further = seen.further_m
    if "picture.head_share" in seen.off and further is not None and abs(further) < FAR_OFF_M:
        return Cause(
            "Your head's size differs too: you sit otherwise than planned, and the eye line follows.",
            "Sit where the plan has you and take another: both should come right.",
            "Mend the head's size first.",
            15,
        )
    half_height = scene_of(seen.appraisal.setup).pinhole.field.half_height
    off_deg = math.degrees(math.atan(2 * half_height * abs(seen.more("picture.eye_line"))))
    low = seen.more("picture.eye_line") > 0
    patch = tilted_to(seen.appraisal.setup, seen.expected["picture.eye_line"])
    lid = patch is not None and str(patch[0]["path"]).endswith("hinge_deg")
    way = ("Close the lid" if low else "Open the lid") if lid else ("Tilt the camera down" if low else "Tilt the camera up")
    return Cause(
        f"The camera looks {degrees(off_deg)} {'higher' if low else 'lower'} than planned, or you sit {'lower' if low else 'taller'}.",
        "Sit up straight and look again: if your eyes stay where they are, it is the camera.",
        f"{way} by {degrees(off_deg)}.",
        10,
    )


def _head_share(seen: Seen) -> Cause:
    further = seen.further_m or 0.0
    if abs(further) >= FAR_OFF_M:
        return Cause(
            f"The lens takes in {'more' if further > 0 else 'less'} than planned, or the picture is cut on its way.",
            f"Hold a tape from your eyes to the lens: the plan says {seen.told_m(seen.away_m)}. If that holds, it is the lens.",
            "Tell the lens's own angle in the plan, or look for a zoom in the camera's settings.",
            60,
        )
    return Cause(
        f"You sit some {seen.told_m(further)} {'further away' if further > 0 else 'nearer'} than planned.",
        f"Hold a tape from your eyes to the lens: the plan says {seen.told_m(seen.away_m)}.",
        f"{'Come nearer' if further > 0 else 'Sit back'} by {seen.told_m(further)}.",
        10,
    )


def _side_position(seen: Seen) -> Cause:
    aside_m = 2 * scene_of(seen.appraisal.setup).pinhole.field.half_width * seen.away_m * seen.more("picture.side_position")
    side, back = ("left", "right") if aside_m > 0 else ("right", "left")  # a picture that is not mirrored shows your left on its right
    return Cause(
        f"You sit some {seen.told_m(aside_m)} to your {side} of the plan, or the camera looks past you.",
        "Sit before the middle of the screen and look again: if it stays, it is the camera.",
        f"Move {seen.told_m(aside_m)} to your {back}, or turn the camera to your {side}.",
        10,
    )


def _headroom(seen: Seen) -> Cause:
    if "picture.eye_line" in seen.off or "picture.head_share" in seen.off:
        return Cause("It follows the eye line and the head's size.", "Mend those and take another.", "Nothing of its own.", 10)
    return Cause(
        "Hair, a hat or a covering stands higher than planned.",
        "Drag the mark to the top of the skull: if it is as planned then, it is that.",
        "Tell your hair in the plan; or tilt the camera up a little.",
        15,
    )


def _roll(seen: Seen) -> Cause:
    more = seen.more("picture.roll")
    return Cause(
        f"The camera leans {degrees(abs(more))} {'clockwise' if more > 0 else 'anticlockwise'}, or you held your head aslant.",
        "Look at a door or a shelf in the picture: if it leans too, it is the camera.",
        f"Turn the camera {'anticlockwise' if more > 0 else 'clockwise'} by {degrees(abs(more))}.",
        15,
    )


def _head_turn(seen: Seen) -> Cause:
    more = seen.more("picture.head_turn")
    side, back = ("left", "right") if more > 0 else ("right", "left")
    return Cause(
        f"You face {degrees(abs(more))} further to your {side} than planned, or the camera stands further to your {back}.",
        "Turn your chair until your knees point at the lens and take another: if it is 0 then, it was the chair.",
        f"Turn yourself {degrees(abs(more))} to your {back}, or put the camera where you look.",
        10,
    )


def _view_angle(seen: Seen) -> Cause:
    higher = seen.more("picture.view_angle") > 0
    way, back = ("higher", "lower") if higher else ("lower", "higher")
    return Cause(
        f"Seen from your eyes, the lens is {way} than planned, or you held your chin {'low' if higher else 'high'}.",
        "Look straight ahead, at something as high as your eyes, and take another: if it is as planned then, it was your chin.",
        f"Put the lens {back}, or your seat {way}; else measure both heights and tell them in the plan.",
        30,
    )


def _halves(seen: Seen) -> Cause:
    harder = seen.more("picture.halves") > 0
    return Cause(
        "One side gets less light than planned: the brighter source is stronger, or stands further to the side."
        if harder
        else "Both sides get more alike light than planned: the lamp stands nearer to the camera, or the room throws back more.",
        "Switch your lamp off and take another: if little changes, it is the window.",
        "Hang something white on the darker side, or bring the lamp nearer to the camera."
        if harder
        else "Nothing, if you like it: it is softer than planned.",
        45,
    )


def _backdrop(seen: Seen) -> Cause:
    darker = seen.more("picture.backdrop") < 0
    bright = darker and "picture.burnt_out" in seen.off
    return Cause(
        "Something bright behind you makes the camera darken all the rest."
        if bright
        else f"There is {'less' if darker else 'more'} light on you than planned, or {'more' if darker else 'less'} on what is behind.",
        "Cover the window or lamp behind you: if your face gets brighter in the picture, it is that."
        if darker
        else "Switch your lamp off and look again.",
        "Draw the curtain behind you, or turn until it is out of view."
        if bright
        else ("Bring your lamp nearer, or turn it up by half." if darker else "Dim your lamp, or light the wall behind."),
        30,
    )


def _over_noise(seen: Seen) -> Cause:
    less_db = -seen.more("sound.snr_a_db")
    if less_db <= 0:
        return Cause("The room is quieter than planned, or the microphone nearer.", "Listen: what of the plan's noises is off?",
                     "Nothing: it is better than planned. Take it over.", 5)  # fmt: skip
    near = 10 ** (-less_db / 20)
    hum = bool(seen.measured.get("sound.hum"))
    return Cause(
        "The mains hum in it." if hum else "Something is louder than planned, or the microphone is not the one you mean.",
        "Unplug the charger and listen again."
        if hum
        else "Switch off one thing after another that hums or blows, and take another each time.",
        f"Come nearer to the microphone: {100 * near:.0f} % of the distance mends it."
        if near > 0.3
        else "Look which microphone is in use first.",
        20,
    )


def _rings(seen: Seen) -> Cause:
    longer = seen.more("sound.t20_s") > 0
    return Cause(
        f"There is {'less' if longer else 'more'} that is soft in the room than planned, or the walls are {'harder' if longer else 'softer'}.",
        "Open a full wardrobe, or hang a duvet over the door, and clap again: it should fall.",
        "Take it over: it is your room as it is."
        if not longer
        else "Hang cloth where you speak to; or take it over and see what it costs.",
        60,
    )


def _rate(seen: Seen) -> Cause:
    return (
        Cause(
            "The camera sends fewer pictures: it is dark, or it is asked for more pixels than its cable carries.",
            "Turn all lamps on and take another: if the rate rises, it was the dark.",
            "More light on your face; or ask the camera for 1280 × 720.",
            30,
        )
        if seen.more("clip.fps") < 0
        else Cause("The camera sends more than the plan says.", "Look in its settings.", "Tell its rate in the plan.", 15)
    )


def _paper_cct(seen: Seen) -> Cause:
    warmer = seen.more("picture.paper_cct") < 0
    return Cause(
        f"The light on you is {'warmer' if warmer else 'colder'} than planned, or the camera's white is not where the plan has it.",
        "Set the camera's white on the paper and take another: if it is white then, it was the setting.",
        "Set the camera's white on the paper, and lock it.",
        20,
    )


def _paper_lx(seen: Seen) -> Cause:
    less = seen.more("picture.paper_lx") < 0
    return Cause(
        f"Your lamp gives {'less' if less else 'more'} than planned, it stands {'further away' if less else 'nearer'}, or the window does.",
        "Switch your lamp off and take another: what is left is the window's.",
        "Bring the lamp nearer, or turn it up." if less else "Tell in the plan what your lamp really gives, or dim it.",
        30,
    )


_WORKED_OUT: dict[str, Callable[[Seen], Cause]] = {
    "picture.eye_line": _eye_line,
    "picture.head_share": _head_share,
    "picture.side_position": _side_position,
    "picture.headroom": _headroom,
    "picture.roll": _roll,
    "picture.head_turn": _head_turn,
    "picture.view_angle": _view_angle,
    "picture.halves": _halves,
    "picture.backdrop": _backdrop,
    "picture.paper_cct": _paper_cct,
    "picture.paper_lx": _paper_lx,
    "sound.snr_a_db": _over_noise,
    "sound.t20_s": _rings,
    "clip.fps": _rate,
}
_UNKNOWN = Cause("Something is not as the plan says.", "Take another, and compare.", "Look at the plan beside it.", 60)
# Of faults that have one cause whatever the plan says.
USUAL = {
    "picture.room_lean": Cause(
        "The camera leans, or the room's shelves and doors do.",
        "Hold something with a level on it before the camera.",
        "Turn the camera until doors stand upright in the picture.",
        15,
    ),
    "picture.burnt_out": Cause(
        "Something shines into the picture, or the camera exposes for something dark.",
        "Cover the brightest thing in view with a hand and look again.",
        "Take it out of view, or set the exposure by your face and lock it.",
        30,
    ),
    "sound.hum": Cause(
        "A charger, or a cable beside a mains lead, hums in the sound.",
        "Unplug the charger and listen again.",
        "Use another socket, and keep the microphone's cable away from mains leads.",
        30,
    ),
    "sound.clipped_samples": Cause(
        "It is too loud for the input.",
        "Speak half as loud: if it is gone, it is that.",
        "Turn the input down by 6 dB, or sit further away.",
        15,
    ),
    "sound.pops_s": Cause(
        "Breath hits the microphone.",
        "Say “paper boat” past it: if the pops are gone, it is that.",
        "Speak past it, not into it, or put a foam cover on it.",
        10,
    ),
    "sound.dead_channels": Cause(
        "A plug is not fully in, or the wrong input is in use.",
        "Tap the microphone and watch both sides.",
        "Push the plug in; choose the other input.",
        15,
    ),
    "clip.dropped": Cause(
        "The machine, or the camera's cable, is too busy.",
        "Close all other programs and take another.",
        "Plug the camera in by itself, without a hub.",
        30,
    ),
    "clip.shake_by_keys": Cause(
        "The camera stands on what you type on.",
        "Hold it in a hand while you type: if it is still, it is that.",
        "Put it on something else, or a folded cloth under the keyboard.",
        30,
    ),
    "clip.flicker_share": Cause(
        "A lamp flickers with the mains.",
        "Switch one lamp off after another: the bands go with one of them.",
        "Leave that lamp off, or set the camera's mains setting.",
        20,
    ),
}
