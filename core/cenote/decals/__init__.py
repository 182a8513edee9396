"""What decals show, a kind a file; see :mod:`cenote.decals.base`."""
