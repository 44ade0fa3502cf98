"""Makes the dry voices that ship: build time only."""
