"""Cenote's core: it measures geometry, places things on it and ages it.

Everything here is plain Python on arrays. Nothing in this package imports Django, the web or a database.
Lengths are metres, angles degrees at the edges and radians inside, Y is up.
"""
