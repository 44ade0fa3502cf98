"""Places: the spots of a home, built from one another, told apart, marked with tape."""
