"""Moves against noise: switched off or shut out, keys and knocks kept off the microphone, and the system's own removal."""

from __future__ import annotations

from collections.abc import Iterator, Set

from uphill_lamp.core import cautions
from uphill_lamp.core.document.patch import remove, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.sound.capsule import REMOVED_DB, Heard
from uphill_lamp.core.judging import FREE, Move
from uphill_lamp.core.offers import at_home
from uphill_lamp.core.scene.wording import the

OPEN_WINDOW_DB_A = 42.0  # street this loud in a room comes through an open pane
SHUT_DB = 12.0  # what shutting it takes off, a working value
BY_NOISE = {"sound.snr", "sound.sti"}
STANDS = ("desk_stand", "boom_arm", "floor_stand")


def _them(name: str) -> str:
    return "them" if name.endswith("s") else "it"


def moves(setup: Setup, heard: Heard, wanting: Set[str]) -> Iterator[Move]:
    """What lowers the noise at the microphone."""
    if wanting & BY_NOISE:
        yield from _stopped(setup, steady=True)
        yield from _shut(setup)
    if "sound.snr" in wanting and not setup.computer.noise_removal:
        detail = (f"Some {REMOVED_DB:.0f} dB less hiss and hum, and no clearer words. It can thin your voice, removes ticking, music and whatever "
                  "you hold up to the microphone too, and keeps the computer busy.")  # fmt: skip
        patch = (replace("/computer/noise_removal", True),)
        yield Move("sound.noise_removal", "Switch on the system's noise removal", patch, FREE, detail=detail)
    if "sound.touch" in wanting:
        yield from _damped(setup)


def events(setup: Setup) -> Iterator[Move]:
    """What can be stopped of what comes and goes."""
    yield from _stopped(setup, steady=False)


def _stopped(setup: Setup, steady: bool) -> Iterator[Move]:
    for noise in setup.noises:
        if noise.can_be_stopped and noise.steady == steady:
            outside = noise.curve == "street"
            title = f"Switch {the(noise.name)} off for the call, or move {_them(noise.name)} out"
            shut = f"Shut out {the(noise.name)}: close windows and doors on that side for the call"
            yield Move(f"sound.quieten.{noise.id}", shut if outside else title, (remove(f"/noises/{noise.id}"),))


def _shut(setup: Setup) -> Iterator[Move]:
    if not setup.room.windows:
        return
    for noise in setup.noises:
        if noise.curve == "street" and noise.steady and noise.level_db_a >= OPEN_WINDOW_DB_A:
            patch = (replace(f"/noises/{noise.id}/level_db_a", round(noise.level_db_a - SHUT_DB, 1)),)
            yield Move(f"sound.shut_window.{noise.id}", "Shut the window while you speak", patch, FREE,
                       detail=f"Takes some {SHUT_DB:.0f} dB off {the(noise.name)}. Air the room before the call and in the breaks.")  # fmt: skip


def _damped(setup: Setup) -> Iterator[Move]:
    microphone = setup.microphone_in_use
    if microphone is None or microphone.damped or microphone.stand not in STANDS:
        return
    had = at_home(setup, ("shock_mount",), "Something soft under the stand")
    patch = (replace(f"/microphones/{microphone.id}/damped", True), *had.patch)
    title = "Stand the microphone on a folded towel" if had.cost.kind == "free" else "Hang the microphone in its shock mount"
    yield Move("sound.damp", title, patch, had.cost, (cautions.CABLES,), detail="It keeps knocks of the desk out of it.")
