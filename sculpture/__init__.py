"""Build time only: sculpts the presenters the app ships, from parameters; nothing of this runs in the app."""
