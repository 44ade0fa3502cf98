"""How a setup is connected: the chain drawn, faults, labels, what to pack."""
