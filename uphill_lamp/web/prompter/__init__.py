"""The prompter: a script kept with its setup, sized for its screen, scrolled at a reading speed."""
