"""How the house is built: no circle among modules, wherever an import stands; locals named by nouns."""

from __future__ import annotations

import ast
from pathlib import Path
from unittest import TestCase

import networkx

from tools.layers import imports
from tools.mutants import FAULTS, ROOT


class House(TestCase):
    def test_no_module_comes_back_to_itself(self) -> None:
        graph = networkx.DiGraph(imports())
        self.assertGreater(len(graph), 200)
        self.assertEqual([sorted(circle) for circle in networkx.strongly_connected_components(graph) if len(circle) > 1], [])

    def test_every_deliberate_fault_still_finds_where_to_go(self) -> None:
        for fault in FAULTS:
            self.assertEqual((ROOT / "uphill_lamp" / fault.file).read_text().count(fault.text), 1, fault.what)
            for label in fault.tests.split():
                self.assertTrue((ROOT / Path(*label.split(".")[:3]).with_suffix(".py")).is_file(), (fault.what, label))

    def test_locals_are_named_by_what_they_are(self) -> None:
        """No local called found, told or said; none of a loop called one, but beside an other."""
        vague = []
        for path in Path("uphill_lamp").rglob("*.py"):
            nodes = list(ast.walk(ast.parse(path.read_text())))
            attributes = {id(node.target) for node in nodes if isinstance(node, ast.AnnAssign)}
            names = [node.arg for node in nodes if isinstance(node, ast.arg)]
            names += [n.id for n in nodes if isinstance(n, ast.Name) and isinstance(n.ctx, ast.Store) and id(n) not in attributes]
            loops = [node.target for node in nodes if isinstance(node, ast.For | ast.comprehension)]
            vague += [(str(path), name) for name in names if name in ("found", "told", "said")]
            vague += [(str(path), target.id) for target in loops if isinstance(target, ast.Name) and target.id == "one"]
        self.assertEqual(vague, [])
