"""Place: the spots of a home weighed against each other, and two of them side by side."""
