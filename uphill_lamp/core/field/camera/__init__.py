"""The camera's answer: rays, metering, lens, detail, noise."""
