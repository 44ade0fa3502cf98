"""Pictures: an Appraisal in, SVG out. No Django, no HTML, no clock."""
