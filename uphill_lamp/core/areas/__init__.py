"""The areas that setups are judged in, one package each; what an area is; the registry."""
