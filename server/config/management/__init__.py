"""Management commands of the whole server."""
