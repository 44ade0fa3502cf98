"""The setup document: parts, origins, ranges, reading, patching, migration, schema, quick start, typical values."""

from uphill_lamp.core.document.faults import Fault, Refused
from uphill_lamp.core.document.patch import applied
from uphill_lamp.core.document.reading import read_setup, setup_from, written
from uphill_lamp.core.document.setup import Setup

__all__ = ["Fault", "Refused", "Setup", "applied", "read_setup", "setup_from", "written"]
