"""Masks: the one language in which scatter, covers and whatever else comes ask *where*."""
