"""Measured lamps as files: read, refused by line, written and read again."""

from __future__ import annotations

import json
import math
from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.setups import demo, put
from uphill_lamp.core.document import Refused, applied
from uphill_lamp.core.document.devices import Light, Photometry
from uphill_lamp.core.field.light.ies import measured_patch, read_ies, table_of, written_ies
from uphill_lamp.core.field.light.lit_scene import lit_scene_of
from uphill_lamp.core.field.light.sources import PointSource, lamp_source, table_flux_lm


def file(header: str = "IESNA:LM-63-1995\n[TEST] made up\n", tilt: str = "TILT=NONE", down: Any = (0, 45, 90), round_: Any = (0,), rows: Any = ((100, 70, 0),),
         scale: float = 1.0, kind: int = 1, end: str = "\n") -> bytes:  # fmt: skip
    numbers = [f"1 1000 {scale} {len(down)} {len(round_)} {kind} 2 0 0 0", "1 1 20", " ".join(map(str, down)), " ".join(map(str, round_))]
    return (header + tilt + "\n" + "\n".join([*numbers, *(" ".join(map(str, row)) for row in rows)]) + end).encode()


class Reading(TestCase):
    def test_each_edition_s_head_and_numbers_broken_anywhere(self) -> None:
        for header in ("", "IESNA91\n[TEST] x\n", "IESNA:LM-63-1995\n", "IESNA:LM-63-2002\n[MORE] ä\n", "IES:LM-63-2019\n[A] b\n"):
            table = read_ies(file(header))
            self.assertEqual((table.vertical_deg, table.candela), ((0, 45, 90), ((100, 70, 0),)))
        broken = file().replace(b" ", b"\r\n\t")
        self.assertEqual(read_ies(broken), read_ies(file()))
        self.assertEqual(read_ies(file(header="IESNA91\n[TEST] gr\xfcn\n").decode().encode("latin-1")), read_ies(file()))

    def test_factors_and_tilt_are_taken_in(self) -> None:
        self.assertEqual(read_ies(file(scale=2.5)).candela[0], (250, 175, 0))
        tilted = file(tilt="TILT=INCLUDE\n1\n3\n0 45 90\n1 .95 .9")
        self.assertEqual(read_ies(tilted), read_ies(file()))

    def test_symmetries(self) -> None:
        quadrant = read_ies(file(round_=(0, 45, 90), rows=((100, 70, 0), (100, 60, 0), (100, 50, 0))))
        self.assertEqual(quadrant.horizontal_deg[-1], 90)
        side = read_ies(file(round_=(90, 180, 270), rows=((100, 50, 0), (100, 80, 0), (100, 50, 0))))
        self.assertEqual(side.horizontal_deg, (0, 90, 180, 270, 360))
        self.assertEqual([row[1] for row in side.candela], [80, 50, 80, 50, 80])
        whole = read_ies(file(round_=(0, 90, 180, 270, 360), rows=tuple((100, 50 + n, 0) for n in range(5))))
        self.assertEqual(len(whole.candela), 5)
        up = read_ies(file(down=(90, 135, 180), rows=((0, 70, 100),)))
        lamp = demo().lights[1].model_copy(update={"kind": "file", "photometry": up, "beam_deg": None, "aim_tilt_deg": -90.0, "on": True})
        source = lamp_source(lamp)
        assert isinstance(source, PointSource)
        self.assertEqual(float(source.intensity_cd(np.array([[0.0, 0.0, -1.0]]))[0]), 0)
        self.assertGreater(float(source.intensity_cd(np.array([[0.0, 0.0, 1.0]]))[0]), 0)

    def test_bad_files_are_refused_by_line(self) -> None:
        for content, line, words in (
            (b"hello\nworld", "line 2", "TILT="),
            (file(tilt="TILT=lamp.tlt"), "line 3", "another file"),
            (file()[:-12], "line 6", "the end of the file"),
            (file(rows=((100, -5, 0),)), "line 8", "-5"),
            (file(down=(0, 90, 45)), "line 6", "45 after 90"),
            (file(round_=(0, 90, 10), rows=((1, 1, 1),) * 3), "line 7", "10 after 90"),
            (file(round_=(0, 100), rows=((1, 1, 1),) * 2), "line 9", "0 to 100"),
            (file(down=(0, 45, 80)), "line 6", "0 to 80"),
            (file(kind=3), "line 4", "type A or B"),
            (file(rows=((100, "x", 0),)), "line 8", "'x'"),
            (file(scale=float("nan")), "line 4", "nan"),
            (file().replace(b" 3 1 1 2 ", b" 3000 1 1 2 "), "line 4", "1 to 361"),
            (b"x" * 10_000_000, "", "MB at most"),
            (b"", "line 0", "TILT="),
        ):
            with self.assertRaises(Refused) as raised:
                read_ies(content)
            fault = raised.exception.faults[0]
            self.assertEqual(fault.path, line, str(fault))
            self.assertIn(words, str(fault))

    @given(st.binary(max_size=400))
    def test_whatever_is_in_a_file_it_is_read_or_refused(self, content: bytes) -> None:
        for start in (b"", b"IESNA91\nTILT=NONE\n", file()[:60]):
            try:
                read_ies(start + content)
            except Refused as refused:
                self.assertTrue(refused.faults)


class ThereAndBack(TestCase):
    def lamps(self) -> list[Light]:
        base = demo().lights[1].model_dump(mode="json")
        plain = {"beam_deg": None, "width_m": None, "height_m": None}
        made = (
            {"kind": "bulb"}, {"kind": "cone", "beam_deg": 70.0}, {"kind": "panel", "width_m": 0.3, "height_m": 0.2}, {"kind": "ring", "width_m": 0.25},
            {"kind": "bulb", "diffuser": {"transmittance": 0.6, "width_m": 0.4, "height_m": 0.3}},
        )  # fmt: skip
        return [Light.model_validate_json(json.dumps(base | plain | item)) for item in made]

    def test_a_lamp_of_ours_keeps_its_flux_and_its_intensity(self) -> None:
        for lamp in self.lamps():
            table = read_ies(written_ies(lamp).encode())
            kept = lamp.flux_lm * (lamp.diffuser.transmittance if lamp.diffuser else 1.0)
            self.assertAlmostEqual(table_flux_lm(table) / kept, 1, delta=0.02, msg=lamp.kind)
            self.assertEqual(table, read_ies(written_ies(lamp.model_copy(update={"on": False, "dim": 0.3})).encode()))
        bulb = table_of(self.lamps()[0])
        self.assertAlmostEqual(bulb.candela[0][10], self.lamps()[0].flux_lm / (4 * math.pi))
        self.assertLess(max(map(len, written_ies(self.lamps()[2]).split("\r\n"))), 133)

    def test_a_measured_lamp_lights_as_the_lamp_it_was_measured_from(self) -> None:
        setup = put(demo("clock-bench"), lights__ceiling_h_lamp__on=False, screens__laptop__on=False, lights__bench_h_lamp__aim_tilt_deg=-10.0,
                    lights__bench_h_lamp__aim_yaw_deg=215.0)  # fmt: skip
        lamp = setup.lights[1]
        after = applied(setup, measured_patch(lamp, read_ies(written_ies(lamp).encode())))
        self.assertEqual(after.lights[1].kind, "file")
        for name, level in lit_scene_of(setup).face_lx.items():
            self.assertAlmostEqual(lit_scene_of(after).face_lx[name] / level, 1, delta=0.04, msg=name)
        with self.assertRaises(Refused):
            measured_patch(lamp, Photometry(vertical_deg=(0.0, 90.0), horizontal_deg=(0.0,), candela=((0.0, 0.0),)))
