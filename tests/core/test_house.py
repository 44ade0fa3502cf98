"""How the house is built: no circle among modules, wherever an import stands."""

from __future__ import annotations

from unittest import TestCase

import networkx

from tools.layers import imports


class House(TestCase):
    def test_no_module_comes_back_to_itself(self) -> None:
        graph = networkx.DiGraph(imports())
        self.assertGreater(len(graph), 200)
        self.assertEqual([sorted(circle) for circle in networkx.strongly_connected_components(graph) if len(circle) > 1], [])
