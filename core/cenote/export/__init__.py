"""Handing a dressed site on: what is derived, written in open formats."""
