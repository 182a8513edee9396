"""Management commands of the sites app."""
