"""Steps: the ladder worked out beside the page, shown, tried on the bench, done."""
