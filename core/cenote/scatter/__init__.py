"""Placing kit items on surfaces: spacing, mixes, and the tables of what was placed."""
