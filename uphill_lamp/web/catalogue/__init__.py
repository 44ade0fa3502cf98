"""The catalogue as rows that can be changed: kinds, prices, rates."""
