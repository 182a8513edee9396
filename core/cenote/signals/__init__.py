"""Signals: quantities measured on real geometry, one file each. See :mod:`.base` for how to add one."""
