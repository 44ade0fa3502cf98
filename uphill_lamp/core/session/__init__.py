"""Before, during and after a call: run sheet, marks, settings, and what space, battery and line have to carry (docs/method/go.md)."""
