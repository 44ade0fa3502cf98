"""Go: the run sheet of the next call, marks and settings to put everything back by, and what space, battery and line carry."""
