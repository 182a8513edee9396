"""Management commands of the store."""
