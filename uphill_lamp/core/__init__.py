"""The computation: documents in, figures and moves out. Knows nothing of pages, clocks or files."""
