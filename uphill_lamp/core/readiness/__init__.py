"""Whether a call can be held as planned: space, battery, line, minutes to be ready; what is put up and set each time (docs/method/go.md)."""
