"""Setups that several tests start from."""

from __future__ import annotations

import json
from functools import cache
from pathlib import Path
from typing import Any

from hypothesis import strategies as st

from uphill_lamp.core.document import Setup, applied, read_setup
from uphill_lamp.core.document.quickstart import QUESTIONS, setup_from_answers

ROOT = Path(__file__).parent
DEMO = ROOT.parent / "uphill_lamp" / "web" / "setups" / "demo"
REFERENCE = ROOT / "reference"


@cache
def demo(name: str = "clock-bench") -> Setup:
    return read_setup((DEMO / f"{name}.uphill.json").read_bytes())


def demos() -> list[str]:
    return sorted(path.name.removesuffix(".uphill.json") for path in DEMO.glob("*.json"))


@cache
def reference(name: str) -> Any:
    return json.loads((REFERENCE / f"{name}.json").read_text())


def put(setup: Setup, **values: Any) -> Setup:
    """A setup with values at paths given as ``presenter__x_m=1.2``; ids keep their hyphens as ``_h_``."""
    patch = [{"op": "replace", "path": "/" + path.replace("_h_", "-").replace("__", "/"), "value": value} for path, value in values.items()]
    return applied(setup, patch)


answers = st.fixed_dictionaries(
    {
        question.key: st.lists(st.sampled_from(sorted(question.keys)), unique=True)
        if question.several
        else st.sampled_from(sorted(question.keys))
        for question in QUESTIONS
    }
)
any_setup = st.builds(setup_from_answers, answers)
