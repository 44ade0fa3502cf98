"""Ten drawn questions that make a setup."""
