"""The Django project: one app per place in the interface."""
