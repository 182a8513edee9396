"""The kit: things to place, made by code. One file a family of items; see :mod:`.base`."""
