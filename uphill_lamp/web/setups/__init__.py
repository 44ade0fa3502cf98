"""All setups, and how they are kept: revisions, undo, the demo."""
