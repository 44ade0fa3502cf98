"""Files that are broken, lie about themselves or take too much: each a sentence, and the next file is looked at."""

from __future__ import annotations

import io
import json
import os
import struct
import subprocess
import sys
import tempfile
import zlib
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

import jsonschema
import numpy as np
import soundfile
from PIL import Image

from tests.looking.clips import written
from tests.looking.test_looking import picture_of
from tests.setups import demo
from uphill_lamp.__main__ import main
from uphill_lamp.core.document import Refused
from uphill_lamp.core.measuring.figure import measures_schema
from uphill_lamp.looking import child, measured
from uphill_lamp.looking.children import Forker, Heard


def _png(wide: int, high: int) -> bytes:
    """A PNG of so many pixels, all nought, in next to no bytes."""

    def part(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    rows = zlib.compressobj(9)
    body = b"".join(rows.compress(bytes(1 + (wide + 7) // 8)) for _ in range(high)) + rows.flush()
    return (
        b"\x89PNG\r\n\x1a\n" + part(b"IHDR", struct.pack(">IIBBBBB", wide, high, 1, 0, 0, 0, 0)) + part(b"IDAT", body) + part(b"IEND", b"")
    )


def _wav(samples: np.ndarray, rate: int = 48000, kind: str = "WAV", subtype: str = "PCM_16") -> bytes:
    out = io.BytesIO()
    soundfile.write(out, samples, rate, format=kind, subtype=subtype)
    return out.getvalue()


class Hostile(TestCase):
    def told(self, data: bytes, name: str) -> str:
        """What is said of a file, or the kind of its figures."""
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / name
            path.write_bytes(data)
            try:
                found = measured.measured(path)
            except Refused as wrong:
                return str(wrong.faults[0])
            jsonschema.Draft202012Validator(measures_schema()).validate(found)
            return str(found["kind"])

    def test_each_is_a_sentence_and_the_next_file_is_looked_at(self) -> None:
        good = io.BytesIO()
        Image.fromarray(picture_of(demo("room-that-works"))).save(good, "JPEG")
        jpeg, voice = good.getvalue(), _wav(0.1 * np.random.default_rng(1).standard_normal(60000))
        cases = {
            ("bomb.png", _png(30000, 30000)): "too many pixels",
            ("dot.png", _png(8, 8)): "8 × 8 px",
            ("half.jpg", jpeg[: len(jpeg) // 3]): "broken or cut off",
            ("half.wav", voice[: len(voice) // 2]): "sound",
            ("words.mp4", b"#EXTM3U\nhttp://localhost/secret\n"): "neither a picture nor a sound",
            ("text.webm", b"hello " * 400): "neither a picture nor a sound",
            ("nothing.png", b""): "an empty file",
            ("head.wav", voice[:44]): "sound",
            ("nan.wav", _wav(np.full(48000, np.nan), subtype="FLOAT")): "no numbers",
            ("loud.wav", _wav(np.full(48000, 1e30), subtype="DOUBLE")): "no numbers",
            ("silence.flac", _wav(np.zeros((3_600_000, 1)), 8000, "FLAC")): "sound",
            ("fast.wav", _wav(np.zeros(9000), 384000)): "8 to 192 kHz",
            ("wide.wav", _wav(0.1 * np.random.default_rng(2).standard_normal((20000, 8)))): "sound",
            ("picture.svg", b"<svg xmlns='http://www.w3.org/2000/svg'><script>alert(1)</script></svg>"): "neither a picture nor a sound",
            ("good.jpg", jpeg): "still",
        }
        for (name, data), said in cases.items():
            self.assertIn(said, self.told(data, name), name)

    def test_clips_that_lie_about_themselves(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            frames = [np.full((96, 128, 3), 90 + number, np.uint8) for number in range(60)]
            mp4 = written(Path(folder) / "a.mp4", frames).read_bytes()
            webm = written(Path(folder) / "a.webm", frames, codec="libvpx", deadline="realtime").read_bytes()
            fast = written(Path(folder) / "f.mp4", frames, times_s=np.arange(60) * 0.001).read_bytes()
            small = written(Path(folder) / "s.mp4", [frame[:32, :32] for frame in frames]).read_bytes()
        random = np.random.default_rng(3)
        torn = bytearray(webm)
        for at in random.integers(600, len(torn), 60):
            torn[int(at)] = int(random.integers(256))
        cases = {
            ("half.mp4", mp4[: len(mp4) // 2]): ("broken or cut off", "nothing can be read"),
            ("half.webm", webm[: len(webm) // 2]): ("clip", "broken"),
            ("torn.webm", bytes(torn)): ("clip", "broken", "nothing can be read"),
            ("fast.mp4", fast): ("clip",),
            ("small.mp4", small): ("32 × 32 px",),
            ("list.mp4", b"\0\0\0\x18ftypisom#EXTM3U\nfile:///etc/hostname\n"): ("broken or cut off",),
            ("magic.webm", b"\x1a\x45\xdf\xa3" + b"hello" * 900): ("broken or cut off",),
            ("good.mp4", mp4): ("clip",),
        }
        for (name, data), said in cases.items():
            answer = self.told(data, name)
            self.assertTrue(any(part in answer for part in said), (name, answer))

    def test_the_child_keeps_its_limits_and_is_ended_when_it_takes_too_much(self) -> None:
        held = (
            "import resource; from uphill_lamp.looking import child; child.limited(); "
            "print([resource.getrlimit(getattr(resource, 'RLIMIT_' + what))[0] for what in ('AS', 'CPU', 'NOFILE', 'FSIZE')])"
        )
        out = subprocess.run([sys.executable, "-c", held], capture_output=True, text=True, check=True).stdout
        self.assertEqual(json.loads(out), [child.MOST_ADDRESSES, child.MOST_CPU_S, child.MOST_FILES, 0])
        voice = _wav(0.1 * np.random.default_rng(1).standard_normal(600_000))
        for name, value, said in (("MOST_S", 0.0, "takes more than"), ("MOST_RESIDENT", 1, "too much memory")):
            with patch.object(measured, name, value):
                self.assertIn(said, self.told(voice, "voice.wav"))
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "voice.wav"
            path.write_bytes(voice)
            with self.assertRaises(Refused) as stopped:
                measured.measured(path, cancelled=lambda: True)
            self.assertIn("stopped", str(stopped.exception.faults[0]))
            text = Path(folder) / "words.wav"
            text.write_text("no sound at all")
            Forker.end_kept()
            with patch.object(subprocess, "Popen", wraps=subprocess.Popen) as forkers:
                wrong, right = measured.measured_all([measured.Job(text), measured.Job(path)])
                self.assertEqual(forkers.call_count, 1)  # for both
                self.assertIsInstance(wrong, Refused)
                self.assertEqual(right["kind"], "sound")  # type: ignore[index]
                with patch.object(measured, "MOST_RESIDENT", 1):
                    ended = measured.measured_all([measured.Job(path), measured.Job(path)])
                self.assertTrue(all("too much memory" in str(answer) for answer in ended))
                self.assertEqual(forkers.call_count, 2)  # a file that ends it does not end the next
                # What children are forked from keeps no limits of theirs, is not slowed by how many there were, and may end meanwhile.
                heard = Heard()
                Forker.at_hand().asked([measured.Job(path).data()], heard).join()
                Forker.at_hand().end()
                self.assertEqual(measured.measured(path)["kind"], "sound")
                self.assertEqual(forkers.call_count, 4)
                self.assertGreater(heard.cpu_s, 0.0)
                self.assertNotEqual(heard.pid, os.getpid())

    def test_what_a_child_says_is_taken_for_no_more_than_it_is(self) -> None:
        heard = Heard()
        heard.read([b'{"child": 7}\n', b'{"done": 0.5}\n', b"[[1, 2]]\n", b"3\n", b'{"kind": "st\n', b'{"kind": "still"}\n'])
        self.assertEqual((heard.pid, heard.answers, heard.ended), (7, [{"kind": "still"}], False))
        heard.read(
            [b'{"faults": [["", "half a file", "a whole one"]]}\n', b"\n", b'{"ended": -9, "cpu_s": 1.5}\n', b'{"kind": "of the next"}\n']
        )
        self.assertIn("half a file", str(heard.answers[1]))
        self.assertEqual((len(heard.answers), heard.ended, heard.cpu_s), (2, True, 1.5))

    def test_the_command_tells_both_kinds_and_what_is_wrong(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "still.png"
            Image.fromarray(picture_of(demo("kitchen-table"))).save(path)
            for arguments, said in (([], "picture.eye_line"), (["--json"], '"format": "uphill-lamp/measures"')):
                with patch("sys.stdout", new_callable=io.StringIO) as out:
                    self.assertEqual(main(["measure", str(path), *arguments]), 0)
                self.assertIn(said, out.getvalue())
            notes = Image.Exif()
            notes.get_ifd(0x8769).update({0x829D: 2.0, 0x829A: 1 / 50, 0x8827: 800})
            photo = Path(folder) / "photo.jpg"
            Image.fromarray(np.full((400, 600, 3), 150, np.uint8)).save(photo, exif=notes, quality=95)
            with patch("sys.stdout", new_callable=io.StringIO) as out:
                self.assertEqual(main(["measure", str(photo), "--json", "--paper", "300", "200"]), 0)
            told = json.loads(out.getvalue())
            jsonschema.Draft202012Validator(measures_schema()).validate(told)
            figures = {figure["id"]: figure["value"] for figure in told["figures"]}
            level = ((150 / 255 + 0.055) / 1.055) ** 2.4
            self.assertAlmostEqual(figures["picture.paper_lx"], np.pi / 0.8 * 15.4 * 4 * 50 / 800 * level / 0.18, delta=0.5)
            self.assertAlmostEqual(figures["picture.paper_cct"], 6504, delta=60)
            with patch("sys.stderr", new_callable=io.StringIO) as wrong:
                self.assertEqual(main(["measure", str(Path(folder) / "none.wav")]), 2)
            self.assertIn("No such file", wrong.getvalue())
