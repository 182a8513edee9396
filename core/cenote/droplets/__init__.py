"""Drops of water on surfaces: where they lie, how they are shaped, and how they run."""
