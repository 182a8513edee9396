"""Structures made by code from a few parameters. One file each; see :mod:`.base`."""
