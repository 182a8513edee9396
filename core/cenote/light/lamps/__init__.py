"""Lamps: each kind is one file that registers itself."""
